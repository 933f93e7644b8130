import { Box, Button, chakra, Flex } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { api, ask, problemOf, wordsOf } from "../../../api/client";
import { queryClient } from "../../../api/queries";
import type { MeasuredElement, PhotographAim, PhotographOut } from "../../../api/types";
import { paint } from "../../../theme/system";
import { ChoiceField, NumberField, Segments } from "../../../shell/fields";
import { FileButton, PHOTOGRAPHS } from "../../../shell/FileButton";
import { notify } from "../../../shell/notices";
import { ARROWS } from "../../../instruments/arrows";
import { useBench } from "../../context";
import { newElement } from "../../elements";
import { Part } from "../parts";

type Mark = "foot" | "top" | "side" | "known";
type Known = { x: number; y: number; element_id: string };

const KNOWNS = [
  ["height", "its height is"],
  ["width", "its width is"],
  ["distance", "its distance is"],
  ["ground", "it stands on level ground, under the lens by"],
] as const;

const photographsKey = (id: string) => ["photographs", id];

async function send(composition: string, file: File): Promise<PhotographOut> {
  return await ask(
    api.PUT("/api/compositions/{id}/photographs/{photograph_id}", {
      params: { path: { id: composition, photograph_id: crypto.randomUUID() }, query: { name: file.name } },
      body: file as never,
      bodySerializer: (body: unknown) => body as Blob,
      headers: { "Content-Type": file.type || "application/octet-stream" },
    } as never),
  );
}

/** Reference photographs: attach, lay under the view, and measure elements from them. */
export function PhotographPart() {
  const { store, state } = useBench();
  const under = state.draft.composition.underlay;
  const query = useQuery({
    queryKey: photographsKey(store.id),
    queryFn: async () => await ask(api.GET("/api/compositions/{id}/photographs", { params: { path: { id: store.id } } })),
  });
  const refresh = () => void queryClient.invalidateQueries({ queryKey: photographsKey(store.id) });
  const attach = useMutation({
    mutationFn: (file: File) => send(store.id, file),
    onSuccess: (made) => {
      refresh();
      lay(made);
    },
  });
  const lay = (one: PhotographOut) => {
    const c = store.snapshot().draft.composition;
    const view = store.snapshot().evaluation?.framing.horizontal_view.value ?? 60;
    store.compose("underlay", () => ({
      underlay: {
        photograph_id: one.id,
        azimuth_deg: c.azimuth_deg,
        pitch_deg: c.pitch_deg,
        roll_deg: c.roll_deg,
        view_deg: one.view_deg ?? view,
        aspect: one.width_px / one.height_px,
        opacity: 0.5,
      },
    }));
  };
  const detach = async (one: PhotographOut) => {
    try {
      await ask(api.DELETE("/api/photographs/{id}", { params: { path: { id: one.id } } }));
      if (under?.photograph_id === one.id) store.compose("underlay", () => ({ underlay: null }));
      refresh();
      notify({
        title: `${one.name} detached`,
        detail: "Its file stays where it is.",
        undo: () => void ask(api.POST("/api/photographs/{id}/restore", { params: { path: { id: one.id } } })).then(refresh),
      });
    } catch (error) {
      notify({ title: "Not detached", detail: problemOf(error).detail, kind: "trouble" });
    }
  };
  const photographs = query.data?.photographs ?? [];
  const shown = photographs.find((one) => one.id === under?.photograph_id);
  return (
    <>
      <Part
        title={`Reference photographs: ${photographs.length}`}
        side={
          <FileButton label="Picture file" accept={PHOTOGRAPHS} busy={attach.isPending} onFile={(file) => attach.mutate(file)}>
            Attach a picture
          </FileButton>
        }
      >
        {attach.isError ? (
          <Box role="alert" color="rust" mb="2">
            {problemOf(attach.error).detail}
          </Box>
        ) : null}
        {photographs.length === 0 ? (
          <Box color="muted">
            A picture taken from the standpoint, by phone if need be, lines the drawing up with the place and measures what is in
            it. JPEG, HEIC, TIFF, PNG, WebP or raw
            {query.data
              ? `, up to ${query.data.largest_bytes / 1024 / 1024} MB and ${query.data.most_pixels / 1e6} megapixels`
              : ""}
            ; kept as it is, beside the database.
          </Box>
        ) : null}
        {photographs.map((one) => (
          <Flex key={one.id} gap="3" align="center" py="5px" borderTopWidth="1px" borderColor="line" data-testid="photograph">
            <chakra.img src={`/api/photographs/${one.id}/shown`} alt={one.name} h="44px" w="66px" objectFit="cover" />
            <Box flex="1" minW="0">
              <Box overflow="hidden" textOverflow="ellipsis" whiteSpace="nowrap">
                {one.name}
              </Box>
              <Box fontFamily="mono" fontSize="12px" color="muted">
                {one.width_px} × {one.height_px}
                {one.view_deg ? `, ${one.view_deg.toFixed(1)}° across` : ""}
              </Box>
            </Box>
            <Button
              aria-pressed={one.id === shown?.id}
              onClick={() => (one.id === shown?.id ? store.compose("underlay", () => ({ underlay: null })) : lay(one))}
            >
              {one.id === shown?.id ? "Take it away" : "Lay under the view"}
            </Button>
            <Button asChild variant="ghost">
              <a href={`/api/photographs/${one.id}/file`} target="_blank" rel="noreferrer">
                Open file
              </a>
            </Button>
            <Button variant="ghost" onClick={() => void detach(one)}>
              Detach
            </Button>
          </Flex>
        ))}
      </Part>
      {under && shown ? <LinedUp key={shown.id} photograph={shown} /> : null}
    </>
  );
}

