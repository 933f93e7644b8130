import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";

import { calendarQuery } from "../api/queries";
import type { CalendarOut } from "../api/types";
import { Empty, Loading, Trouble } from "../shell/states";

const MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"] as const;
const DAYS = Array.from({ length: 31 }, (_, i) => i + 1);

/** A year as a row for each month: days with takes are buttons, the darker the better the best of them. */
function Year({ data, choose }: { data: CalendarOut; choose: (day: string) => void }) {
  const found = new Map(data.days.map((one) => [one.day, one]));
  return (
    <chakra.table
      aria-label={`Takes of ${data.year}`}
      style={{ borderCollapse: "separate", borderSpacing: "2px", tableLayout: "fixed" }}
      w="100%"
      minW="720px"
    >
      <thead>
        <tr>
          <td style={{ width: "44px" }} />
          {DAYS.map((day) => (
            <chakra.th key={day} scope="col" fontSize="11px" fontWeight="400" color="muted" fontFamily="mono">
              {day}
            </chakra.th>
          ))}
        </tr>
      </thead>
      <tbody>
        {MONTHS.map((month, m) => (
          <tr key={month}>
            <chakra.th scope="row" fontSize="13px" fontWeight="400" textAlign="left" pr="2">
              {month}
            </chakra.th>
            {DAYS.map((day) => {
              const date = `${data.year}-${String(m + 1).padStart(2, "0")}-${String(day).padStart(2, "0")}`;
              const one = found.get(date);
              const there = day <= new Date(Date.UTC(data.year ?? 2000, m + 1, 0)).getUTCDate();
              return (
                <chakra.td key={day} h="30px" p="0" bg={there && !one ? "panel" : "transparent"}>
                  {one && (
                    <chakra.button
                      type="button"
                      onClick={() => choose(date)}
                      w="100%"
                      h="30px"
                      minW="20px"
                      cursor="pointer"
                      fontFamily="mono"
                      fontSize="12px"
                      borderWidth="1px"
                      borderColor="moss"
                      borderBottomWidth={one.best === null ? "1px" : `${1 + one.best * 2}px`}
                      bg="mossFaint"
                      color="ink"
                      aria-label={`${day} ${month}: ${one.takes} ${one.takes === 1 ? "take" : "takes"}${one.best === null ? "" : `, the best rated ${one.best}`}`}
                      title={one.best === null ? "not rated" : `the best rated ${one.best}`}
                    >
                      {one.takes}
                    </chakra.button>
                  )}
                </chakra.td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </chakra.table>
  );
}

export function CalendarView({
  year,
  onYear,
  onDay,
}: {
  year: string | null;
  onYear: (year: string) => void;
  onDay: (day: string) => void;
}) {
  const calendar = useQuery(calendarQuery(year));
  if (calendar.isError && !calendar.data) return <Trouble error={calendar.error} again={() => void calendar.refetch()} />;
  if (!calendar.data) return <Loading what="the calendar" />;
  const { years, year: shown } = calendar.data;
  if (shown === null) return <Empty title="No takes yet">The days on which you photographed will be marked here.</Empty>;
  const first = years[0] ?? shown;
  const last = years.at(-1) ?? shown;
  return (
    <Box>
      <Flex gap="3" align="center" mb="3">
        <Button disabled={shown <= first} onClick={() => onYear(String(shown - 1))} aria-label="The year before">
          ‹
        </Button>
        <Box fontSize="19px" fontWeight="700" data-testid="calendar-year">
          {shown}
        </Box>
        <Button disabled={shown >= last} onClick={() => onYear(String(shown + 1))} aria-label="The year after">
          ›
        </Button>
        <Box color="muted" fontSize="13px">
          The number is how many takes; the thicker its foot, the better the best of them was rated.
        </Box>
      </Flex>
      <Box overflowX="auto">
        <Year data={calendar.data} choose={onDay} />
      </Box>
    </Box>
  );
}
