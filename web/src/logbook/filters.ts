import { useSearchParams } from "react-router";

import type { TakeFilter } from "../api/queries";

export const SEASONS = ["winter", "spring", "summer", "autumn"] as const;
const KEYS = ["place_id", "fault", "season", "rating", "day", "words"] as const;
export type FilterKey = (typeof KEYS)[number];

/** Which takes are shown, and how, as the address says; what is set there stays with a bookmark and with Back. */
export function useFilters() {
  const [params, setParams] = useSearchParams();
  const filter: TakeFilter = {};
  for (const key of KEYS) {
    const value = params.get(key);
    if (value) filter[key] = value;
  }
  const set = (changes: Partial<Record<FilterKey | "view" | "year", string>>) =>
    setParams(
      (before) => {
        const next = new URLSearchParams(before);
        for (const [key, value] of Object.entries(changes)) {
          if (value) next.set(key, value);
          else next.delete(key);
        }
        return next;
      },
      { replace: true },
    );
  const clear = () => set(Object.fromEntries(KEYS.map((key) => [key, ""])));
  return { filter, set, clear, view: params.get("view") ?? "list", year: params.get("year") };
}