/** The photograph under the view: how much it shows, where it looks, and what is marked in it. */
function LinedUp({ photograph }: { photograph: PhotographOut }) {
  const { store, state, select } = useBench();
  const { composition } = state.draft;
  const under = composition.underlay;
  const [mark, setMark] = useState<Mark>("foot");
  const [marks, setMarks] = useState<Partial<Record<"foot" | "top" | "side", readonly [number, number]>>>({});
  const [knowns, setKnowns] = useState<Known[]>([]);
  const [knownElement, setKnownElement] = useState(composition.elements[0]?.id ?? "");
  const [what, setWhat] = useState<(typeof KNOWNS)[number][0]>("ground");
  const [metres, setMetres] = useState(composition.camera_height_m);
  const [measured, setMeasured] = useState<MeasuredElement>();
  const [trouble, setTrouble] = useState<string>();
  if (!under) return null;
  const put = (part: Partial<typeof under>) =>
    store.compose(`underlay ${Object.keys(part).join()}`, (c) => ({ underlay: c.underlay ? { ...c.underlay, ...part } : null }));
  const aim: PhotographAim = {
    azimuth_deg: under.azimuth_deg,
    pitch_deg: under.pitch_deg,
    roll_deg: under.roll_deg,
    view_deg: under.view_deg,
    aspect: under.aspect,
  };
  const tell = (error: unknown) => {
    const problem = problemOf(error);
    setTrouble(wordsOf(problem));
  };
  const place = (x: number, y: number) => {
    setMeasured(undefined);
    if (mark === "known")
      setKnowns((now) => [...now.filter((one) => one.element_id !== knownElement), { x, y, element_id: knownElement }]);
    else {
      setMarks((now) => ({ ...now, [mark]: [x, y] }));
      setMark(mark === "foot" ? "top" : mark === "top" ? "side" : mark);
    }
  };
  const fit = async () => {
    const scene = store.scene;
    if (!scene) return;
    try {
      setTrouble(undefined);
      const found = await ask(
        api.POST("/api/aim", {
          body: {
            scene,
            changes: [],
            aspect: under.aspect,
            view_deg: knowns.length < 2 ? under.view_deg : null,
            places: knowns.map((one) => ({ ...one, part: "foot" as const })),
          },
        }),
      );
      put({ azimuth_deg: found.azimuth_deg, pitch_deg: found.pitch_deg, roll_deg: found.roll_deg, view_deg: found.view_deg });
    } catch (error) {
      tell(error);
    }
  };
  const measure = async () => {
    const scene = store.scene;
    const { foot, top, side } = marks;
    if (!scene || !foot || !top) return;
    try {
      setTrouble(undefined);
      const body = {
        scene,
        changes: [],
        aim,
        marks: {
          foot_x: foot[0],
          foot_y: foot[1],
          top_x: top[0],
          top_y: top[1],
          half_width: side ? Math.abs(side[0] - foot[0]) : 0,
          known: { what, metres },
        },
      };
      setMeasured(await ask(api.POST("/api/measure", { body })));
    } catch (error) {
      setMeasured(undefined);
      tell(error);
    }
  };
  const add = () => {
    if (!measured) return;
    const height = measured.height.value ?? 1;
    const width = measured.width.value || height;
    const made = {
      ...newElement(composition),
      name: `measured ${composition.elements.length + 1}`,
      east_m: measured.east_m,
      north_m: measured.north_m,
      base_m: measured.base_m,
      turned_deg: measured.bearing.value ?? 0,
      width_m: width,
      depth_m: width,
      height_m: height,
    };
    store.compose("measured element", (c) => ({ elements: [...c.elements, made] }));
    select(made.id);
    notify({ title: "Placed", detail: "Name it and say what it is under Elements.", undo: () => store.undo() });
  };
  const named = composition.elements.map((e) => [e.id, e.name] as const);
  return (
    <>
      <Part title="Under the view">
        <Flex gap="3" wrap="wrap" align="end">
          <chakra.label fontSize="12px" color="muted" display="grid" gap="1">
            drawing over photograph
            <chakra.input
              type="range"
              min="0"
              max="100"
              value={Math.round(under.opacity * 100)}
              onChange={(e) => put({ opacity: Number(e.target.value) / 100 })}
              aria-label="How much of the photograph shows"
              w="170px"
              accentColor="moss"
              h="32px"
            />
          </chakra.label>
          <NumberField
            width="112px"
            label="aimed at"
            unit="°"
            value={under.azimuth_deg}
            onCommit={(v) => v !== null && put({ azimuth_deg: v })}
          />
          <NumberField
            width="96px"
            label="pitched"
            unit="°"
            step={0.5}
            value={under.pitch_deg}
            onCommit={(v) => v !== null && put({ pitch_deg: v })}
          />
          <NumberField
            width="96px"
            label="rolled"
            unit="°"
            step={0.5}
            value={under.roll_deg}
            onCommit={(v) => v !== null && put({ roll_deg: v })}
          />
          <NumberField
            width="112px"
            label="field of view"
            unit="°"
            value={under.view_deg}
            onCommit={(v) => v !== null && put({ view_deg: v })}
          />
          <NumberField
            width="150px"
            label="or taken with (35 mm eq.)"
            unit="mm"
            empty
            value={null}
            onCommit={(v) => v !== null && store.act("photograph lens", { kind: "photograph_lens", equivalent_mm: v })}
          />
        </Flex>
      </Part>
      <Part title="Measure from it">
        <Flex gap="3" wrap="wrap" align="end" mb="2">
          <Segments
            label="A press marks"
            value={mark}
            options={[
              ["foot", "foot"],
              ["top", "top"],
              ["side", "one side"],
              ["known", "a known foot"],
            ]}
            onCommit={setMark}
          />
          {mark === "known" ? (
            <ChoiceField width="170px" label="the foot of" value={knownElement} options={named} onCommit={setKnownElement} />
          ) : null}
          {knowns.length > 0 ? (
            <Button variant="outline" onClick={() => void fit()}>
              Line up by {knowns.length} known {knowns.length === 1 ? "foot" : "feet"}
            </Button>
          ) : null}
        </Flex>
        <Marked photograph={photograph} marks={marks} knowns={knowns} onPlace={place} />
        <Flex gap="3" wrap="wrap" align="end" mt="2">
          <ChoiceField width="240px" label="known about it" value={what} options={KNOWNS} onCommit={setWhat} />
          <NumberField
            width="100px"
            label="that is"
            unit="m"
            step={0.1}
            value={metres}
            onCommit={(v) => v !== null && setMetres(v)}
          />
          <Button variant="outline" disabled={!marks.foot || !marks.top} onClick={() => void measure()}>
            Measure it
          </Button>
          {measured ? (
            <Box fontFamily="mono" fontSize="13px" role="status" data-testid="measured">
              {measured.distance.text} at {measured.bearing.text}, {measured.height.text} tall ({measured.angular_height.text}),{" "}
              {measured.width.text} wide
            </Box>
          ) : null}
          {measured ? (
            <Button variant="solid" onClick={add}>
              Place it as an element
            </Button>
          ) : null}
        </Flex>
        {trouble ? (
          <Box role="alert" color="rust" mt="2">
            {trouble}
          </Box>
        ) : null}
      </Part>
    </>
  );
}

