import { Box, Flex } from "@chakra-ui/react";

import type { Composition } from "../../api/types";
import { ChoiceField, NumberField, Segments, TextField } from "../../shell/fields";
import { chooseUnits, useUnits } from "../../shell/units";
import { useBench } from "../context";
import type { Surroundings } from "../scene";
import { Elements } from "./frame/ElementEditor";
import { PanoramaPart } from "./frame/PanoramaPart";
import { PhotographPart } from "./frame/PhotographPart";
import { Separation } from "./frame/Separation";
import { StandLines } from "./frame/StandLines";
import { Tries } from "./frame/Tries";
import { Wishes } from "./frame/Wishes";
import { Facts, Part } from "./parts";
import { useSide } from "./useSide";
import { HOLDS } from "../held";

const CROPS = [
  ["full", "the whole frame"],
  ["1", "1 : 1"],
  ["1.25", "5 : 4"],
  ["0.8", "4 : 5"],
  ["1.5", "3 : 2"],
  ["1.7778", "16 : 9"],
  ["2.2", "2.2 : 1"],
  ["3", "3 : 1"],
] as const;

const GUIDES = [
  ["none", "none"],
  ["thirds", "thirds"],
  ["centre", "centre"],
  ["diagonals", "diagonals"],
  ["golden", "golden section"],
] as const;

const SIDES = [
  ["camera", "Camera and elements"],
  ["wishes", "Wishes"],
  ["tries", "Variants"],
  ["panorama", "Panorama"],
  ["photograph", "Photographs"],
] as const;
type Side = (typeof SIDES)[number][0];

/** The Frame bench: the camera and its elements, wishes, variants, panorama, reference photographs. */
export function FrameBench({ around }: { around: Surroundings }) {
  const { state } = useBench();
  const [side, choose] = useSide<Side>("frame", SIDES, "camera");
  const made = state.told.has("frame") ? state.evaluation : null;
  return (
    <>
      <Box mb="8px">
        <Segments label="Sides of the Frame bench" value={side} options={SIDES} onCommit={choose} />
      </Box>
      {side === "camera" ? <CameraAndElements around={around} /> : null}
      {side === "wishes" && made ? <Wishes /> : null}
      {side === "tries" && made ? <Tries made={made} /> : null}
      {side === "panorama" && made ? <PanoramaPart made={made} /> : null}
      {side === "photograph" ? <PhotographPart /> : null}
    </>
  );
}

