import { useSyncExternalStore } from "react";

const KEY = "lucid-ridge/tour";
const listeners = new Set<() => void>();

function read(): number | null {
  const kept = window.sessionStorage.getItem(KEY);
  return kept === null ? null : Number(kept);
}

/** At which step the tour is; null while nobody asked for it. It ends with the window and never begins by itself. */
export function useTour(): number | null {
  return useSyncExternalStore((listener) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  }, read);
}

export function goToStep(step: number | null) {
  if (step === null) window.sessionStorage.removeItem(KEY);
  else window.sessionStorage.setItem(KEY, String(step));
  for (const listener of listeners) listener();
}
