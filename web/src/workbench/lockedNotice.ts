import { notify } from "../shell/notices";

let lockedToldAt = -Infinity;

/** Say that a locked setting stays; once for a held key. */
export function tellLocked(setting: string) {
  if (performance.now() - lockedToldAt < 4000) return;
  lockedToldAt = performance.now();
  const name = setting.replaceAll("_", " ");
  notify({
    title: `${name[0]?.toUpperCase() ?? ""}${name.slice(1)} is locked`,
    detail: "Free it at the chip's corner, or with Shift and its key.",
  });
}
