import type { CompositionBrief, Outing, OutingDay, OutingSpot, OutingVisit, PlaceOut, TrackOut, UsualVisit } from "../api/types";
import { freshId } from "../shell/freshId";

/** A composition as a visit that asks for nothing special, with the usual minutes. */
export function visitOf(composition: CompositionBrief, usual: UsualVisit): OutingVisit {
  return {
    id: freshId(),
    composition_id: composition.id,
    wanted: "want",
    goal: "light",
    moment: null,
    tolerance_min: 10,
    day: null,
    first_at: null,
    set_up_min: usual.set_up_min,
    frames_min: null,
    margin_min: usual.margin_min,
    ready_min: null,
    daylight_only: false,
    tide_below_m: null,
    tide_above_m: null,
    note: "",
  };
}

export function newOuting(day: OutingDay, start: OutingSpot): Outing {
  return {
    days: [day],
    start,
    end: null,
    visits: [],
    rides: [],
    pace: { rule: "naismith", off_path: false, own: 1, load: 1, darkness: 1.3, ground: 1 },
    detour: 1.3,
    packing: { batteries: 2, cards_gb: 64, coldest_c: 8, own_lines: [], ticked: [], forgotten: [] },
    contact: { left_with: "", call: "", overdue_min: 120, vehicle: "", party: "", note: "" },
    done: [],
    note: "",
  };
}

export const withVisit = (outing: Outing, id: string, change: (visit: OutingVisit) => OutingVisit): Outing => ({
  ...outing,
  visits: outing.visits.map((one) => (one.id === id ? change(one) : one)),
});

/** Where one may start from: car parks and gates first, then the places themselves. */
export function spotsOf(places: readonly PlaceOut[], tracks: readonly TrackOut[]): OutingSpot[] {
  const spot = (name: string, latitude_deg: number, longitude_deg: number): OutingSpot => ({
    name,
    latitude_deg,
    longitude_deg,
    elevation_m: null,
    time_zone: "",
  });
  const marks = tracks
    .filter((one) => one.kind === "mark" && one.sort !== "hazard")
    .sort((a, b) => Number(b.sort === "parking") - Number(a.sort === "parking"))
    .flatMap((one) => one.points.slice(0, 1).map(([latitude, longitude]) => spot(one.name, latitude, longitude)));
  return [...marks, ...places.map(({ place }) => spot(place.name, place.latitude_deg, place.longitude_deg))];
}

export const sameSpot = (a: OutingSpot, b: OutingSpot) =>
  a.name === b.name && a.latitude_deg === b.latitude_deg && a.longitude_deg === b.longitude_deg;

/** A date so many days from another, as the calendar counts. */
export function dateAfter(date: string, days: number): string {
  const [year, month, day] = date.split("-").map(Number) as [number, number, number];
  return new Date(Date.UTC(year, month - 1, day + days)).toISOString().slice(0, 10);
}

/** The outing with its first day on a date and the others as far behind it; times nailed to the clock are let go. */
export function movedTo(outing: Outing, first: string): Outing {
  const from = Date.parse(outing.days[0]?.date ?? first);
  return {
    ...outing,
    days: outing.days.map((one) => ({
      ...one,
      date: dateAfter(first, Math.round((Date.parse(one.date) - from) / 86_400_000)),
    })),
    visits: outing.visits.map((one) => ({ ...one, first_at: null })),
    done: [],
  };
}
