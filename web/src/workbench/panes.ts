import { useCallback, useState, useSyncExternalStore } from "react";
import { keep, readKept } from "../shell/kept";

/** A share of the window that a line between two panes moves. */
export type Part = "left" | "below" | "tensions";

export interface Panes extends Record<Part, number> {
  tensionsOpen: boolean;
  ribbonOpen: boolean;
}

/**
 * *left*: share of the width that the pictures take. *below*: share of their height that the two small ones take.
 * *tensions*: the most of the bench's height that opened tensions take.
 */
export const RANGES: Record<Part, { usual: number; least: number; most: number; side: "left" | "bottom" }> = {
  left: { usual: 0.494, least: 0.3, most: 0.7, side: "left" },
  below: { usual: 0.26, least: 0.12, most: 0.6, side: "bottom" },
  tensions: { usual: 0.45, least: 0.15, most: 0.8, side: "bottom" },
};

const KEY = "lucid-ridge/panes";

/** A share brought into what a part can take. */
export const held = (part: Part, share: number) => Math.min(Math.max(share, RANGES[part].least), RANGES[part].most);

function kept(): Panes {
  let read: Partial<Panes> = {};
  try {
    read = JSON.parse(readKept(KEY) ?? "{}") as Partial<Panes>;
  } catch {
    // What cannot be read is as if nothing had been kept.
  }
  const share = (part: Part) => {
    const one = Number(read[part] ?? RANGES[part].usual);
    return held(part, one) === one ? one : RANGES[part].usual;
  };
  return {
    left: share("left"),
    below: share("below"),
    tensions: share("tensions"),
    tensionsOpen: read.tensionsOpen === true,
    ribbonOpen: read.ribbonOpen === true,
  };
}

/** How the workbench is divided, and what of it is folded; remembered in this browser. */
export function usePanes() {
  const [panes, setPanes] = useState(kept);
  const put = useCallback((part: Partial<Panes>) => {
    setPanes((before) => {
      const next = { ...before, ...part };
      keep(KEY, JSON.stringify(next));
      return next;
    });
  }, []);
  return [panes, put] as const;
}

const POCKET = "(max-width: 959px)";

/** Whether the window is too narrow for pictures and bench side by side. */
export function usePocket() {
  return useSyncExternalStore(
    (listener) => {
      const query = window.matchMedia(POCKET);
      query.addEventListener("change", listener);
      return () => query.removeEventListener("change", listener);
    },
    () => window.matchMedia(POCKET).matches,
  );
}
