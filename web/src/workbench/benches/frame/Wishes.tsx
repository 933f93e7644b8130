import { Box, Button, Flex } from "@chakra-ui/react";
import { type ReactNode, useState } from "react";

import type { Wish } from "../../../api/types";
import { ChoiceField, NumberField, Segments } from "../../../shell/fields";
import { useBench } from "../../context";
import { Part } from "../parts";
import { AnswerCard } from "./AnswerCard";
import { useWish } from "./useWish";

const ACROSS = [
  ["0.333333", "left third"],
  ["0.666667", "right third"],
  ["0.5", "middle"],
  ["0.381966", "left golden section"],
  ["0.618034", "right golden section"],
] as const;
const DOWN = [
  ["free", "any height"],
  ["0.333333", "upper third"],
  ["0.666667", "lower third"],
  ["0.5", "half-way"],
] as const;
const PARTS = [
  ["middle", "middle"],
  ["top", "top"],
  ["foot", "foot"],
] as const;

type Down = (typeof DOWN)[number][0];

/** One kind of wish: its fields, a button, and the answer below. */
function Wishing({ title, what, children }: { title: string; what: () => Wish | undefined; children: ReactNode }) {
  const { answer, trouble, asking, wish, clear } = useWish();
  const made = what();
  return (
    <Part title={title}>
      <Flex gap="3" wrap="wrap" align="end">
        {children}
        <Button variant="outline" loading={asking} disabled={!made} onClick={() => made && void wish(made)}>
          Find it
        </Button>
      </Flex>
      {trouble ? (
        <Box role="alert" color="rust" mt="2">
          {trouble}
        </Box>
      ) : null}
      {answer ? <AnswerCard answer={answer} onApplied={clear} /> : null}
    </Part>
  );
}

