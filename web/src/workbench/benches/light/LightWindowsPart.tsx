import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useCallback, useMemo, useState } from "react";

import { problemOf, wordsOf } from "../../../api/client";
import type { LightWindow, PlaceOut } from "../../../api/types";
import { YearPicture } from "../../../instruments/YearPicture";
import { TickField } from "../../../shell/fields";
import { useBench } from "../../context";
import { Part } from "../parts";
import { saveCalendar } from "./calendar";
import { useChosen } from "./useChosen";
import { useChances } from "./useLight";
import { WishPart } from "./WishPart";

const LISTS = [
  ["next", "Next ten"],
  ["best", "Longest ten"],
  ["today", "This day"],
] as const;
type List = (typeof LISTS)[number][0];

const KEY: readonly (readonly [string, string])[] = [
  ["nightfall", "dark"],
  ["twilight", "twilight"],
  ["goldlight", "golden"],
  ["sunlit", "direct sun"],
  ["hillshade", "sun behind the skyline"],
  ["rust", "windows"],
];

function Legend({ lit }: { lit: string }) {
  return (
    <Flex gap="4" wrap="wrap" fontSize="12px" color="muted" mb="1">
      {KEY.map(([colour, name]) => (
        <Flex key={colour} align="center" gap="1">
          <Box w="14px" h="10px" bg={colour} borderWidth="1px" borderColor="line" />
          {name === "direct sun" ? `direct sun on the ${lit}` : name}
        </Flex>
      ))}
    </Flex>
  );
}

/** The wish in words, and its editor where it is wanted; open where nothing is asked for yet. */
function Wanted({ asked }: { asked: string[] | undefined }) {
  const [open, setOpen] = useState(false);
  const shown = open || asked?.length === 0;
  return (
    <>
      <Flex gap="3" align="center" mb="8px" bg="panel" borderWidth="1px" borderColor="line" px="3" py="2">
        <Box flex="1" fontSize="13.5px" data-testid="asked">
          {asked === undefined ? "" : asked.length === 0 ? "Nothing is asked for yet." : `I want: ${asked.join("; ")}.`}
        </Box>
        {asked && asked.length > 0 ? (
          <Button variant="outline" aria-expanded={shown} onClick={() => setOpen(!open)}>
            {open ? "Done" : "Change"}
          </Button>
        ) : null}
      </Flex>
      {shown ? <WishPart /> : null}
    </>
  );
}

/** When the wanted light comes: the months as one picture, the windows to choose from, and a calendar of them. */
export function LightWindowsPart({ place, onMoment }: { place: PlaceOut | undefined; onMoment: (utc: string) => void }) {
  const { state } = useBench();
  const found = useChances();
  const [list, setList] = useState<List>("next");
  const [chosen, choose] = useChosen();
  const picture = found.data;
  const rows = useMemo(() => picture?.[list] ?? [], [picture, list]);
  const title = state.draft.name;
  const midnights = picture?.midnights_unix;
  const moment = state.draft.composition.moment_utc;
  const pick = useCallback(
    (day: number, share: number) => {
      const midnight = midnights?.[day];
      if (midnight !== undefined) onMoment(new Date(midnight * 1000 + Math.round(share * 1440) * 60_000).toISOString());
    },
    [midnights, onMoment],
  );
  const save = (windows: readonly LightWindow[]) => {
    if (!place || windows.length === 0) return;
    const entries = windows.map((one) => ({
      title: `${title}: ${one.light_text.split(",")[0] ?? "light"}`,
      start_utc: one.start_utc,
      end_utc: one.end_utc,
      ready_utc: one.ready_utc,
      notes: `${one.light_text}; ${one.moon_text}. Counted for a clear sky.`,
    }));
    void saveCalendar(place, entries, ["window", "windows"]);
  };
  if (found.isError)
    return (
      <>
        <Part word="light window" title="Light windows">
          <Box role="alert" color="rust">
            {wordsOf(problemOf(found.error))}
          </Box>
        </Part>
        <WishPart />
      </>
    );
  return (
    <>
      <Wanted asked={picture?.asked} />
      <Part
        title="Twelve months"
        side={picture ? <Box fontWeight="700">{picture.count === 0 ? "no window" : `${picture.count} windows ahead`}</Box> : null}
      >
        {picture ? (
          <Box opacity={found.isPlaceholderData ? 0.6 : 1}>
            <Legend lit={picture.lit_name} />
            <YearPicture picture={picture} onPick={pick} />
            {picture.lacking.length > 0 ? (
              <Box role="note" mt="1" data-testid="lacking">
                No window has all of it. Without one of these there would be:
                <Box as="ul" pl="4">
                  {picture.lacking.map((one) => (
                    <li key={one.text}>
                      {one.text}: {one.windows_without} {one.windows_without === 1 ? "window" : "windows"}
                    </li>
                  ))}
                </Box>
              </Box>
            ) : null}
            {picture.count === 0 && picture.lacking.length === 0 ? (
              <Box color="muted">Say which light you want; the windows then stand in the picture.</Box>
            ) : null}
            {picture.count > 0 || picture.today.length > 0 ? (
              <>
                <Flex gap="2" mt="2" align="center" wrap="wrap">
                  {LISTS.map(([name, label]) => (
                    <Button
                      key={name}
                      variant={list === name ? "outline" : "plain"}
                      aria-pressed={list === name}
                      onClick={() => setList(name)}
                    >
                      {label}
                    </Button>
                  ))}
                  <Box flex="1" />
                  <Button
                    variant="solid"
                    disabled={!place || rows.length === 0}
                    onClick={() => save(rows.filter((one) => chosen.size === 0 || chosen.has(one.start_utc)))}
                  >
                    {chosen.size > 0 ? "Chosen to a calendar" : "All to a calendar"}
                  </Button>
                </Flex>
                {rows.length === 0 ? (
                  <Box color="muted" mt="2">
                    None on this day.
                  </Box>
                ) : null}
                <Box as="ol" listStyleType="none" data-testid="windows">
                  {rows.map((one) => (
                    <Flex
                      as="li"
                      key={one.start_utc}
                      gap="2"
                      align="center"
                      borderBottomWidth="1px"
                      borderColor="line"
                      bg={one.start_utc <= moment && moment <= one.end_utc ? "mossFaint" : undefined}
                    >
                      <TickField
                        label={`choose ${one.date_text}`}
                        quiet
                        value={chosen.has(one.start_utc)}
                        onCommit={(on) => choose(one.start_utc, on)}
                      />
                      <chakra.button
                        type="button"
                        flex="1"
                        textAlign="left"
                        cursor="pointer"
                        py="4px"
                        _hover={{ bg: "mossFaint" }}
                        onClick={() => onMoment(one.start_utc)}
                      >
                        <Flex gap="4" wrap="wrap">
                          <Box minW="180px">{one.date_text}</Box>
                          <Box fontFamily="mono">{one.time_text}</Box>
                          <Box fontFamily="mono" color="muted">
                            {one.length_text}
                          </Box>
                        </Flex>
                        <Box fontSize="12.5px" color="muted">
                          {one.light_text}; {one.moon_text}
                          {one.forecast ? (
                            <Box as="span" color="slate">
                              ; {one.forecast}
                            </Box>
                          ) : null}
                        </Box>
                      </chakra.button>
                    </Flex>
                  ))}
                </Box>
              </>
            ) : null}
          </Box>
        ) : (
          <Box color="muted">Going through the year …</Box>
        )}
      </Part>
    </>
  );
}
