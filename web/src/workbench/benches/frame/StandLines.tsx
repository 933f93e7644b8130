import { Box, Button, Flex } from "@chakra-ui/react";

import type { Composition, PlanReport } from "../../../api/types";
import { NumberField, TextField } from "../../../shell/fields";
import { useBench } from "../../context";
import { Part } from "../parts";

const tidy = (metres: number) => Number(metres.toFixed(2));

type Line = Composition["keep_out_lines"][number];

/** Lines not to cross: the answers to wishes stay behind them. */
export function StandLines({ plan }: { plan: PlanReport | undefined }) {
  const { store, state } = useBench();
  const lines = state.draft.composition.keep_out_lines;
  const errors = state.problem?.errors ?? [];
  const put = (index: number, part: Partial<Line>) =>
    store.compose(`line ${index} ${Object.keys(part).join()}`, (c) => ({
      keep_out_lines: c.keep_out_lines.map((one, i) => (i === index ? { ...one, ...part } : one)),
    }));
  // A new line lies across the plan ahead of the camera, where it can be dragged to its place.
  const add = () => {
    if (!plan) return;
    const [, left, right] = plan.wedge;
    const [east, north] = plan.standpoint;
    if (!left || !right) return;
    const share = 0.08;
    const name = lines.length === 0 ? "edge" : `edge ${lines.length + 1}`;
    store.compose("add line", (c) => ({
      keep_out_lines: [
        ...c.keep_out_lines,
        {
          name,
          from_east_m: tidy(east + (right[0] - east) * share),
          from_north_m: tidy(north + (right[1] - north) * share),
          to_east_m: tidy(east + (left[0] - east) * share),
          to_north_m: tidy(north + (left[1] - north) * share),
        },
      ],
    }));
  };
  const turn = (line: Line, index: number) =>
    put(index, {
      from_east_m: line.to_east_m,
      from_north_m: line.to_north_m,
      to_east_m: line.from_east_m,
      to_north_m: line.from_north_m,
    });
  return (
    <Part
      title={lines.length === 0 ? "Lines not to cross: none" : `Lines not to cross: ${lines.length}`}
      side={
        <Button onClick={add} disabled={!plan}>
          Add a line ahead
        </Button>
      }
    >
      {lines.length > 0 ? (
        <Box fontSize="12.5px" color="muted">
          Edges crumble and wet ground slides: set a line well back, and go by what you see on the spot. Drag its ends in the plan.
        </Box>
      ) : null}
      {lines.map((line, i) => (
        <Flex key={i} gap="3" wrap="wrap" align="end" mt="2" pt="2" borderTopWidth="1px" borderColor="line">
          <TextField
            width="140px"
            label="called"
            value={line.name}
            error={errors.find((one) => one.pointer.endsWith(`/keep_out_lines/${i}/name`))?.message}
            onCommit={(name) => put(i, { name })}
          />
          {(["from_east_m", "from_north_m", "to_east_m", "to_north_m"] as const).map((field) => (
            <NumberField
              key={field}
              width="100px"
              label={field.slice(0, -2).replaceAll("_", " ")}
              unit="m"
              step={0.1}
              value={line[field]}
              error={errors.find((one) => one.pointer.endsWith(`/keep_out_lines/${i}/${field}`))?.message}
              onCommit={(v) => v !== null && put(i, { [field]: v })}
            />
          ))}
          <Button onClick={() => turn(line, i)}>Other side</Button>
          <Button
            variant="ghost"
            onClick={() => store.compose("remove line", (c) => ({ keep_out_lines: c.keep_out_lines.filter((_, n) => n !== i) }))}
          >
            Remove
          </Button>
          <Box fontSize="13px" color={plan?.lines[i]?.crossed ? "rust" : "muted"}>
            {plan?.lines[i]?.crossed ? "the standpoint is beyond it" : "you stand behind it"}
          </Box>
        </Flex>
      ))}
    </Part>
  );
}
