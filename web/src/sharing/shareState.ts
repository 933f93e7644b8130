import { useSyncExternalStore } from "react";

import type { Share } from "../api/types";

export interface ToShare {
  kind: Share["kind"];
  id: string;
  name: string;
}

let now: ToShare | null = null;
const listeners = new Set<() => void>();

/** Ask with whom something is to be shared; null when that is answered. */
export function askToShare(what: ToShare | null) {
  now = what;
  for (const listener of listeners) listener();
}

/** What is asked about now. */
export const useToShare = () =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => now,
  );
