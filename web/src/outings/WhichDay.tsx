import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { api, ask } from "../api/client";
import type { Outing } from "../api/types";
import { Segments } from "../shell/fields";
import { Trouble } from "../shell/states";
import { useUnits } from "../shell/units";

const Cell = chakra("td", { base: { py: "6px", pr: "10px", verticalAlign: "top" } });

const today = () => new Date().toLocaleDateString("en-CA");

/** The same outing on the next days, side by side; the one that promises most is marked. */
export function WhichDay({ outing, onChoose }: { outing: Outing; onChoose: (first: string) => void }) {
  const units = useUnits();
  const [count, setCount] = useState<"7" | "14">("7");
  const first = today();
  // What is packed and whom to call change no day.
  const asked = {
    days: outing.days,
    visits: outing.visits,
    start: outing.start,
    end: outing.end,
    rides: outing.rides,
    pace: outing.pace,
  };
  const dates = useQuery({
    queryKey: ["outing-dates", units, first, count, asked],
    queryFn: async ({ signal }) =>
      (await ask(api.POST("/api/outings/dates", { body: { outing, units, first, count: Number(count) }, signal }))).dates,
    placeholderData: keepPreviousData,
    staleTime: 600_000,
  });
  const shown = dates.data;
  return (
    <Box data-testid="which-day">
      <Flex align="center" gap="3" mb="2" wrap="wrap">
        <Segments
          label="How many days"
          value={count}
          options={[
            ["7", "a week"],
            ["14", "two weeks"],
          ]}
          onCommit={setCount}
        />
        <Box flex="1" minW="12rem">
          {shown?.text}
        </Box>
      </Flex>
      {dates.isError && !shown ? <Trouble error={dates.error} again={() => void dates.refetch()} /> : null}
      {!shown && !dates.isError ? <Box color="muted">Trying each day …</Box> : null}
      {shown ? (
        <chakra.table w="100%" fontSize="13px" css={{ borderCollapse: "collapse" }} opacity={dates.isPlaceholderData ? 0.6 : 1}>
          <chakra.thead srOnly>
            <tr>
              <th>Day</th>
              <th>Sun and moon</th>
              <th>Forecast</th>
              <th>What fits</th>
              <th>Choose</th>
            </tr>
          </chakra.thead>
          <tbody>
            {shown.dates.map((one) => (
              <chakra.tr
                key={one.first}
                borderTopWidth="1px"
                borderColor="line"
                bg={one.best ? "mossFaint" : "transparent"}
                data-testid={one.best ? "best-day" : undefined}
              >
                <Cell fontWeight="700" whiteSpace="nowrap" pl="2">
                  {one.date_text}
                  {one.best ? <Box fontSize="12px">promises most</Box> : null}
                </Cell>
                <Cell>
                  {one.sun_text}
                  <Box color="muted">{one.moon_text}</Box>
                </Cell>
                <Cell>{one.forecast_text}</Cell>
                <Cell>
                  <b>{one.fits_text}</b> {one.leave_text ? `· ${one.leave_text}` : ""}
                  <Box color="muted">{one.missing_text}</Box>
                </Cell>
                <Cell>
                  {one.chosen ? (
                    "this day"
                  ) : (
                    <Button aria-label={`Go on ${one.date_text}`} onClick={() => onChoose(one.first)}>
                      Go then
                    </Button>
                  )}
                </Cell>
              </chakra.tr>
            ))}
          </tbody>
        </chakra.table>
      ) : null}
      {shown ? (
        <Box color="muted" fontSize="12.5px" mt="2">
          {shown.source_text}
        </Box>
      ) : null}
    </Box>
  );
}
