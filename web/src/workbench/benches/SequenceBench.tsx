import { Box, Button, Flex } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "react-router";

import { api, ask, problemOf } from "../../api/client";
import { queryClient } from "../../api/queries";
import type { Sequence, SequenceOut } from "../../api/types";
import { SequenceStrip } from "../../instruments/SequenceStrip";
import { NumberField, Segments } from "../../shell/fields";
import { Fig, useBench } from "../context";
import { Facts, Part, Table } from "./parts";

const ORDERS = [
  ["brackets_inside", "slice by slice"],
  ["slices_inside", "bracket by bracket"],
] as const;

/** The frames in order, how long they take, and the way into the field. */
export function SequenceBench({ sequence }: { sequence: Sequence }) {
  const { store, state } = useBench();
  const go = useNavigate();
  const { technique, settings } = state.draft.composition;
  const make = useMutation({
    mutationFn: async () => {
      await store.save();
      const scene = store.scene;
      if (!scene) throw new Error("The composition is not complete.");
      return (await ask(api.POST("/api/sequences", { body: { id: crypto.randomUUID(), composition_id: store.id, scene } }))) as SequenceOut;
    },
    onSuccess: (made) => {
      queryClient.setQueryData(["sequence", made.id], made);
      void go(`/field/${made.id}`);
    },
  });
  return (
    <>
      <Part
        title={`${sequence.frames.length} ${sequence.frames.length === 1 ? "frame" : "frames"}: ${sequence.panel_count > 1 ? `${sequence.panel_count} panels × ` : ""}${sequence.slice_count} ${sequence.slice_count === 1 ? "slice" : "slices"} × ${sequence.bracket_count} ${sequence.bracket_count === 1 ? "exposure" : "exposures"}`}
        side={
          <Button variant="solid" size="md" onClick={() => make.mutate()} loading={make.isPending}>
            Take it to the field
          </Button>
        }
      >
        {make.isError ? (
          <Box role="alert" color="rust" mb="2">
            {problemOf(make.error).detail}
          </Box>
        ) : null}
        <SequenceStrip frames={sequence.frames} tall="46px" />
        <Box mt="2">
          <Facts
            rows={[
              ["takes", sequence.total],
              ["light changes by", sequence.drift],
              ["bracketing", sequence.bracket_count === 1 ? "none" : sequence.by_body ? "by the body" : "set by hand"],
            ]}
          />
        </Box>
        {sequence.drift_is_stale ? (
          <Box mt="2" color="rust">
            The light moves more than a third of a stop while this runs: meter again halfway, or take fewer frames.
          </Box>
        ) : null}
      </Part>
      <Part title="How">
        <Flex gap="4" align="end" wrap="wrap">
          <NumberField width="110px" label="self-timer" unit="s" value={settings.timer_s} onCommit={(v) => v !== null && store.compose("timer", (c) => ({ settings: { ...c.settings, timer_s: v } }))} />
          <Segments label="Order" value={technique.order} options={ORDERS} onCommit={(order) => store.compose("order", (c) => ({ technique: { ...c.technique, order } }))} />
          <Box fontSize="13px" color="muted" flex="1">
            {technique.order === "brackets_inside" ? "Focus stays while exposures change: least turning of the ring." : "All slices at one exposure first: exposures are farther apart in time."}
          </Box>
        </Flex>
      </Part>
      <Part title="Frame by frame">
        <Table>
          <thead>
            <tr>
              <th className="left">
                do
              </th>
              <th>focus</th>
              <th>shutter</th>
              <th>takes</th>
            </tr>
          </thead>
          <tbody>
            {sequence.frames.map((frame) => (
              <tr key={frame.number}>
                <td className="wrap">
                  <b>
                    {frame.number}. {frame.title}
                  </b>
                  <Box color="muted">{[frame.caption, ...frame.actions].join(" · ")}</Box>
                </td>
                <td>
                  <Fig figure={frame.focus} />
                </td>
                <td>
                  <Fig figure={frame.shutter} />
                  {frame.bulb ? " bulb" : ""}
                </td>
                <td>
                  <Fig figure={frame.duration} />
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Part>
    </>
  );
}