/** Wishes of the picture that geometry can grant: each answer is a change with its picture, or why not. */
export function Wishes() {
  const { state } = useBench();
  const { elements, keep_out_lines } = state.draft.composition;
  const standing = elements.filter((e) => e.role !== "sky");
  const options = standing.map((e) => [e.id, e.name] as const);
  const byRole = (role: string) => standing.find((e) => e.role === role)?.id;
  const [first, setFirst] = useState(byRole("foreground") ?? options[0]?.[0] ?? "");
  const [second, setSecond] = useState(byRole("subject") ?? options[1]?.[0] ?? "");
  const [firstX, setFirstX] = useState<string>("0.333333");
  const [secondX, setSecondX] = useState<string>("0.666667");
  const [firstY, setFirstY] = useState<Down>("free");
  const [secondY, setSecondY] = useState<Down>("free");
  const [firstPart, setFirstPart] = useState<"middle" | "top" | "foot">("middle");
  const [secondPart, setSecondPart] = useState<"middle" | "top" | "foot">("middle");
  const [by, setBy] = useState<"height" | "sideways">("height");
  const [gap, setGap] = useState(1.5);
  const [farthest, setFarthest] = useState(10);
  const [of, setOf] = useState<"reflection" | "foreground">("reflection");
  const [percent, setPercent] = useState(60);
  const [factor, setFactor] = useState(1.5);
  const [focal, setFocal] = useState(Math.round(state.draft.composition.settings.focal_length_mm * 1.5));
  const [mirrored, setMirrored] = useState(byRole("subject") ?? options[0]?.[0] ?? "");
  if (options.length < 2)
    return (
      <Part word="wish" title="Wishes">
        <Box color="muted">A wish is about things in the picture: give it at least two elements first.</Box>
      </Part>
    );
  const height = (value: Down) => (value === "free" ? null : Number(value));
  const pair = (
    <>
      <ChoiceField width="160px" label="this" value={first} options={options} onCommit={setFirst} />
      <ChoiceField width="160px" label="and this" value={second} options={options} onCommit={setSecond} />
    </>
  );
  const different = first !== second;
  return (
    <>
      <Box fontSize="13px" color="muted" mb="2">
        Answers stay within the support&rsquo;s reach
        {keep_out_lines.length > 0
          ? ` and behind ${keep_out_lines.map((line) => line.name).join(", ")}`
          : "; lines not to cross are set under Camera"}
        .
      </Box>
      <Wishing
        title="Two things on two points, by a step and the aim"
        what={() =>
          different
            ? {
                kind: "place_two",
                first: { element_id: first, part: firstPart, x: Number(firstX), y: height(firstY) },
                second: { element_id: second, part: secondPart, x: Number(secondX), y: height(secondY) },
                farthest_step_m: farthest,
              }
            : undefined
        }
      >
        <ChoiceField width="150px" label="first thing" value={first} options={options} onCommit={setFirst} />
        <ChoiceField width="92px" label="its" value={firstPart} options={PARTS} onCommit={setFirstPart} />
        <ChoiceField width="150px" label="on the" value={firstX} options={ACROSS} onCommit={setFirstX} />
        <ChoiceField width="120px" label="at" value={firstY} options={DOWN} onCommit={setFirstY} />
        <ChoiceField width="150px" label="second thing" value={second} options={options} onCommit={setSecond} />
        <ChoiceField width="92px" label="its " value={secondPart} options={PARTS} onCommit={setSecondPart} />
        <ChoiceField width="150px" label="on the " value={secondX} options={ACROSS} onCommit={setSecondX} />
        <ChoiceField width="120px" label="at " value={secondY} options={DOWN} onCommit={setSecondY} />
        <NumberField
          width="110px"
          label="step at most"
          unit="m"
          value={farthest}
          onCommit={(v) => v !== null && v > 0 && setFarthest(v)}
        />
      </Wishing>
      <Wishing
        title="A clear gap between two things"
        what={() =>
          different
            ? { kind: "part", element_id: first, other_id: second, by, gap_percent: gap, farthest_step_m: farthest }
            : undefined
        }
      >
        {pair}
        <Segments
          label="By"
          value={by}
          options={[
            ["height", "height"],
            ["sideways", "a step"],
          ]}
          onCommit={setBy}
        />
        <NumberField width="136px" label="gap" unit="% of frame" step={0.5} value={gap} onCommit={(v) => v !== null && setGap(v)} />
      </Wishing>
      <Wishing
        title="So much of a reflection, or of foreground"
        what={() => ({ kind: "share", of, element_id: of === "reflection" ? mirrored : null, percent })}
      >
        <Segments
          label="Share of"
          value={of}
          options={[
            ["reflection", "reflection"],
            ["foreground", "foreground"],
          ]}
          onCommit={setOf}
        />
        {of === "reflection" ? (
          <ChoiceField width="160px" label="reflection of" value={mirrored} options={options} onCommit={setMirrored} />
        ) : null}
        <NumberField
          width="100px"
          label={of === "reflection" ? "seen of it" : "of the picture"}
          unit="%"
          step={5}
          value={percent}
          onCommit={(v) => v !== null && setPercent(v)}
        />
      </Wishing>
      <Wishing
        title="Near against far: keep one size, change the other"
        what={() => (different ? { kind: "ratio", keep_id: first, change_id: second, factor } : undefined)}
      >
        <ChoiceField width="160px" label="keep the size of" value={first} options={options} onCommit={setFirst} />
        <ChoiceField width="160px" label="make larger or smaller" value={second} options={options} onCommit={setSecond} />
        <NumberField
          width="120px"
          label="as large"
          unit="times"
          step={0.1}
          value={factor}
          onCommit={(v) => v !== null && setFactor(v)}
        />
      </Wishing>
      <Wishing title="Crop instead of a longer lens" what={() => ({ kind: "crop_instead", focal_length_mm: focal })}>
        <NumberField
          width="120px"
          label="like a lens of"
          unit="mm"
          step={5}
          value={focal}
          onCommit={(v) => v !== null && setFocal(v)}
        />
      </Wishing>
    </>
  );
}
