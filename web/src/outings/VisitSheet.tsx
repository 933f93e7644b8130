import { Box, Button, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";

import { usualVisitQuery } from "../api/queries";
import type { Outing, OutingVisit } from "../api/types";
import { ChoiceField, NumberField, Segments, TextField, TickField } from "../shell/fields";
import { More } from "../shell/More";
import { Sheet } from "../shell/Sheet";
import { WhenField } from "./timeFields";

const WANTED = [
  ["must", "must"],
  ["want", "want"],
  ["if_fits", "if it fits"],
] as const;
const GOALS = [
  ["light", "in its light"],
  ["moment", "at a time"],
  ["any", "any time"],
] as const;

/** How a picture is wanted on an outing: how much, when, with how much time, and on what ground. */
export function VisitSheet({
  visit,
  name,
  outing,
  problem,
  onChange,
  onRemove,
  onClose,
}: {
  visit: OutingVisit;
  name: string;
  outing: Outing;
  problem: (field: string) => string | undefined;
  onChange: (change: Partial<OutingVisit>) => void;
  onRemove: () => void;
  onClose: () => void;
}) {
  const usual = useQuery(usualVisitQuery);
  const days = outing.days.map((day, k) => [String(k), `${day.date}`] as const);
  return (
    <Sheet
      title={name}
      open
      onClose={onClose}
      footer={
        <Flex gap="2" w="100%">
          <Button onClick={onRemove}>Take it out</Button>
          <Button asChild variant="ghost">
            <Link to={`/compositions/${visit.composition_id}`}>Open on the workbench</Link>
          </Button>
          <Box flex="1" />
          <Button variant="solid" onClick={onClose}>
            Done
          </Button>
        </Flex>
      }
    >
      <Flex direction="column" gap="3">
        <Box>
          <Box fontSize="12px" color="muted" mb="1">
            How much it is wanted
          </Box>
          <Segments
            label="How much it is wanted"
            value={visit.wanted}
            options={WANTED}
            onCommit={(wanted) => onChange({ wanted })}
          />
        </Box>
        <Box>
          <Box fontSize="12px" color="muted" mb="1">
            When
          </Box>
          <Segments
            label="When"
            value={visit.goal}
            options={GOALS}
            onCommit={(goal) => onChange({ goal, ...(goal === "moment" && !visit.moment ? { moment: "07:00:00" } : {}) })}
          />
        </Box>
        {visit.goal === "moment" ? (
          <Flex gap="3">
            <WhenField
              label="First frame at"
              type="time"
              value={visit.moment ?? ""}
              error={problem("/moment")}
              onCommit={(moment) => onChange({ moment })}
            />
            <NumberField
              label="give or take"
              unit="min"
              step={5}
              width="110px"
              value={visit.tolerance_min}
              error={problem("/tolerance_min")}
              onCommit={(v) => v !== null && onChange({ tolerance_min: v })}
            />
          </Flex>
        ) : null}
        {visit.first_at ? (
          <Flex align="center" gap="3" borderLeftWidth="4px" borderColor="rust" pl="3">
            <Box flex="1">Its first frame is nailed to a time on the line.</Box>
            <Button onClick={() => onChange({ first_at: null })}>Let it go</Button>
          </Flex>
        ) : null}
        {outing.days.length > 1 ? (
          <ChoiceField
            label="Day"
            value={visit.day === null ? "" : String(visit.day)}
            options={[["", "whichever fits"], ...days]}
            onCommit={(day) => onChange({ day: day === "" ? null : Number(day) })}
          />
        ) : null}
        <Flex gap="3" wrap="wrap">
          <NumberField
            label="Set-up"
            unit="min"
            width="120px"
            hint={usual.data?.set_up_text}
            value={visit.set_up_min}
            error={problem("/set_up_min")}
            onCommit={(v) => v !== null && onChange({ set_up_min: v })}
          />
          <NumberField
            label="Frames"
            unit="min"
            width="120px"
            hint="empty: as worked out"
            empty
            value={visit.frames_min}
            error={problem("/frames_min")}
            onCommit={(frames_min) => onChange({ frames_min })}
          />
          <NumberField
            label="To spare"
            unit="min"
            step={5}
            width="100px"
            value={visit.margin_min}
            error={problem("/margin_min")}
            onCommit={(v) => v !== null && onChange({ margin_min: v })}
          />
          <NumberField
            label="Ready before its light"
            unit="min"
            step={5}
            width="150px"
            hint="empty: as its light says"
            empty
            value={visit.ready_min}
            error={problem("/ready_min")}
            onCommit={(ready_min) => onChange({ ready_min })}
          />
        </Flex>
        <More title="Its ground" open={visit.daylight_only || visit.tide_below_m !== null || visit.tide_above_m !== null}>
          <TickField
            label="Only in daylight: rough or steep"
            value={visit.daylight_only}
            onCommit={(daylight_only) => onChange({ daylight_only })}
          />
          <Flex gap="3">
            <NumberField
              label="Only with the tide below"
              unit="m"
              step={0.1}
              width="170px"
              empty
              value={visit.tide_below_m}
              error={problem("/tide_below_m")}
              onCommit={(tide_below_m) => onChange({ tide_below_m })}
            />
            <NumberField
              label="Only with the tide above"
              unit="m"
              step={0.1}
              width="170px"
              empty
              value={visit.tide_above_m}
              error={problem("/tide_above_m")}
              onCommit={(tide_above_m) => onChange({ tide_above_m })}
            />
          </Flex>
        </More>
        <TextField label="Note" value={visit.note} onCommit={(note) => onChange({ note })} />
      </Flex>
    </Sheet>
  );
}
