import { useCallback, useState, useSyncExternalStore } from "react";

export interface Panes {
  /** Share of the width that the pictures take. */
  left: number;
  tensionsOpen: boolean;
  ribbonOpen: boolean;
}

const KEY = "lucid-ridge/panes";
export const USUAL: Panes = { left: 0.494, tensionsOpen: false, ribbonOpen: false };
export const NARROWEST = 0.3;
export const WIDEST = 0.7;

function kept(): Panes {
  try {
    const read = JSON.parse(window.localStorage.getItem(KEY) ?? "{}") as Partial<Panes>;
    const left = Number(read.left ?? USUAL.left);
    return {
      left: left >= NARROWEST && left <= WIDEST ? left : USUAL.left,
      tensionsOpen: read.tensionsOpen === true,
      ribbonOpen: read.ribbonOpen === true,
    };
  } catch {
    return USUAL;
  }
}

/** How the workbench is divided, and what of it is folded; remembered in this browser. */
export function usePanes() {
  const [panes, setPanes] = useState(kept);
  const put = useCallback((part: Partial<Panes>) => {
    setPanes((before) => {
      const next = { ...before, ...part };
      window.localStorage.setItem(KEY, JSON.stringify(next));
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
