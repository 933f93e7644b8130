import { Box, Button, chakra, Flex } from "@chakra-ui/react";

import type { PlaceOut, Ribbon } from "../../../api/types";
import { TickField } from "../../../shell/fields";
import { useBench } from "../../context";
import { saveCalendar } from "./calendar";
import { useChosen } from "./useChosen";

type DayEvent = Ribbon["events"][number];

/** What happens in the sky on the day: press to go there, choose for a calendar. */
export function EventsPart({
  events,
  place,
  onEvent,
}: {
  events: readonly DayEvent[];
  place: PlaceOut | undefined;
  onEvent: (utc: string) => void;
}) {
  const { state } = useBench();
  const [chosen, choose] = useChosen();
  const picked = events.filter((one) => chosen.has(one.at_utc));
  const save = () => {
    if (!place) return;
    const entries = picked.map((one) => ({
      title: `${state.draft.name}: ${one.text}`,
      start_utc: one.at_utc,
      end_utc: one.at_utc,
      ready_utc: null,
      notes: "Over a level horizon.",
    }));
    void saveCalendar(place, entries, ["event", "events"]);
  };
  return (
    <>
      <Box display="grid" gridTemplateColumns="repeat(auto-fill, minmax(220px, 1fr))" columnGap="5">
        {events.map((event) => (
          <Flex key={`${event.name}${event.at_utc}`} gap="2" align="center" borderBottomWidth="1px" borderColor="line">
            <TickField
              quiet
              label={`choose ${event.text} ${event.time_text}`}
              value={chosen.has(event.at_utc)}
              onCommit={(on) => choose(event.at_utc, on)}
            />
            <chakra.button
              type="button"
              flex="1"
              display="flex"
              gap="3"
              py="3px"
              cursor="pointer"
              textAlign="left"
              _hover={{ bg: "mossFaint" }}
              onClick={() => onEvent(event.at_utc)}
            >
              <Box fontFamily="mono">{event.time_text}</Box>
              <Box>{event.text}</Box>
            </chakra.button>
          </Flex>
        ))}
      </Box>
      <Flex mt="2" gap="3" align="center">
        <Button disabled={!place || picked.length === 0} onClick={save}>
          Chosen to a calendar
        </Button>
        <Box fontSize="12px" color="muted">
          Over a level horizon; the skyline's own times stand under Skyline.
        </Box>
      </Flex>
    </>
  );
}
