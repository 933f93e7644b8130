import { useMemo } from "react";

import type { Composition } from "../api/types";
import type { PlanHands } from "../instruments/PlanFromAbove";
import { newElement } from "./elements";
import type { WorkbenchStore } from "./store";

type Line = Composition["keep_out_lines"][number];

function moved(line: Line, end: "start" | "end", toEast: number, toNorth: number): Line {
  const [east, north] = [Number(toEast.toFixed(2)), Number(toNorth.toFixed(2))];
  return end === "start" ? { ...line, from_east_m: east, from_north_m: north } : { ...line, to_east_m: east, to_north_m: north };
}

/** What the plan's handles do to the composition. */
export function usePlanHands(store: WorkbenchStore, select: (id: string | undefined) => void): PlanHands {
  return useMemo(
    () => ({
      stand: (east_m, north_m) => store.act("stand", { kind: "stand", east_m, north_m }),
      step: (right_m, ahead_m) => store.act("step", { kind: "step", right_m, ahead_m }),
      aimToward: (east_m, north_m) => store.act("aim", { kind: "aim_toward", east_m, north_m }),
      turn: (right_deg, up_deg) => store.act("turn", { kind: "turn_aim", right_deg, up_deg }),
      put: (element_id, east_m, north_m) => store.act(`put ${element_id}`, { kind: "put_element", element_id, east_m, north_m }),
      line: (index, end, east, north) =>
        store.compose(`line ${index}`, (c) => ({
          keep_out_lines: c.keep_out_lines.map((one, i) => (i === index ? moved(one, end, east, north) : one)),
        })),
      add: (east_m, north_m) => {
        const made = newElement(store.snapshot().draft.composition);
        store.compose("add element", (c) => ({ elements: [...c.elements, { ...made, east_m, north_m }] }));
        select(made.id);
      },
      zoom: (longer) => store.act("nudge focal_length", { kind: "nudge", setting: "focal_length", steps: longer ? 1 : -1 }),
      select,
    }),
    [store, select],
  );
}
