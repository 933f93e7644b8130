import { Box, Flex } from "@chakra-ui/react";

import type { DepthReport, Wants } from "../../api/types";
import { EvenRuler } from "../../instruments/EvenRuler";
import { ChoiceField, NumberField, Segments } from "../../shell/fields";
import { Fig, useBench } from "../context";
import { Loading, Trouble } from "../../shell/states";
import { CloseStackPart } from "./depth/CloseStackPart";
import { CloseUpPart } from "./depth/CloseUpPart";
import { STANDARDS } from "./depth/criteria";
import { LightsPart } from "./depth/LightsPart";
import { SchoolsPart } from "./depth/SchoolsPart";
import { StackPart } from "./depth/StackPart";
import { useCloseUp, useSharpness } from "./depth/useStudies";
import { HandFoci } from "./HandSet";
import { Facts, Part, Table } from "./parts";
import { useSide } from "./useSide";

const SLICES = [
  ["one", "one frame"],
  ["gapless", "gapless slices"],
  ["manual", "set by me"],
] as const;
const SIDES = [
  ["sharp", "Sharpness"],
  ["schools", "Schools"],
  ["stack", "Stack and check"],
  ["close", "Close-up"],
  ["close-stack", "Close-up stack"],
  ["lights", "Lights"],
] as const;
type Side = (typeof SIDES)[number][0];

function Slicing({ depth }: { depth: DepthReport }) {
  const { store, state } = useBench();
  const { technique, settings } = state.draft.composition;
  const moved = technique.slices === "rail" || technique.slices === "sway";
  return (
    <Flex direction="column" align="end">
      <Segments
        label="Slices"
        value={technique.slices}
        options={moved ? [...SLICES, [technique.slices, technique.slices === "rail" ? "by rail" : "by sway"] as const] : SLICES}
        onCommit={(mode) =>
          store.act("slices", {
            kind: "slices",
            mode,
            foci_m: mode === "manual" && technique.manual_foci_m.length === 0 ? [settings.focus_m ?? 1000] : [],
          })
        }
      />
      {depth.slices.length > 1 ? (
        <Box fontSize="12px" color="muted">
          {depth.slices.length} frames
        </Box>
      ) : null}
    </Flex>
  );
}

function Ruler({ depth }: { depth: DepthReport }) {
  const { store, state } = useBench();
  const { technique } = state.draft.composition;
  return (
    <Part word="even ruler" title="Even ruler: equal steps of 1/distance" side={<Slicing depth={depth} />}>
      <EvenRuler depth={depth} />
      {depth.slices_problem ? (
        <Box role="alert" color="rust">
          {depth.slices_problem}
        </Box>
      ) : null}
      {technique.slices !== "one" ? (
        <Flex gap="3" align="end" mt="1">
          {technique.slices === "manual" ? <HandFoci foci={technique.manual_foci_m} /> : null}
          {technique.slices === "gapless" ? (
            <NumberField
              width="110px"
              label="overlap"
              unit="%"
              step={5}
              value={Math.round(technique.overlap * 100)}
              onCommit={(v) => v !== null && store.compose("overlap", (c) => ({ technique: { ...c.technique, overlap: v / 100 } }))}
            />
          ) : null}
          <Box flex="1" fontSize="13px" pb="6px">
            {depth.slices.length} {depth.slices.length === 1 ? "frame" : "frames"}, focused at{" "}
            {depth.slices.length > 12
              ? `${depth.slices[0]?.text ?? ""} to ${depth.slices.at(-1)?.text ?? ""}`
              : depth.slices.map((s) => s.text).join(", ")}
            .{" "}
            {depth.gaps.length > 0
              ? `${depth.gaps.length} ${depth.gaps.length === 1 ? "stretch stays" : "stretches stay"} soft.`
              : "No gap."}
          </Box>
        </Flex>
      ) : null}
    </Part>
  );
}

function Sharp({ depth }: { depth: DepthReport }) {
  const { store, state, select, selected } = useBench();
  const { wants } = state.draft.composition;
  const want = (part: Partial<Wants>) => store.compose("wants", (c) => ({ wants: { ...c.wants, ...part } }));
  return (
    <>
      <Ruler depth={depth} />
      <Part
        title="Blur on the sensor"
        side={
          <ChoiceField
            width="150px"
            label="sharp for"
            value={wants.sharpness_standard}
            options={STANDARDS}
            onCommit={(sharpness_standard) => want({ sharpness_standard })}
          />
        }
      >
        <Facts
          rows={[
            ["allowed", depth.circle_of_confusion],
            ["diffraction", depth.airy],
            ["left for defocus", depth.allowance],
            ["hyperfocal", depth.hyperfocal],
            ["sharp from", depth.near_limit],
            ["to", depth.far_limit],
            ["magnification", depth.magnification],
            ["best aperture here", depth.best_aperture],
          ]}
        />
        <Table>
          <thead>
            <tr>
              <th className="left">element</th>
              <th>nearest</th>
              <th>farthest</th>
              <th>blur near</th>
              <th>blur far</th>
            </tr>
          </thead>
          <tbody>
            {depth.elements.map((element) => (
              <tr
                key={element.id}
                className={element.id === selected ? "chosen" : undefined}
                onMouseEnter={() => select(element.id)}
              >
                <td className={element.soft ? "soft" : undefined}>
                  {element.name}
                  {element.soft ? ", soft" : ""}
                  {element.must_be_sharp ? "" : " (may blur)"}
                </td>
                <td>
                  <Fig figure={element.near} />
                </td>
                <td>
                  <Fig figure={element.far} />
                </td>
                <td>
                  <Fig figure={element.blur_near} />
                </td>
                <td>
                  <Fig figure={element.blur_far} />
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Part>
    </>
  );
}

function Studies({ side, depth }: { side: "schools" | "stack"; depth: DepthReport }) {
  const study = useSharpness();
  if (study.isError && !study.data) return <Trouble error={study.error} again={() => void study.refetch()} />;
  if (!study.data) return <Loading what="the study of depth" />;
  if (side === "schools") return <SchoolsPart study={study.data} />;
  return <StackPart depth={depth} study={study.data} slicing={<Slicing depth={depth} />} />;
}

function Near({ side }: { side: "close" | "close-stack" | "lights" }) {
  const report = useCloseUp();
  if (report.isError && !report.data) return <Trouble error={report.error} again={() => void report.refetch()} />;
  if (!report.data) return <Loading what="the close-up study" />;
  if (side === "close") return <CloseUpPart report={report.data} />;
  return side === "close-stack" ? <CloseStackPart report={report.data} /> : <LightsPart report={report.data} />;
}

/** Sharp where it matters: the even ruler, each element, the schools; and close up. */
export function DepthBench({ depth }: { depth: DepthReport }) {
  const [side, choose] = useSide<Side>("depth", SIDES, "sharp");
  return (
    <>
      <Box mb="8px">
        <Segments label="Depth" value={side} options={SIDES} onCommit={choose} />
      </Box>
      {side === "sharp" ? (
        <Sharp depth={depth} />
      ) : side === "schools" || side === "stack" ? (
        <Studies side={side} depth={depth} />
      ) : (
        <Near side={side} />
      )}
    </>
  );
}
