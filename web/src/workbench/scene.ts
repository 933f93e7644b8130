import type { Composition, Forecast, KitItemOut, PlaceOut, Scene } from "../api/types";

/** What is being composed; everything that saving writes. */
export interface Draft {
  name: string;
  place_id: string;
  body_id: string;
  lens_id: string;
  support_id: string;
  composition: Composition;
}

export interface Surroundings {
  kit: KitItemOut[];
  places: PlaceOut[];
  units: "metric" | "feet";
  /** The forecast for the place's day, null where there is none. */
  forecast: Forecast | null;
}

/** The scene of a draft: its place and kit put in from what is saved. Names what is missing instead. */
export function sceneOf(draft: Draft, { kit, places, units, forecast }: Surroundings): Scene | string {
  const place = places.find((one) => one.id === draft.place_id);
  if (!place) return "place";
  const details = (id: string) => kit.find((one) => one.id === id)?.item;
  const body = details(draft.body_id);
  const lens = details(draft.lens_id);
  const support = details(draft.support_id);
  if (body?.kind !== "body") return "body";
  if (lens?.kind !== "lens") return "lens";
  if (support?.kind !== "support") return "support";
  const filters = kit.flatMap(({ item }) => (item.kind === "filter" ? [item.details] : []));
  const gear = kit.flatMap(({ item }) => (item.kind === "gear" ? [item.details] : []));
  const lights = kit.flatMap(({ item }) => (item.kind === "light" ? [item.details] : []));
  return {
    place: place.place,
    kit: { body: body.details, lens: lens.details, support: support.details, filters, gear, lights },
    composition: draft.composition,
    units,
    forecast,
  };
}
