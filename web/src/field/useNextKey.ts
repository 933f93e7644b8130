import { useEffect } from "react";

/** Keys that hands find in the dark: the space bar, a remote's page key, and a volume key where the browser gives it away. */
const NEXT = new Set([" ", "PageDown", "AudioVolumeUp", "AudioVolumeDown", "MediaTrackNext", "MediaPlayPause"]);

/** Have a key do what comes next. Undefined where nothing may: a running exposure is never ended by a key by itself. */
export function useNextKey(next: (() => void) | undefined) {
  useEffect(() => {
    if (!next) return undefined;
    const press = (event: KeyboardEvent) => {
      if (!NEXT.has(event.key) || event.repeat) return;
      if ((event.target as HTMLElement).closest("input, textarea, select, [role=dialog]")) return;
      // A button that has the focus is pressed by the space bar anyhow: not twice.
      if (event.key === " " && (event.target as HTMLElement).closest("button, a")) return;
      event.preventDefault();
      next();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [next]);
}
