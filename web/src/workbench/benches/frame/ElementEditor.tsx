import { Box, Button, chakra, Flex } from "@chakra-ui/react";

import type { Element } from "../../../api/types";
import { ChoiceField, NumberField, TextField, TickField } from "../../../shell/fields";
import { notify } from "../../../shell/notices";
import { useBench } from "../../context";
import { newElement } from "../../elements";
import { SILHOUETTES } from "./silhouettes";
import { Part } from "../parts";
import { freshId } from "../../../shell/freshId";

const ROLES = [
  ["foreground", "foreground"],
  ["subject", "subject"],
  ["middle", "middle ground"],
  ["background", "background"],
  ["sky", "sky"],
  ["water", "water"],
] as const;
const LYING = new Set<Element["silhouette"]>(["water", "beck", "stones", "meadow"]);
const RIDGES = new Set<Element["silhouette"]>(["ridge", "hill", "wall"]);
const MOTIONS = [
  ["still", "still"],
  ["water", "water"],
  ["foliage", "foliage"],
  ["animal", "animal"],
  ["cloud", "cloud"],
] as const;

function Editor({ element }: { element: Element }) {
  const { store, state } = useBench();
  const drawn = state.evaluation?.framing.elements.find((one) => one.id === element.id);
  const errors = state.problem?.errors ?? [];
  const index = state.draft.composition.elements.findIndex((one) => one.id === element.id);
  const error = (field: string) => errors.find((one) => one.pointer.endsWith(`/elements/${index}/${field}`))?.message;
  const put = (part: Partial<Element>) =>
    store.compose(`element ${element.id} ${Object.keys(part).join()}`, (c) => ({
      elements: c.elements.map((one) => (one.id === element.id ? { ...one, ...part } : one)),
    }));
  const place = (bearing: number | null, distance: number | null) => {
    if (bearing === null || distance === null) return;
    store.act(`place ${element.id}`, { kind: "move_element", element_id: element.id, bearing_deg: bearing, distance_m: distance });
  };
  const bearing = Math.round((drawn?.bearing.value ?? 0) * 10) / 10;
  const distance = Number((drawn?.distance.value ?? 1).toPrecision(4));
  const lying = LYING.has(element.silhouette);
  const ridge = element.ridgeline.length > 0;
  const size = (label: string, field: "width_m" | "depth_m" | "height_m" | "base_m" | "east_m" | "north_m" | "turned_deg") => (
    <NumberField
      width="92px"
      label={label}
      unit={field === "turned_deg" ? "°" : "m"}
      step={field === "turned_deg" ? 5 : 0.1}
      value={element[field]}
      error={error(field)}
      onCommit={(v) => v !== null && put({ [field]: v })}
    />
  );
  return (
    <Box borderTopWidth="1px" borderColor="line" pt="2" mt="2">
      <Flex gap="3" wrap="wrap" align="end">
        <TextField width="150px" label="name" value={element.name} error={error("name")} onCommit={(name) => put({ name })} />
        <ChoiceField width="130px" label="role" value={element.role} options={ROLES} onCommit={(role) => put({ role })} />
        <ChoiceField
          width="140px"
          label="drawn as"
          value={element.silhouette}
          options={SILHOUETTES}
          onCommit={(silhouette) => put({ silhouette })}
        />
        <NumberField width="92px" label="bearing" unit="°" value={bearing} onCommit={(v) => place(v, distance)} />
        <NumberField
          width="105px"
          label="distance"
          unit="m"
          value={distance}
          step={distance > 20 ? 5 : 0.1}
          onCommit={(v) => place(bearing, v)}
        />
        {ridge ? null : element.silhouette === "post" ? (
          <NumberField
            width="92px"
            label="thickness"
            unit="m"
            step={0.05}
            value={element.width_m}
            error={error("width_m")}
            onCommit={(v) => v !== null && put({ width_m: v, depth_m: v })}
          />
        ) : (
          size("width", "width_m")
        )}
        {ridge || element.silhouette === "post" ? null : size(lying ? "from near to far" : "depth", "depth_m")}
        {ridge || lying ? null : size("height", "height_m")}
        {size(lying ? "level above 0" : "foot above 0", "base_m")}
        {size(ridge ? "measured from, east" : "east", "east_m")}
        {size(ridge ? "measured from, north" : "north", "north_m")}
        {ridge ? null : size("runs away to", "turned_deg")}
        <ChoiceField
          width="110px"
          label="moves as"
          value={element.motion}
          options={MOTIONS}
          onCommit={(motion) => put({ motion })}
        />
        {element.motion !== "still" ? (
          <NumberField
            width="100px"
            label="speed"
            unit="m/s"
            step={0.05}
            value={element.speed_m_s}
            error={error("speed_m_s")}
            onCommit={(v) => v !== null && put({ speed_m_s: v })}
          />
        ) : null}
        <NumberField
          width="110px"
          label="spot reading"
          unit="EV"
          step={1 / 3}
          empty
          value={element.reading_ev100}
          error={error("reading_ev100")}
          onCommit={(v) => put({ reading_ev100: v })}
        />
        <Box display="grid">
          <TickField label="must be sharp" value={element.sharp} onCommit={(sharp) => put({ sharp })} />
          <TickField label="must hold detail" value={element.holds_detail} onCommit={(holds_detail) => put({ holds_detail })} />
          <TickField label="wet, with a sheen" value={element.wet} onCommit={(wet) => put({ wet })} />
          <TickField label="saturated red, orange or yellow" value={element.warm} onCommit={(warm) => put({ warm })} />
          <NumberField
            width="180px"
            label="reflectance (empty: usual)"
            unit="%"
            step={5}
            empty
            value={element.reflectance === null ? null : Math.round(element.reflectance * 100)}
            onCommit={(v) => put({ reflectance: v === null || v <= 0 ? null : Math.min(v, 100) / 100 })}
          />
        </Box>
      </Flex>
      {RIDGES.has(element.silhouette) ? <Ridgeline element={element} put={put} error={error} /> : null}
    </Box>
  );
}

