import { useSyncExternalStore } from "react";
import { keep, readKept } from "./kept";

const KEY = "lucid-ridge/units";
export type Units = "metric" | "feet";

const listeners = new Set<() => void>();
const read = (): Units => (readKept(KEY) === "feet" ? "feet" : "metric");

/** The units distances are shown in; the server words them. */
export function useUnits(): Units {
  return useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, read);
}

export function chooseUnits(units: Units) {
  keep(KEY, units);
  for (const listener of listeners) listener();
}
