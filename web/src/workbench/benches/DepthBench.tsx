import { Box, Button, Flex } from "@chakra-ui/react";
import { useState } from "react";

import type { DepthReport, Wants } from "../../api/types";
import { EvenRuler } from "../../instruments/EvenRuler";
import { ChoiceField, NumberField, Segments, TextField } from "../../shell/fields";
import { Fig, useBench } from "../context";
import { Facts, Part, Table } from "./parts";

const CRITERIA = [
  ["print", "print"],
  ["large_print", "large print"],
  ["pixel", "pixel"],
] as const;
const SLICES = [
  ["one", "one frame"],
  ["gapless", "gapless slices"],
  ["hand", "by hand"],
] as const;

/** Distances typed as a list: 0.7, 1.4, 5. */
function parseDistances(text: string): number[] | null {
  const parts = text.split(/[,;\s]+/).filter(Boolean).map(Number);
  return parts.length > 0 && parts.every((n) => Number.isFinite(n) && n > 0.002 && n <= 100_000) ? parts : null;
}

function HandFoci({ foci }: { foci: readonly number[] }) {
  const { store } = useBench();
  const [wrong, setWrong] = useState<string>();
  return (
    <TextField
      label="focus at, metres from the lens"
      value={foci.join(", ")}
      placeholder="0.7, 1.4, 5"
      error={wrong}
      onCommit={(text) => {
        const parsed = parseDistances(text);
        setWrong(parsed ? undefined : "Give distances in metres, for example 0.7, 1.4, 5.");
        if (parsed) store.act("slices", { kind: "slices", mode: "hand", foci_m: parsed });
      }}
    />
  );
}

/** Sharp where it matters: the even ruler, each element, the schools. */
export function DepthBench({ depth }: { depth: DepthReport }) {
  const { store, state, select, selected } = useBench();
  const { wants, technique } = state.draft.composition;
  const want = (part: Partial<Wants>) => store.compose("wants", (c) => ({ wants: { ...c.wants, ...part } }));
  return (
    <>
      <Part
        title="Even ruler: equal steps of 1/distance"
        side={
          <Segments label="Slices" value={technique.slices} options={SLICES} onCommit={(mode) => store.act("slices", { kind: "slices", mode, foci_m: mode === "hand" && technique.hand_foci_m.length === 0 ? [state.draft.composition.settings.focus_m ?? 1000] : [] })} />
        }
      >
        <EvenRuler depth={depth} />
        {depth.slices_problem ? (
          <Box role="alert" color="rust">
            {depth.slices_problem}
          </Box>
        ) : null}
        {technique.slices !== "one" ? (
          <Flex gap="3" align="end" mt="1">
            {technique.slices === "hand" ? <HandFoci foci={technique.hand_foci_m} /> : null}
            {technique.slices === "gapless" ? (
              <NumberField width="110px" label="overlap" unit="%" step={5} value={Math.round(technique.overlap * 100)} onCommit={(v) => v !== null && store.compose("overlap", (c) => ({ technique: { ...c.technique, overlap: v / 100 } }))} />
            ) : null}
            <Box flex="1" fontSize="13px" pb="6px">
              {depth.slices.length} {depth.slices.length === 1 ? "frame" : "frames"}, focused at {depth.slices.map((s) => s.text).join(", ")}.{" "}
              {depth.gaps.length > 0 ? `${depth.gaps.length} ${depth.gaps.length === 1 ? "stretch stays" : "stretches stay"} soft.` : "No gap."}
            </Box>
          </Flex>
        ) : null}
      </Part>
      <Part title="Blur on the sensor" side={<ChoiceField width="150px" label="sharp for" value={wants.criterion} options={CRITERIA} onCommit={(criterion) => want({ criterion })} />}>
        <Facts
          rows={[
            ["allowed", depth.criterion],
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
              <th className="left">
                element
              </th>
              <th>nearest</th>
              <th>farthest</th>
              <th>blur near</th>
              <th>blur far</th>
            </tr>
          </thead>
          <tbody>
            {depth.elements.map((element) => (
              <tr key={element.id} className={element.id === selected ? "chosen" : undefined} onMouseEnter={() => select(element.id)}>
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
      <Part title="Where to focus, by school">
        <Table>
          <tbody>
            {depth.schools.map((school) => (
              <tr key={school.school}>
                <td className="left">
                  {school.text}
                </td>
                <td>
                  <Fig figure={school.focus} />
                </td>
                <td>
                  worst <Fig figure={school.worst} />
                </td>
                <td className={school.holds ? "good" : "soft"}>
                  {school.holds ? "holds" : "does not hold"}
                </td>
                <td>
                  <Button
                    onClick={() => {
                      want({ focus_school: school.school });
                      store.act("school", { kind: "set", setting: "focus", value: school.focus_m });
                    }}
                    aria-label={`Focus ${school.text}`}
                  >
                    Focus so
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      </Part>
    </>
  );
}
