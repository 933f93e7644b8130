import { Box, Button, Flex } from "@chakra-ui/react";
import { useMutation } from "@tanstack/react-query";
import { useNavigate } from "react-router";

import { api, ask, problemOf } from "../../api/client";
import { saveFile } from "../../api/download";
import { queryClient } from "../../api/queries";
import type { PlannedFrame, Sequence } from "../../api/types";
import { SequenceStrip } from "../../instruments/SequenceStrip";
import { NumberField, Segments } from "../../shell/fields";
import { notify, notifyTrouble } from "../../shell/notices";
import { Fig, useBench } from "../context";
import { FARTHEST_M, HandFoci, HandOffsets } from "./HandSet";
import { Facts, Part, QuietHead, Table } from "./parts";
import { freshId } from "../../shell/freshId";

const FORMS = [
  ["pdf", "Field card (PDF)"],
  ["csv", "Table (CSV)"],
  ["json", "Data (JSON)"],
] as const;
const FILES = { pdf: "field-card.pdf", csv: "sequence.csv", json: "sequence.json" } as const;
const ORDERS = [
  ["brackets_inside", "slice by slice"],
  ["slices_inside", "bracket by bracket"],
] as const;

/** Leave a focus or an exposure out: what is left is set by hand, and everything is judged anew. */
function Without({ frame, sequence }: { frame: PlannedFrame; sequence: Sequence }) {
  const { store, state } = useBench();
  const { slices } = state.draft.composition.technique;
  if (frame.layer || frame.panel_number > 1) return null;
  const base = sequence.frames.filter((one) => !one.layer && one.panel_number === 1);
  if (sequence.slice_count > 1 && frame.bracket_number === 1 && slices !== "rail" && slices !== "sway") {
    const foci = base
      .filter((one) => one.bracket_number === 1 && one.slice_number !== frame.slice_number)
      .map((one) => one.focus.value ?? FARTHEST_M);
    return (
      <Button
        onClick={() => store.act("without", { kind: "slices", mode: "manual", foci_m: foci })}
        aria-label={`Leave out the focus at ${frame.focus.text}`}
      >
        Leave out the focus
      </Button>
    );
  }
  if (sequence.bracket_count > 1 && frame.slice_number === 1) {
    const offsets = base
      .filter((one) => one.slice_number === 1 && one.bracket_number !== frame.bracket_number)
      .map((one) => one.offset_stops);
    return (
      <Button
        onClick={() => store.act("without", { kind: "bracket", mode: "manual", offsets_stops: offsets })}
        aria-label={`Leave out the exposure of ${frame.shutter.text}`}
      >
        Leave out the exposure
      </Button>
    );
  }
  return null;
}

/** Foci and exposures of all frames to change, add to or cut: everything is judged anew, and they count as set by hand. */
function Edit({ sequence }: { sequence: Sequence }) {
  const { state } = useBench();
  const { slices } = state.draft.composition.technique;
  const base = sequence.frames.filter((one) => !one.layer && one.panel_number === 1);
  const foci = base.filter((one) => one.bracket_number === 1).map((one) => one.focus.value ?? FARTHEST_M);
  const offsets = base.filter((one) => one.slice_number === 1).map((one) => one.offset_stops);
  return (
    <Flex gap="3" mt="2" align="end" wrap="wrap">
      {slices === "rail" || slices === "sway" ? null : (
        <Box flex="1" minW="220px">
          <HandFoci foci={foci} label="focused at, metres from the lens" />
        </Box>
      )}
      <HandOffsets offsets={offsets} label="exposed, stops from the base" />
    </Flex>
  );
}

