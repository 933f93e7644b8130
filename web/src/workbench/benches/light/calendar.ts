import { api, ask } from "../../../api/client";
import { saveFile } from "../../../api/download";
import type { PlaceOut } from "../../../api/types";
import { notify, notifyTrouble } from "../../../shell/notices";

export interface Entry {
  title: string;
  start_utc: string;
  end_utc: string;
  ready_utc: string | null;
  notes: string;
}

/** Save what is chosen at a place as a calendar file, and tell how that went. */
export async function saveCalendar(place: PlaceOut, events: Entry[], what: readonly [one: string, many: string]): Promise<void> {
  const notes = [place.access, place.parking, place.walk_in, place.hazards].filter(Boolean).join("\n");
  const { name, latitude_deg, longitude_deg } = place.place;
  try {
    const made = await ask(
      api.POST("/api/light/calendar", {
        body: { place_name: name, latitude_deg, longitude_deg, notes: notes.slice(0, 2000), events },
        parseAs: "blob",
      }),
    );
    saveFile(made as unknown as Blob, "light.ics");
    notify({
      title: `${events.length} ${events.length === 1 ? what[0] : what[1]} saved as a calendar`,
      detail: events.some((one) => one.ready_utc) ? "light.ics, with an alarm when to stand there." : "light.ics",
    });
  } catch (error) {
    notifyTrouble(error);
  }
}
