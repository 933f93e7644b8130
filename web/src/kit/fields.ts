import type { Body, Filter, Gear, KitItemOut, Lens, LightSource, Support } from "../api/types";

export type Kind = KitItemOut["item"]["kind"];

interface NumberSpec {
  type: "number";
  key: string;
  label: string;
  unit?: string;
  step?: number;
  /** May be left empty. */
  empty?: boolean;
  /** Asked only of these kinds. */
  only?: readonly string[];
}
interface ChoiceSpec {
  type: "choice";
  key: string;
  label: string;
  options: readonly (readonly [string, string])[];
  /** The value is a whole number. */
  whole?: boolean;
}
interface TickSpec {
  type: "tick";
  key: string;
  label: string;
}
interface TextSpec {
  type: "text";
  key: string;
  label: string;
}
export type Spec = NumberSpec | ChoiceSpec | TickSpec | TextSpec;

const number = (key: string, label: string, unit?: string, step = 1): NumberSpec => ({
  type: "number",
  key,
  label,
  step,
  ...(unit ? { unit } : {}),
});

/** Which fields each kind of item has, in the order they are asked. */
export const FIELDS: Record<Kind, readonly Spec[]> = {
  body: [
    number("sensor_width_mm", "sensor width", "mm", 0.1),
    number("sensor_height_mm", "sensor height", "mm", 0.1),
    number("pixels_across", "pixels across"),
    number("pixels_down", "pixels down"),
    number("base_iso", "base ISO"),
    number("highest_iso", "highest ISO", undefined, 100),
    number("usable_range_stops", "usable range", "stops", 0.5),
    number("headroom_stops", "of that above mid-tone", "stops", 0.5),
    number("stabiliser_stops", "stabiliser", "stops", 0.5),
    number("longest_timed_s", "longest timed shutter", "s"),
    number("burst_per_s", "burst", "/s"),
    number("buffer_frames", "buffer", "frames"),
    number("written_per_s", "then writes", "/s", 0.5),
    number("frames_per_charge", "frames a charge", undefined, 10),
    { type: "number", key: "frame_mb", label: "a frame takes", unit: "MB", step: 0.1, empty: true },
    number("flash_sync_s", "flash sync time", "s", 0.001),
    {
      type: "choice",
      key: "clicks_per_stop",
      label: "dials click in",
      options: [
        ["3", "third stops"],
        ["2", "half stops"],
        ["1", "whole stops"],
      ],
      whole: true,
    },
    { ...number("reciprocity_p", "film: beyond 1 s, t to the power of (empty: a sensor)", undefined, 0.01), empty: true },
    { type: "tick", key: "has_bulb", label: "has bulb" },
    { type: "tick", key: "dark_frame", label: "takes a dark frame after long exposures" },
  ],
  lens: [
    number("shortest_mm", "focal length from", "mm"),
    number("longest_mm", "to", "mm"),
    number("widest_f_number", "widest aperture f/", undefined, 0.1),
    number("widest_f_number_long", "widest at the long end f/", undefined, 0.1),
    number("narrowest_f_number", "narrowest f/", undefined, 1),
    number("minimum_focus_m", "nearest focus, from the sensor", "m", 0.01),
    { ...number("largest_magnification", "largest magnification (empty: not told)", "×", 0.1), empty: true },
    { ...number("front_mm", "sensor to the front of the lens (empty: not told)", "mm"), empty: true },
    number("hood_mm", "the hood stands out", "mm"),
    { ...number("filter_thread_mm", "filter thread (empty: not told)", "mm"), empty: true },
    { type: "tick", key: "lengthens", label: "lengthens as it focuses near" },
    number("pupil_magnification", "pupil magnification", undefined, 0.1),
    number("stabiliser_stops", "stabiliser", "stops", 0.5),
  ],
  filter: [
    {
      type: "choice",
      key: "kind",
      label: "kind",
      options: [
        ["nd", "neutral density"],
        ["variable_nd", "variable neutral density"],
        ["polariser", "polariser"],
        ["graduated", "graduated"],
      ],
    },
    number("stops", "costs (at most, as measured)", "stops", 1 / 3),
    number("least_stops", "costs at least", "stops", 1 / 3),
    {
      type: "choice",
      key: "edge",
      label: "edge, if graduated",
      options: [
        ["soft", "soft"],
        ["hard", "hard"],
      ],
    },
    { ...number("thread_mm", "thread (empty: for a holder)", "mm"), empty: true },
    number("thickness_mm", "its ring stands out", "mm"),
    { ...number("safe_stops", "variable: no cross up to (empty: all)", "stops", 0.5), empty: true },
    { type: "text", key: "cast", label: "colour cast, in words" },
  ],
  support: [
    {
      type: "choice",
      key: "kind",
      label: "kind",
      options: [
        ["tripod", "tripod"],
        ["bag", "bag on the ground"],
        ["hand", "the hand"],
      ],
    },
    number("lowest_m", "lens no lower than", "m", 0.05),
    number("highest_m", "no higher than, on its legs", "m", 0.05),
    number("column_m", "the column adds", "m", 0.05),
    { ...number("inverted_lowest_m", "hung upside down, down to (empty: cannot)", "m", 0.05), empty: true },
    number("rocking_deg_s", "rocks", "°/s", 0.1),
    number("drift_deg_s", "drifts", "°/s", 0.05),
  ],
  gear: [
    {
      type: "choice",
      key: "kind",
      label: "kind",
      options: [
        ["tube", "extension tube"],
        ["bellows", "bellows"],
        ["reversing_ring", "reversing ring"],
        ["teleconverter", "teleconverter"],
        ["close_up_lens", "close-up lens"],
        ["rail", "rail"],
      ],
    },
    { ...number("extension_mm", "extends (bellows: at the shortest)", "mm"), only: ["tube", "bellows", "reversing_ring"] },
    { ...number("longest_mm", "drawn out", "mm"), only: ["bellows"] },
    { ...number("factor", "factor", "×", 0.1), only: ["teleconverter"] },
    { ...number("dioptres", "power", "D", 0.5), only: ["close_up_lens"] },
    { ...number("travel_mm", "travels", "mm"), only: ["rail"] },
    { ...number("finest_step_mm", "finest step", "mm", 0.05), only: ["rail"] },
    { ...number("step_s", "a step takes", "s"), only: ["rail"] },
  ],
  light: [
    {
      type: "choice",
      key: "kind",
      label: "kind",
      options: [
        ["flash", "flash"],
        ["lamp", "lamp"],
      ],
    },
    { ...number("guide_number_m", "guide number, ISO 100", "m"), only: ["flash"] },
    { ...number("full_recycle_s", "recycles from full power in", "s", 0.5), only: ["flash"] },
    { ...number("full_duration_s", "lights at full power for", "s", 0.001), only: ["flash"] },
    { ...number("least_power", "least power, share of full", undefined, 0.01), only: ["flash"] },
    { ...number("ev100_at_1_m", "reads from 1 m, ISO 100", "EV", 0.5), only: ["lamp"] },
    { type: "tick", key: "ultraviolet", label: "ultraviolet" },
  ],
};

