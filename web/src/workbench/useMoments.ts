import { useCallback } from "react";

import type { WorkbenchStore } from "./store";

/** Steps of the moment in minutes; the server keeps it within a day it knows. */
function moved(utc: string, minutes: number) {
  return new Date(Date.parse(utc) + minutes * 60_000).toISOString();
}

/** Moving through the day: by minutes, to an instant, to the next or the last thing that happens in the sky. */
export function useMoments(store: WorkbenchStore) {
  const step = useCallback(
    (minutes: number) => store.compose("moment", (c) => ({ moment_utc: moved(c.moment_utc, minutes) })),
    [store],
  );
  const toMoment = useCallback((utc: string) => store.compose("moment", () => ({ moment_utc: utc })), [store]);
  const toEvent = useCallback(
    (direction: 1 | -1) => {
      const { evaluation, draft } = store.snapshot();
      const now = Date.parse(draft.composition.moment_utc);
      const events = evaluation?.light.ribbon.events ?? [];
      const next =
        direction > 0
          ? events.find((e) => Date.parse(e.at_utc) > now + 1000)
          : events.findLast((e) => Date.parse(e.at_utc) < now - 1000);
      if (next) toMoment(next.at_utc);
    },
    [store, toMoment],
  );
  return { step, toMoment, toEvent };
}