type RidgePoint = Element["ridgeline"][number];

/** A skyline as compass and clinometer, or a map, give it: bearing, distance and height of each point. */
function Ridgeline({
  element,
  put,
  error,
}: {
  element: Element;
  put: (part: Partial<Element>) => void;
  error: (field: string) => string | undefined;
}) {
  const points = element.ridgeline;
  const set = (index: number, part: Partial<RidgePoint>) =>
    put({ ridgeline: points.map((one, i) => (i === index ? { ...one, ...part } : one)) });
  const add = () => {
    const last = points.at(-1);
    const next = last
      ? { ...last, bearing_deg: last.bearing_deg + 10 }
      : { bearing_deg: 0, distance_m: 1000, height_m: element.base_m + element.height_m };
    put({ ridgeline: points.length === 0 ? [{ ...next, bearing_deg: 350 }, next] : [...points, next] });
  };
  return (
    <Box mt="2">
      <Flex gap="2" align="center">
        <Box fontSize="13px" color="muted" flex="1">
          {points.length === 0
            ? "Drawn as a box. Give points of its skyline to draw it as measured."
            : `Skyline of ${points.length} points, from left to right`}
        </Box>
        <Button onClick={add}>{points.length === 0 ? "Give its skyline" : "Add a point"}</Button>
        {points.length > 0 ? (
          <Button variant="ghost" onClick={() => put({ ridgeline: [] })}>
            Back to a box
          </Button>
        ) : null}
      </Flex>
      {error("ridgeline") ? <Box color="rust">{error("ridgeline")}</Box> : null}
      {points.map((point, i) => (
        <Flex key={i} gap="2" align="end" mt="1">
          <NumberField
            width="110px"
            quiet={i > 0}
            label={`bearing ${i + 1}`}
            unit="°"
            value={point.bearing_deg}
            onCommit={(v) => v !== null && set(i, { bearing_deg: v })}
          />
          <NumberField
            width="120px"
            quiet={i > 0}
            label={`distance ${i + 1}`}
            unit="m"
            step={50}
            value={point.distance_m}
            onCommit={(v) => v !== null && set(i, { distance_m: v })}
          />
          <NumberField
            width="120px"
            quiet={i > 0}
            label={`height above 0, ${i + 1}`}
            unit="m"
            step={5}
            value={point.height_m}
            onCommit={(v) => v !== null && set(i, { height_m: v })}
          />
          <Button
            variant="ghost"
            onClick={() => put({ ridgeline: points.length <= 2 ? [] : points.filter((_, n) => n !== i) })}
            aria-label={`Remove point ${i + 1}`}
          >
            Remove
          </Button>
        </Flex>
      ))}
    </Box>
  );
}

/** The things in the picture: choose one, change it, add, copy, remove. */
export function Elements() {
  const { store, state, selected, select } = useBench();
  const { composition } = state.draft;
  const element = composition.elements.find((one) => one.id === selected);
  const add = () => {
    const made = newElement(composition);
    store.compose("add element", (c) => ({ elements: [...c.elements, made] }));
    store.act("place new", { kind: "move_element", element_id: made.id, bearing_deg: composition.azimuth_deg, distance_m: 5 });
    select(made.id);
  };
  const copy = (one: Element) => {
    const id = freshId();
    store.compose("copy element", (c) => ({ elements: [...c.elements, { ...one, id, name: `${one.name.slice(0, 74)}, copy` }] }));
    select(id);
  };
  const remove = (one: Element) => {
    store.compose("remove element", (c) => ({
      elements: c.elements.filter((other) => other.id !== one.id),
      reading: c.reading?.element_id === one.id ? { ...c.reading, element_id: null } : c.reading,
    }));
    select(undefined);
    notify({ title: `${one.name} removed`, undo: () => store.undo() });
  };
  return (
    <Part
      word="element"
      title={`Elements: ${composition.elements.length}`}
      side={
        <Flex gap="2">
          {element ? <Button onClick={() => copy(element)}>Duplicate</Button> : null}
          {element ? <Button onClick={() => remove(element)}>Remove</Button> : null}
          <Button variant="outline" onClick={add}>
            Add an element
          </Button>
        </Flex>
      }
    >
      {composition.elements.length === 0 ? (
        <Box color="muted">
          Nothing in the picture yet. Add what stands in front, the subject and what lies behind; give each its distance.
        </Box>
      ) : null}
      <Flex gap="2" wrap="wrap" role="group" aria-label="Elements">
        {composition.elements.map((one) => (
          <chakra.button
            key={one.id}
            type="button"
            aria-pressed={one.id === selected}
            onClick={() => select(one.id)}
            px="10px"
            h="28px"
            cursor="pointer"
            borderWidth="1px"
            borderColor={one.id === selected ? "moss" : "line"}
            bg={one.id === selected ? "mossFaint" : "raised"}
            fontWeight={one.id === selected ? "700" : "400"}
            fontSize="13px"
          >
            {one.name}
          </chakra.button>
        ))}
      </Flex>
      {element ? <Editor key={element.id} element={element} /> : null}
    </Part>
  );
}
