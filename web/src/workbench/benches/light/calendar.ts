import { api, ApiError } from "../../../api/client";
import type { PlaceOut, Problem } from "../../../api/types";

export interface Entry {
  title: string;
  start_utc: string;
  end_utc: string;
  ready_utc: string | null;
  notes: string;
}

/** Hand a file that the server made to the person. */
export function hand(data: Blob, name: string) {
  const address = URL.createObjectURL(data);
  const link = document.createElement("a");
  link.href = address;
  link.download = name;
  link.click();
  window.setTimeout(() => URL.revokeObjectURL(address), 10_000);
}

/** Save events at a place as a calendar file. */
export async function saveCalendar(place: PlaceOut, events: Entry[]): Promise<void> {
  const notes = [place.access, place.parking, place.walk_in, place.hazards].filter(Boolean).join("\n");
  const { name, latitude_deg, longitude_deg } = place.place;
  const { data, error, response } = await api.POST("/api/light/calendar", { body: { place_name: name, latitude_deg, longitude_deg, notes: notes.slice(0, 2000), events }, parseAs: "blob" });
  if (!response.ok || !data) throw new ApiError(error as unknown as Problem);
  hand(data as unknown as Blob, "light.ics");
}