/** What one knows of a thing without its manual; the rest stands under "more", with usual values. */
export const KNOWN: Record<Kind, readonly string[]> = {
  body: ["sensor_width_mm", "sensor_height_mm", "pixels_across", "pixels_down"],
  lens: ["shortest_mm", "longest_mm", "widest_f_number", "widest_f_number_long", "minimum_focus_m"],
  filter: ["kind", "stops"],
  support: ["kind", "lowest_m", "highest_m"],
  gear: ["kind", "extension_mm", "longest_mm", "factor", "dioptres", "travel_mm"],
  light: ["kind", "guide_number_m", "ev100_at_1_m"],
};

/** What a new item of a kind starts with: common generic gear. */
export const FRESH: { body: Body; lens: Lens; filter: Filter; support: Support; gear: Gear; light: LightSource } = {
  body: {
    name: "full-frame body, 24 MP",
    sensor_width_mm: 36,
    sensor_height_mm: 24,
    pixels_across: 6000,
    pixels_down: 4000,
    base_iso: 100,
    highest_iso: 25600,
    usable_range_stops: 9,
    headroom_stops: 3,
    shortest_shutter_s: 0.0001220703125,
    longest_timed_s: 32,
    has_bulb: true,
    dark_frame: false,
    stabiliser_stops: 0,
    bracket_modes: [
      { frames: 3, step_stops: 1 },
      { frames: 3, step_stops: 2 },
    ],
    burst_per_s: 6,
    buffer_frames: 30,
    frames_per_charge: 400,
    frame_mb: null,
    written_per_s: 2,
    flash_sync_s: 0.00492156660115185,
    reciprocity_p: null,
    clicks_per_stop: 3,
  },
  lens: {
    name: "24-70 mm f/4",
    shortest_mm: 24,
    longest_mm: 70,
    widest_f_number: 4,
    widest_f_number_long: 4,
    narrowest_f_number: 22,
    minimum_focus_m: 0.38,
    pupil_magnification: 1,
    stabiliser_stops: 0,
    largest_magnification: null,
    front_mm: null,
    lengthens: false,
    hood_mm: 0,
    filter_thread_mm: null,
  },
  filter: {
    id: "new",
    name: "ND 10 stops",
    kind: "nd",
    stops: 10,
    least_stops: 0,
    edge: "soft",
    thread_mm: null,
    thickness_mm: 5,
    safe_stops: null,
    cast: "",
  },
  support: {
    name: "tripod",
    kind: "tripod",
    lowest_m: 0.3,
    highest_m: 1.6,
    column_m: 0,
    inverted_lowest_m: null,
    rocking_deg_s: 0,
    drift_deg_s: 0,
  },
  gear: {
    id: "new",
    name: "25 mm tube",
    kind: "tube",
    extension_mm: 25,
    longest_mm: 0,
    factor: 1.4,
    dioptres: 2,
    travel_mm: 100,
    finest_step_mm: 0.1,
    step_s: 6,
  },
  light: {
    id: "new",
    name: "flash",
    kind: "flash",
    guide_number_m: 24,
    full_recycle_s: 4,
    full_duration_s: 0.002,
    least_power: 0.0078125,
    ev100_at_1_m: 7,
    ultraviolet: false,
  },
};