/** Where the camera stands, what it takes in, and what is in the picture. */
function CameraAndElements({ around }: { around: Surroundings }) {
  const { store, state } = useBench();
  const units = useUnits();
  const { draft, evaluation } = state;
  const c = draft.composition;
  const errors = state.problem?.errors ?? [];
  const number = (
    label: string,
    field: "camera_height_m" | "azimuth_deg" | "pitch_deg" | "roll_deg" | "east_m" | "north_m" | "ground_m",
    unit: string,
    step: number,
  ) => (
    <NumberField
      width="104px"
      label={label}
      unit={unit}
      step={step}
      value={c[field]}
      error={errors.find((one) => one.pointer.endsWith(`/composition/${field}`))?.message}
      onCommit={(v) => v !== null && store.compose(field, () => ({ [field]: v }) as Partial<Composition>)}
    />
  );
  const items = (kind: string) =>
    around.kit.filter(({ item }) => item.kind === kind).map(({ id, item }) => [id, item.details.name] as const);
  const withMissing = (options: (readonly [string, string])[], id: string) =>
    options.some(([one]) => one === id) ? options : [[id, "deleted; choose another"] as const, ...options];
  const swap = (part: { body_id?: string; lens_id?: string; support_id?: string }) => {
    store.edit("kit", (d) => ({ ...d, ...part }));
    store.act("kit", { kind: "fit" });
  };
  const aspect = c.crop.aspect;
  const chosenCrop = aspect === null ? "full" : (CROPS.find(([key]) => Math.abs(Number(key) - aspect) < 0.01)?.[0] ?? "full");
  return (
    <>
      <Part
        word="standpoint"
        title="Standpoint and camera"
        side={
          <Segments
            label="Units"
            value={units}
            options={[
              ["metric", "m"],
              ["feet", "ft"],
            ]}
            onCommit={chooseUnits}
          />
        }
      >
        <Flex gap="3" wrap="wrap" align="end">
          <TextField
            width="230px"
            label="name of the composition"
            value={draft.name}
            error={state.saveProblem?.errors.find((one) => one.pointer === "/name")?.message}
            onCommit={(name) => store.edit("name", (d) => ({ ...d, name }))}
          />
          <ChoiceField
            width="180px"
            label="place"
            value={draft.place_id}
            options={withMissing(
              around.places.map((one) => [one.id, one.place.name] as const),
              draft.place_id,
            )}
            onCommit={(place_id) => store.edit("place", (d) => ({ ...d, place_id }))}
          />
          <ChoiceField
            width="200px"
            label="body"
            value={draft.body_id}
            options={withMissing(items("body"), draft.body_id)}
            onCommit={(body_id) => swap({ body_id })}
          />
          <ChoiceField
            width="180px"
            label="lens"
            value={draft.lens_id}
            options={withMissing(items("lens"), draft.lens_id)}
            onCommit={(lens_id) => swap({ lens_id })}
          />
          <ChoiceField
            width="160px"
            label="support"
            value={draft.support_id}
            options={withMissing(items("support"), draft.support_id)}
            onCommit={(support_id) => swap({ support_id })}
          />
          {number("lens above ground", "camera_height_m", "m", 0.05)}
          {number("aim, azimuth", "azimuth_deg", "°", 1)}
          {number("pitch", "pitch_deg", "°", 1)}
          {number("roll", "roll_deg", "°", 0.5)}
          {number("standpoint east", "east_m", "m", 0.1)}
          {number("standpoint north", "north_m", "m", 0.1)}
          {number("ground", "ground_m", "m", 0.1)}
          <Segments
            label="Orientation"
            value={c.orientation}
            options={HOLDS}
            onCommit={(orientation) => store.compose("orientation", () => ({ orientation }))}
          />
          <ChoiceField
            width="150px"
            label="crop"
            value={chosenCrop}
            options={CROPS}
            onCommit={(key) =>
              store.compose("crop", (now) => ({ crop: { ...now.crop, aspect: key === "full" ? null : Number(key) } }))
            }
          />
          <NumberField
            width="104px"
            label="crop moved right"
            unit="%"
            step={10}
            value={Math.round(c.crop.offset_x * 100)}
            onCommit={(v) => v !== null && store.compose("crop place", (now) => ({ crop: { ...now.crop, offset_x: v / 100 } }))}
          />
          <NumberField
            width="104px"
            label="crop moved down"
            unit="%"
            step={10}
            value={Math.round(c.crop.offset_y * 100)}
            onCommit={(v) => v !== null && store.compose("crop place", (now) => ({ crop: { ...now.crop, offset_y: v / 100 } }))}
          />
          <ChoiceField
            width="140px"
            label="guides"
            value={c.guide}
            options={GUIDES}
            onCommit={(guide) => store.compose("guide", () => ({ guide }))}
          />
          <NumberField
            width="92px"
            label="crop size"
            unit="%"
            step={5}
            value={Math.round(c.crop.scale * 100)}
            onCommit={(v) => v !== null && store.compose("crop size", (now) => ({ crop: { ...now.crop, scale: v / 100 } }))}
          />
        </Flex>
      </Part>
      {evaluation ? (
        <Part title="The frame takes in">
          <Facts
            rows={[
              ["across", evaluation.framing.horizontal_view],
              ["up and down", evaluation.framing.vertical_view],
              ["full-frame equivalent", evaluation.framing.equivalent],
              ["left after the crop", evaluation.framing.cropped_pixels],
              ...(state.told.has("frame")
                ? ([
                    ["sky", evaluation.framing.sky],
                    ["foreground", evaluation.framing.foreground],
                  ] as const)
                : []),
              ...evaluation.framing.elements.flatMap((e) =>
                e.reflection && e.role === "subject" ? [[`${e.name}'s reflection seen`, e.reflection] as const] : [],
              ),
              ...evaluation.framing.elements.flatMap((e) =>
                e.hidden && e.role === "subject" && (e.hidden.value ?? 0) >= 1 ? [[`${e.name} hidden`, e.hidden] as const] : [],
              ),
            ]}
          />
        </Part>
      ) : null}
      {evaluation && state.told.has("frame") ? <Separation meetings={evaluation.separation} /> : null}
      <Elements />
      <StandLines plan={evaluation?.plan} />
    </>
  );
}
