import { Box, Button, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";

import { api, ApiError, ask, wordsOf } from "../../../api/client";
import type { PhotographAim, PhotographOut } from "../../../api/types";
import { ChoiceField, NumberField, Segments, TextField } from "../../../shell/fields";
import { notify } from "../../../shell/notices";
import { useBench } from "../../context";
import { newElement, type Shape, usual } from "../../elements";
import { Part } from "../parts";
import { FIRST, KNOWNS, useFirstMeasuring, type What } from "./firstMeasuring";
import { type Known, Marked, type Marks } from "./Marked";
import { SILHOUETTES } from "./silhouettes";

type Mark = keyof Marks | "known";

/** What the next press in the photograph is for. */
const NEXT: Record<Mark, string> = {
  foot: "Press where it meets the ground.",
  top: "Now press its top.",
  side: "Press one side too, for its width; or put it in as it is.",
  known: "Press where the foot of that one stands in the photograph.",
};

interface Props {
  photograph: PhotographOut;
  aim: PhotographAim;
  fit: (knowns: Known[]) => void;
  /** Why the lining up did not go. */
  trouble: string | undefined;
}

/** Things measured from the photograph and put in, the first ones led through one by one. */
export function Measuring({ photograph, aim, fit, trouble }: Props) {
  const { store, state, select } = useBench();
  const { composition } = state.draft;
  const [step, toStep] = useFirstMeasuring(store.id);
  const [mark, setMark] = useState<Mark>("foot");
  const [marks, setMarks] = useState<Marks>({});
  const [knowns, setKnowns] = useState<Known[]>([]);
  const [knownElement, setKnownElement] = useState(composition.elements[0]?.id ?? "");
  const first = step === null ? undefined : FIRST[step];
  const [what, setWhat] = useState<What>(first?.what ?? "ground");
  const [typed, setTyped] = useState<number | null>(first?.metres ?? null);
  const [silhouette, setSilhouette] = useState<Shape>("boulder");
  const [name, setName] = useState<string>();
  const head = useRef<HTMLDivElement>(null);
  const metres = typed ?? composition.camera_height_m;
  const { foot, top, side } = marks;
  const measured = useQuery({
    queryKey: ["measured", store.id, state.revision, aim, marks, what, metres],
    enabled: foot !== undefined && top !== undefined,
    retry: false,
    placeholderData: (before) => (foot && top ? before : undefined),
    queryFn: async () => {
      const scene = store.scene;
      if (!scene || !foot || !top) return null;
      const seen = {
        foot_x: foot[0],
        foot_y: foot[1],
        top_x: top[0],
        top_y: top[1],
        half_width: side ? Math.abs(side[0] - foot[0]) : 0,
        known: { what, metres },
      };
      return ask(api.POST("/api/measure", { body: { scene, changes: [], aim, marks: seen } }));
    },
  });
  const found = measured.isError ? null : measured.data;
  const wrong = measured.error instanceof ApiError ? wordsOf(measured.error.problem) : measured.isError ? "No answer." : trouble;
  const place = (x: number, y: number) => {
    if (mark === "known")
      setKnowns((now) => [...now.filter((one) => one.element_id !== knownElement), { x, y, element_id: knownElement }]);
    else {
      setMarks((now) => ({ ...now, [mark]: [x, y] }));
      setMark(mark === "foot" ? "top" : "side");
    }
  };
  const lead = (next: number | null) => {
    toStep(next);
    if (next !== null) head.current?.scrollIntoView({ block: "nearest" });
    const one = next === null ? undefined : FIRST[next];
    setMarks({});
    setMark("foot");
    setName(undefined);
    setWhat(one?.what ?? "ground");
    setTyped(one?.metres ?? null);
  };
  const shape = SILHOUETTES.find(([key]) => key === silhouette)?.[1] ?? silhouette;
  const add = () => {
    if (!found) return;
    const height = found.height.value ?? 1;
    const width = found.width.value || height;
    const made = {
      ...newElement(composition),
      silhouette,
      name: name ?? shape,
      ...usual(silhouette),
      east_m: found.east_m,
      north_m: found.north_m,
      base_m: found.base_m,
      turned_deg: found.bearing.value ?? 0,
      width_m: width,
      depth_m: width,
      height_m: height,
    };
    store.compose("measured element", (c) => ({ elements: [...c.elements, made] }));
    select(made.id);
    notify({ title: `${made.name} is in the view`, undo: () => store.undo() });
    lead(step === null ? null : step + 1);
  };
  const named = composition.elements.map((e) => [e.id, e.name] as const);
  return (
    <Part
      headRef={head}
      title={step === null ? "Measure from it" : `First measuring, ${step + 1} of ${FIRST.length}`}
      side={
        step === null ? null : (
          <Flex gap="2">
            <Button onClick={() => lead(step + 1)}>Skip this one</Button>
            <Button variant="ghost" onClick={() => lead(null)}>
              Leave it
            </Button>
          </Flex>
        )
      }
    >
      {first ? (
        <Box mb="2" data-testid="first-measuring">
          <b>{first.title}.</b> {first.text}
        </Box>
      ) : null}
      <Flex gap="3" wrap="wrap" align="end" mb="2">
        <Segments
          label="A press marks"
          value={mark}
          options={[
            ["foot", "foot"],
            ["top", "top"],
            ["side", "one side"],
            ...(named.length > 0 ? ([["known", "a known foot"]] as const) : []),
          ]}
          onCommit={setMark}
        />
        {mark === "known" ? (
          <ChoiceField width="170px" label="the foot of" value={knownElement} options={named} onCommit={setKnownElement} />
        ) : null}
        {knowns.length > 0 ? (
          <Button variant="outline" onClick={() => fit(knowns)}>
            Line up by {knowns.length} known {knowns.length === 1 ? "foot" : "feet"}
          </Button>
        ) : null}
        <Box role="status" fontSize="13px" color="muted" pb="6px">
          {NEXT[mark]}
        </Box>
      </Flex>
      <Marked photograph={photograph} marks={marks} knowns={knowns} onPlace={place} />
      <Flex gap="3" wrap="wrap" align="end" mt="2">
        <ChoiceField width="300px" label="known about it" value={what} options={KNOWNS} onCommit={setWhat} />
        <NumberField width="100px" label="that is" unit="m" step={0.1} value={metres} onCommit={(v) => v !== null && setTyped(v)} />
        {found ? (
          <Box fontFamily="mono" fontSize="13px" role="status" data-testid="measured">
            {found.distance.text} at {found.bearing.text}, {found.height.text} tall ({found.angular_height.text}),{" "}
            {found.width.text} wide
          </Box>
        ) : null}
      </Flex>
      {foot && top ? (
        <Flex gap="3" wrap="wrap" align="end" mt="2">
          <ChoiceField width="150px" label="drawn as" value={silhouette} options={SILHOUETTES} onCommit={setSilhouette} />
          <TextField width="170px" label="called" value={name ?? shape} onCommit={setName} />
          <Button variant="solid" disabled={!found} onClick={add}>
            Put it in the view
          </Button>
        </Flex>
      ) : null}
      {wrong ? (
        <Box role="alert" color="rust" mt="2">
          {wrong}
        </Box>
      ) : null}
    </Part>
  );
}