export const KINDS: readonly (readonly [Kind, string, string])[] = [
  ["body", "Bodies", "a body"],
  ["lens", "Lenses", "a lens"],
  ["filter", "Filters", "a filter"],
  ["support", "Supports", "a support"],
  ["gear", "Close-up gear", "close-up gear"],
  ["light", "Lights", "a light"],
];

/** One line about an item. */
export function summary(item: KitItemOut["item"]): string {
  switch (item.kind) {
    case "body": {
      const { sensor_width_mm, sensor_height_mm, usable_range_stops, bracket_modes } = item.details;
      const brackets = bracket_modes.map((m) => `${m.frames} × ${m.step_stops}`).join(", ");
      return `${sensor_width_mm} × ${sensor_height_mm} mm, ${usable_range_stops} stops usable${brackets ? `, brackets ${brackets}` : ""}`;
    }
    case "lens":
      return `nearest focus ${item.details.minimum_focus_m} m`;
    case "filter":
      return item.details.least_stops > 0
        ? `${item.details.least_stops} to ${item.details.stops} stops`
        : `${item.details.stops} stops`;
    case "support": {
      const moves = item.details.rocking_deg_s > 0 || item.details.drift_deg_s > 0;
      return `lens at ${item.details.lowest_m} to ${item.details.highest_m} m${moves ? ", on moving ground" : ""}`;
    }
    case "gear":
      return gearSummary(item.details);
    case "light":
      return item.details.kind === "flash"
        ? `guide number ${item.details.guide_number_m} m, recycles in ${item.details.full_recycle_s} s`
        : `lamp, EV ${item.details.ev100_at_1_m} from 1 m`;
  }
}

function gearSummary(gear: Gear): string {
  switch (gear.kind) {
    case "tube":
      return `extends by ${gear.extension_mm} mm`;
    case "bellows":
      return `extend by ${gear.extension_mm} to ${gear.longest_mm} mm`;
    case "reversing_ring":
      return `${gear.extension_mm} mm from the sensor`;
    case "teleconverter":
      return `${gear.factor} ×`;
    case "close_up_lens":
      return `${gear.dioptres} dioptres`;
    case "rail":
      return `${gear.travel_mm} mm of travel, steps from ${gear.finest_step_mm} mm`;
  }
}
