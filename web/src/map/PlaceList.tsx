import { Box, Button, Flex, Input } from "@chakra-ui/react";
import { useMemo, useState } from "react";

import type { PlaceOut } from "../api/types";

const FEW = 12;

/** The places, to choose one: with many of them a search, and those of one country and zone together. */
export function PlaceList({
  places,
  chosenId,
  onChoose,
}: {
  places: PlaceOut[];
  chosenId: string | undefined;
  onChoose: (id: string | undefined) => void;
}) {
  const [find, setFind] = useState("");
  const many = places.length > FEW;
  const groups = useMemo(() => {
    const words = find.toLowerCase().split(/\s+/).filter(Boolean);
    const made = new Map<string, PlaceOut[]>();
    for (const one of places) {
      const text = `${one.place.name} ${one.place.time_zone}`.toLowerCase();
      if (!words.every((word) => text.includes(word))) continue;
      const region = one.place.time_zone.replaceAll("_", " ").split("/").reverse().join(", ");
      made.set(region, [...(made.get(region) ?? []), one]);
    }
    return [...made.entries()].sort(([a], [b]) => a.localeCompare(b));
  }, [places, find]);
  const clash = useMemo(() => {
    const counted = new Map<string, number>();
    for (const one of places) counted.set(one.place.name, (counted.get(one.place.name) ?? 0) + 1);
    return counted;
  }, [places]);
  return (
    <Box as="section" aria-label="Places">
      <Flex align="center" mb="1" gap="2">
        <Box fontSize="12px" color="muted" flex="1">
          {places.length === 1 ? "one place" : `${places.length} places`}
        </Box>
        {many ? (
          <Input
            type="search"
            aria-label="Search places"
            placeholder="Search"
            value={find}
            onChange={(event) => setFind(event.target.value)}
            w="180px"
            h="28px"
            bg="raised"
            borderColor="line"
            borderRadius="2px"
          />
        ) : null}
      </Flex>
      <Box maxH={many ? "264px" : undefined} overflowY="auto">
        {groups.map(([region, members]) => (
          <Box key={region} mb="1">
            {groups.length > 1 || many ? (
              <Box fontSize="12px" color="muted" py="2px">
                {region}
              </Box>
            ) : null}
            <Flex gap="1" wrap="wrap">
              {members.map((one) => (
                <Button
                  key={one.id}
                  variant={one.id === chosenId ? "outline" : "plain"}
                  aria-pressed={one.id === chosenId}
                  maxW="100%"
                  overflow="hidden"
                  textOverflow="ellipsis"
                  justifyContent="start"
                  onClick={() => onChoose(one.id === chosenId ? undefined : one.id)}
                >
                  {one.place.name}
                  {(clash.get(one.place.name) ?? 0) > 1
                    ? ` (${one.place.latitude_deg.toFixed(3)}°, ${one.place.longitude_deg.toFixed(3)}°)`
                    : ""}
                </Button>
              ))}
            </Flex>
          </Box>
        ))}
        {places.length > 0 && groups.length === 0 ? <Box fontSize="13px">No place is called that.</Box> : null}
      </Box>
    </Box>
  );
}
