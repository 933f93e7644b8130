import type { Composition, Element } from "../api/types";

/** What a new element starts as, at the standpoint until it is placed; the first one is the subject. */
export function newElement(composition: Composition): Element {
  return {
    id: crypto.randomUUID(),
    name: `element ${composition.elements.length + 1}`,
    role: composition.elements.length === 0 ? "subject" : "foreground",
    silhouette: "boulder",
    east_m: composition.east_m,
    north_m: composition.north_m,
    base_m: composition.ground_m,
    turned_deg: composition.azimuth_deg,
    width_m: 1,
    depth_m: 1,
    height_m: 0.8,
    sharp: true,
    motion: "still",
    speed_m_s: 0,
    reading_ev100: null,
    holds_detail: true,
    reflectance: null,
    warm: false,
    wet: false,
    ridgeline: [],
  };
}
