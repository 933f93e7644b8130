import type { Composition, Element } from "../api/types";
import { freshId } from "../shell/freshId";

/** What a new element starts as, at the standpoint until it is placed; the first one is the subject. */
export function newElement(composition: Composition): Element {
  return {
    id: freshId(),
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

export type Shape = Element["silhouette"];

/** What a thing of a shape usually is in a picture, and how it moves. */
export function usual(silhouette: Shape): Partial<Element> {
  if (silhouette === "water" || silhouette === "beck")
    return { role: "water", motion: "water", speed_m_s: silhouette === "beck" ? 0.8 : 0.2, sharp: false };
  if (silhouette === "cloud") return { role: "sky", sharp: false };
  if (silhouette === "ridge" || silhouette === "hill") return { role: "background" };
  if (silhouette === "meadow") return { role: "middle", sharp: false };
  if (silhouette === "reeds" || silhouette === "flowers" || silhouette === "bloom") return { motion: "foliage", speed_m_s: 0.05 };
  if (silhouette === "animal") return { motion: "animal", speed_m_s: 0.25 };
  return {};
}
