import type { Body, Filter, KitItemOut, Lens, Support } from "../api/types";

export type Kind = KitItemOut["item"]["kind"];

interface NumberSpec {
  type: "number";
  key: string;
  label: string;
  unit?: string;
  step?: number;
  /** May be left empty. */
  empty?: boolean;
}
interface ChoiceSpec {
  type: "choice";
  key: string;
  label: string;
  options: readonly (readonly [string, string])[];
}
interface TickSpec {
  type: "tick";
  key: string;
  label: string;
}
export type Spec = NumberSpec | ChoiceSpec | TickSpec;

const number = (key: string, label: string, unit?: string, step = 1): NumberSpec => ({ type: "number", key, label, step, ...(unit ? { unit } : {}) });

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
  ],
};

/** What a new item of a kind starts with: common generic gear. */
export const FRESH: { body: Body; lens: Lens; filter: Filter; support: Support } = {
  body: {
    name: "full-frame body, 24 MP", sensor_width_mm: 36, sensor_height_mm: 24, pixels_across: 6000, pixels_down: 4000, base_iso: 100, highest_iso: 25600,
    usable_range_stops: 9, headroom_stops: 3, shortest_shutter_s: 0.0001220703125, longest_timed_s: 32, has_bulb: true, dark_frame: false, stabiliser_stops: 0,
    bracket_modes: [{ frames: 3, step_stops: 1 }, { frames: 3, step_stops: 2 }],
  },
  lens: {
    name: "24-70 mm f/4", shortest_mm: 24, longest_mm: 70, widest_f_number: 4, widest_f_number_long: 4, narrowest_f_number: 22, minimum_focus_m: 0.38,
    pupil_magnification: 1, stabiliser_stops: 0,
  },
  filter: { id: "new", name: "ND 10 stops", kind: "nd", stops: 10, least_stops: 0, edge: "soft" },
  support: { name: "tripod", kind: "tripod", lowest_m: 0.3, highest_m: 1.6, column_m: 0, inverted_lowest_m: null },
};

export const KINDS: readonly (readonly [Kind, string, string])[] = [
  ["body", "Bodies", "a body"],
  ["lens", "Lenses", "a lens"],
  ["filter", "Filters", "a filter"],
  ["support", "Supports", "a support"],
];

/** One line about an item. */
export function summary(item: KitItemOut["item"]): string {
  switch (item.kind) {
    case "body":
      return `${item.details.sensor_width_mm} × ${item.details.sensor_height_mm} mm, ${item.details.usable_range_stops} stops usable${item.details.bracket_modes.length > 0 ? `, brackets ${item.details.bracket_modes.map((m) => `${m.frames} × ${m.step_stops}`).join(", ")}` : ""}`;
    case "lens":
      return `nearest focus ${item.details.minimum_focus_m} m`;
    case "filter":
      return item.details.least_stops > 0 ? `${item.details.least_stops} to ${item.details.stops} stops` : `${item.details.stops} stops`;
    case "support":
      return `lens at ${item.details.lowest_m} to ${item.details.highest_m} m`;
  }
}
