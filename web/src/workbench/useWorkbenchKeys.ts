import { type Dispatch, type SetStateAction, useCallback, useEffect, useRef } from "react";

import type { Change } from "../api/types";
import { type BenchName, BENCHES } from "./benchNames";
import type { Large } from "./Pictures";
import { NUDGE_KEYS } from "./SettingsRail";
import type { WorkbenchStore } from "./store";
import { useKeys } from "./useKeys";

/** Keys that move the camera: what, and by how much with and without Shift. */
const MOVES: Record<string, (size: 1 | 10) => Change> = {
  j: (size) => ({ kind: "step", right_m: -0.1 * size, ahead_m: 0 }),
  l: (size) => ({ kind: "step", right_m: 0.1 * size, ahead_m: 0 }),
  i: (size) => ({ kind: "step", right_m: 0, ahead_m: 0.1 * size }),
  k: (size) => ({ kind: "step", right_m: 0, ahead_m: -0.1 * size }),
  u: (size) => ({ kind: "turn_aim", right_deg: -size, up_deg: 0 }),
  o: (size) => ({ kind: "turn_aim", right_deg: size, up_deg: 0 }),
  y: (size) => ({ kind: "turn_aim", right_deg: 0, up_deg: size }),
  h: (size) => ({ kind: "turn_aim", right_deg: 0, up_deg: -size }),
};
/** What the large place shows in turn; how it will look has a key of its own. */
const ROUND: readonly Large[] = ["view", "plan", "section"];
const HEIGHT_STEP_M = 0.05;
const GUIDE_ORDER = ["thirds", "golden", "centre", "diagonals", "none"] as const;
/** What keys do beside changing the composition. */
interface Acts {
  step: (minutes: number) => void;
  toEvent: (direction: 1 | -1) => void;
  setBench: (bench: BenchName) => void;
  setLarge: Dispatch<SetStateAction<Large>>;
  /** Put something into the view. */
  point: () => void;
  openFilters: () => void;
  openKeys: () => void;
  /** See the frames. */
  rehearse: () => void;
}

/** The keys of the workbench, as the sheet of keys tells them. */
export function useWorkbenchKeys(store: WorkbenchStore, acts: Acts) {
  const latest = useRef(acts);
  useEffect(() => {
    latest.current = acts;
  });
  useKeys(
    useCallback(
      (key) => {
        const at = latest.current;
        for (const [setting, [less, more]] of Object.entries(NUDGE_KEYS) as [
          keyof typeof NUDGE_KEYS,
          readonly [string, string],
        ][]) {
          if (key === less || key === more) {
            store.act(`nudge ${setting}`, { kind: "nudge", setting, steps: key === more ? 1 : -1 });
            return true;
          }
          if (key === `shift+${less}` || key === `shift+${more}`) {
            const locked = store.snapshot().draft.composition.locks.includes(setting);
            store.act("lock", { kind: "lock", setting, on: !locked });
            return true;
          }
        }
        const index = ["1", "2", "3", "4", "5", "6"].indexOf(key);
        const chosen = BENCHES[index];
        if (chosen) {
          at.setBench(chosen[0]);
          return true;
        }
        const move = MOVES[key.replace("shift+", "")];
        if (move) {
          store.act(`move ${key}`, move(key.startsWith("shift+") ? 10 : 1));
          return true;
        }
        switch (key) {
          case "t":
          case "b": {
            const now = store.snapshot().draft.composition.camera_height_m;
            const camera_height_m = Math.max(0, Number((now + (key === "t" ? HEIGHT_STEP_M : -HEIGHT_STEP_M)).toFixed(3)));
            store.act("height", { kind: "height", camera_height_m });
            return true;
          }
          case "n": {
            const now = store.snapshot().draft.composition.guide;
            store.compose("guide", () => ({ guide: GUIDE_ORDER[(GUIDE_ORDER.indexOf(now) + 1) % GUIDE_ORDER.length] ?? "thirds" }));
            return true;
          }
          case "p":
            at.setLarge((now) => ROUND[(ROUND.indexOf(now) + 1) % ROUND.length] ?? "view");
            return true;
          case "d":
            at.setLarge((now) => (now === "look" ? "view" : "look"));
            return true;
          case "shift+d":
            at.rehearse();
            return true;
          case "g":
            at.point();
            return true;
          case "f":
            at.openFilters();
            return true;
          case ",":
            at.step(-5);
            return true;
          case ".":
            at.step(5);
            return true;
          case "<":
            at.step(-60);
            return true;
          case ">":
            at.step(60);
            return true;
          case "[":
            at.toEvent(-1);
            return true;
          case "]":
            at.toEvent(1);
            return true;
          case "m": {
            const mend = store.snapshot().evaluation?.tensions.find((t) => t.mend)?.mend;
            if (mend) store.act("mend", ...mend.changes);
            return true;
          }
          case "mod+z":
            store.undo();
            return true;
          case "mod+y":
          case "mod+shift+z":
            store.redo();
            return true;
          case "mod+s":
            void store.save();
            return true;
          case "?":
            at.openKeys();
            return true;
          default:
            return false;
        }
      },
      [store],
    ),
  );
}
