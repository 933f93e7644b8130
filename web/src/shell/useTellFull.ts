import { useEffect } from "react";

import { whenFull } from "./kept";
import { notify } from "./notices";

const QUIET_MS = 120_000;

/** Say that this browser can keep nothing more; now and then, not with every key. */
export function useTellFull() {
  useEffect(() => {
    let last = -Infinity;
    return whenFull(() => {
      if (performance.now() - last < QUIET_MS) return;
      last = performance.now();
      notify({
        title: "This browser can keep nothing more",
        detail: "Its storage is full or shut off. Leave this page open until everything is saved, or make room for this site.",
        kind: "trouble",
      });
    });
  }, []);
}