/** What each order of slices and brackets costs in time and in light, and what speaks for one. */
function OrdersTable({ orders }: { orders: Sequence["orders"] }) {
  const { state } = useBench();
  const { order } = state.draft.composition.technique;
  const better = orders.find((one) => one.take);
  return (
    <Box mt="2" data-testid="orders">
      <Table>
        <thead>
          <tr>
            <th className="left">order</th>
            <th>takes</th>
            <th>focus turned</th>
            <th className="wrap">light moves within a stack</th>
            <th className="wrap">within a bracket</th>
          </tr>
        </thead>
        <tbody>
          {orders.map((one) => (
            <tr key={one.order} className={one.order === order ? "chosen" : undefined}>
              <td>{ORDERS.find(([name]) => name === one.order)?.[1]}</td>
              <td>
                <Fig figure={one.total} />
              </td>
              <td>{one.refocused} ×</td>
              <td>
                <Fig figure={one.within_stack} />
              </td>
              <td>
                <Fig figure={one.within_bracket} />
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      {better ? (
        <Box fontSize="13.5px" mt="1">
          Hurts least: <b>{ORDERS.find(([name]) => name === better.order)?.[1]}</b>. {better.why}
        </Box>
      ) : null}
    </Box>
  );
}

/** So many of a thing, in words. */
const of = (count: number, one: string) => `${count} ${count === 1 ? one : `${one}s`}`;

/** What a sequence multiplies out of. */
function countsOf(sequence: Sequence) {
  const panels = sequence.panel_count > 1 ? [of(sequence.panel_count, "panel")] : [];
  const product = [...panels, of(sequence.slice_count, "slice"), of(sequence.bracket_count, "exposure")].join(" × ");
  const layers = sequence.layer_count > 0 ? ` + ${of(sequence.layer_count, "layer")}` : "";
  return `${sequence.count.text} ${sequence.count.value === 1 ? "frame" : "frames"}: ${product}${layers}`;
}

/** The frames in order, how long they take, and the way into the field. */
export function SequenceBench({ sequence }: { sequence: Sequence }) {
  const { store, state, rehearse } = useBench();
  const go = useNavigate();
  const { technique, settings } = state.draft.composition;
  const take = async (form: keyof typeof FILES) => {
    const scene = store.scene;
    if (!scene) return;
    try {
      const made = await ask(
        api.POST("/api/sequence-file", { body: { scene, changes: [], name: state.draft.name, form }, parseAs: "blob" }),
      );
      saveFile(made as unknown as Blob, FILES[form]);
      notify({ title: `${FILES[form]} saved` });
    } catch (error) {
      notifyTrouble(error);
    }
  };
  const make = useMutation({
    mutationFn: async () => {
      await store.save();
      const scene = store.scene;
      if (!scene) throw new Error("The composition is not complete.");
      return await ask(api.POST("/api/sequences", { body: { id: freshId(), composition_id: store.id, scene } }));
    },
    onSuccess: (made) => {
      queryClient.setQueryData(["sequence", made.id], made);
      void go(`/field/${made.id}`);
    },
  });
  return (
    <>
      <Part
        word="sequence"
        title={countsOf(sequence)}
        side={
          <Flex gap="2">
            <Button variant="outline" size="md" disabled={sequence.problem !== ""} onClick={() => rehearse()} title="Shift D">
              See the frames
            </Button>
            <Button
              variant="solid"
              size="md"
              disabled={sequence.problem !== ""}
              onClick={() => make.mutate()}
              loading={make.isPending}
            >
              Take it to the field
            </Button>
          </Flex>
        }
      >
        {make.isError ? (
          <Box role="alert" color="rust" mb="2">
            {problemOf(make.error).detail}
          </Box>
        ) : null}
        {sequence.problem ? (
          <Box role="alert" color="rust" mb="2">
            {sequence.problem}
          </Box>
        ) : (
          <SequenceStrip frames={sequence.frames} tall="46px" />
        )}
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
      {technique.layers.length > 0 ? (
        <Part
          word="layer"
          title="Layers"
          side={<Button onClick={() => store.act("layers", { kind: "layers", layers: [] })}>Without layers</Button>}
        >
          {technique.layers.map((layer, i) => (
            <Flex key={layer.purpose} gap="3" align="end" mb="1">
              <Box w="130px" pb="6px">
                {layer.purpose === "foliage" ? "sharp leaves" : "frozen wave"}
              </Box>
              <NumberField
                width="130px"
                label={`shutter of the layer for the ${layer.purpose}, 1 /`}
                value={Number((1 / layer.shutter_s).toPrecision(3))}
                onCommit={(v) =>
                  v &&
                  v > 0 &&
                  store.act("layers", {
                    kind: "layers",
                    layers: technique.layers.map((one, k) => (k === i ? { ...one, shutter_s: 1 / v } : one)),
                  })
                }
              />
              <NumberField
                width="110px"
                label={`ISO of the layer for the ${layer.purpose}`}
                value={Math.round(layer.iso)}
                step={100}
                onCommit={(v) =>
                  v &&
                  store.act("layers", {
                    kind: "layers",
                    layers: technique.layers.map((one, k) => (k === i ? { ...one, iso: v } : one)),
                  })
                }
              />
            </Flex>
          ))}
          <Box fontSize="13px" color="muted">
            Keep equal: white balance set by hand, aperture, framing and focus where it stands. Blend later.
          </Box>
        </Part>
      ) : null}
      <Part title="Take it along">
        <Flex gap="2">
          {FORMS.map(([form, text]) => (
            <Button key={form} disabled={sequence.problem !== ""} onClick={() => void take(form)}>
              {text}
            </Button>
          ))}
        </Flex>
      </Part>
      <Part title="Order and timing">
        <Flex gap="4" align="end" wrap="wrap">
          <NumberField
            width="110px"
            label="self-timer"
            unit="s"
            value={settings.timer_s}
            onCommit={(v) => v !== null && store.compose("timer", (c) => ({ settings: { ...c.settings, timer_s: v } }))}
          />
          <Segments
            label="Order"
            value={technique.order}
            options={ORDERS}
            onCommit={(order) => store.compose("order", (c) => ({ technique: { ...c.technique, order } }))}
          />
        </Flex>
        {sequence.problem ? null : <Edit sequence={sequence} />}
        {sequence.orders.length > 0 ? <OrdersTable orders={sequence.orders} /> : null}
      </Part>
      <Part title="Frame by frame">
        <Table>
          <thead>
            <tr>
              <th className="left">do</th>
              <th>focus</th>
              <th>shutter</th>
              <th>takes</th>
              <QuietHead>leave out</QuietHead>
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
                <td>
                  <Without frame={frame} sequence={sequence} />
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Part>
    </>
  );
}