function Marked({
  photograph,
  marks,
  knowns,
  onPlace,
}: {
  photograph: PhotographOut;
  marks: Partial<Record<string, readonly [number, number]>>;
  knowns: Known[];
  onPlace: (x: number, y: number) => void;
}) {
  const [cursor, setCursor] = useState<readonly [number, number]>([0.5, 0.5]);
  const [keyed, setKeyed] = useState(false);
  const dots = [
    ...Object.entries(marks).map(([name, at]) => [name, at] as const),
    ...knowns.map((one) => ["known", [one.x, one.y] as const] as const),
  ];
  return (
    <Box
      position="relative"
      tabIndex={0}
      role="application"
      aria-label="The photograph; press to mark, or move with the arrow keys and press Enter"
      cursor="crosshair"
      maxW="100%"
      css={{ aspectRatio: `${photograph.width_px} / ${photograph.height_px}` }}
      maxH="340px"
      mx="auto"
      data-testid="marking"
      onFocus={() => setKeyed(true)}
      onBlur={() => setKeyed(false)}
      onClick={(event) => {
        const box = event.currentTarget.getBoundingClientRect();
        onPlace((event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height);
      }}
      onKeyDown={(event) => {
        const way = ARROWS[event.key];
        const size = event.shiftKey ? 0.05 : 0.005;
        if (way) setCursor(([x, y]) => [Math.min(Math.max(x + way[0] * size, 0), 1), Math.min(Math.max(y + way[1] * size, 0), 1)]);
        else if (event.key === "Enter") onPlace(...cursor);
        else return;
        event.preventDefault();
        event.stopPropagation();
      }}
    >
      <chakra.img
        src={`/api/photographs/${photograph.id}/shown`}
        alt={photograph.name}
        w="100%"
        h="100%"
        display="block"
        pointerEvents="none"
      />
      <chakra.svg
        viewBox="0 0 1000 1000"
        preserveAspectRatio="none"
        position="absolute"
        inset="0"
        w="100%"
        h="100%"
        pointerEvents="none"
      >
        {dots.map(([name, at], i) =>
          at ? (
            <path
              key={`${name}${i}`}
              d={`M${at[0] * 1000 - 14} ${at[1] * 1000}h28m-14 -20v40`}
              stroke={name === "known" ? paint("slate") : paint("rust")}
              strokeWidth="4"
              fill="none"
              vectorEffect="non-scaling-stroke"
            />
          ) : null,
        )}
        {keyed ? (
          <path
            d={`M${cursor[0] * 1000 - 8} ${cursor[1] * 1000}h16m-8 -12v24`}
            stroke={paint("panel")}
            strokeWidth="2"
            vectorEffect="non-scaling-stroke"
          />
        ) : null}
      </chakra.svg>
    </Box>
  );
}
