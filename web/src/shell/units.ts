import { useSyncExternalStore } from "react";

const KEY = "lucid-ridge/units";
export type Units = "metric" | "feet";

const listeners = new Set<() => void>();
const read = (): Units => (window.localStorage.getItem(KEY) === "feet" ? "feet" : "metric");

/** The units distances are shown in; the server words them. */
export function useUnits(): Units {
  return useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, read);
}

export function chooseUnits(units: Units) {
  window.localStorage.setItem(KEY, units);
  for (const listener of listeners) listener();
}
