import { Box, Button, chakra, Flex, Input } from "@chakra-ui/react";

import type { LightReport } from "../../api/types";
import { NumberField } from "../../shell/fields";
import { useBench } from "../context";
import { Facts, Part } from "./parts";

const DAY_MS = 86_400_000;

/** When the light is, and what it is on this view. */
export function LightBench({ light, onEvent }: { light: LightReport; onEvent: (utc: string) => void }) {
  const { store, state } = useBench();
  const { ribbon } = light;
  const toDate = (iso: string) => {
    const days = Math.round((Date.parse(iso) - Date.parse(ribbon.date_iso)) / DAY_MS);
    if (Number.isFinite(days)) store.compose("date", (c) => ({ moment_utc: new Date(Date.parse(c.moment_utc) + days * DAY_MS).toISOString() }));
  };
  return (
    <>
      <Part title="On this view, at the moment" side={<Box fontWeight="700">{light.side_text}</Box>}>
        <Facts
          rows={[
            ["sun's altitude", light.altitude],
            ["sun's azimuth", light.azimuth],
            ["from the lens axis", light.relative],
            ["light", light.illuminance],
            ["below the day's brightest", light.below_noon],
            [light.rising ? "a stop more in" : "a stop less in", light.minutes_per_stop],
            ["shadows", light.shadow],
          ]}
        />
      </Part>
      <Part
        title="Day"
        side={
          <Flex gap="1" align="center">
            <Button aria-label="A day earlier" onClick={() => toDate(new Date(Date.parse(ribbon.date_iso) - DAY_MS).toISOString().slice(0, 10))}>
              ‹
            </Button>
            <Input aria-label="Date" type="date" h="30px" w="150px" bg="raised" borderColor="line" borderRadius="2px" min="1900-01-02" max="2050-12-30" value={ribbon.date_iso} onChange={(e) => e.target.value && toDate(e.target.value)} />
            <Button aria-label="A day later" onClick={() => toDate(new Date(Date.parse(ribbon.date_iso) + DAY_MS).toISOString().slice(0, 10))}>
              ›
            </Button>
          </Flex>
        }
      >
        {ribbon.sun_text ? <Box mb="2">{ribbon.sun_text[0]?.toUpperCase() + ribbon.sun_text.slice(1)}.</Box> : null}
        <Box display="grid" gridTemplateColumns="repeat(auto-fill, minmax(180px, 1fr))" columnGap="5">
          {ribbon.events.map((event) => (
            <chakra.button key={`${event.name}${event.at_utc}`} type="button" display="flex" gap="3" py="3px" cursor="pointer" textAlign="left" borderBottomWidth="1px" borderColor="line" _hover={{ bg: "mossFaint" }} onClick={() => onEvent(event.at_utc)}>
              <Box fontFamily="mono">{event.time_text}</Box>
              <Box>{event.text}</Box>
            </chakra.button>
          ))}
        </Box>
      </Part>
      <Part title="Cloud">
        <NumberField width="170px" label="takes away" unit="stops" step={0.5} value={state.draft.composition.cloud_stops} onCommit={(v) => v !== null && store.compose("cloud", () => ({ cloud_stops: v }))} hint="Counts only while nothing is metered." />
      </Part>
      <Box fontSize="12px" color="muted">
        Level horizon, clear sky. What the terrain hides is not counted yet.
      </Box>
    </>
  );
}
