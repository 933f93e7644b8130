import { useEffect } from "react";

/** Whether keys belong to what has the focus: something typed into, or an open dialog or list. */
function typing(target: EventTarget | null) {
  if (!(target instanceof HTMLElement)) return false;
  if (target.closest("[role=dialog]")) return true;
  return target.isContentEditable || ["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName);
}

/** Call the handler for keys that are not for a field or a dialog. It says whether it took the key. */
export function useKeys(handle: (key: string, event: KeyboardEvent) => boolean) {
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.altKey) return;
      if (typing(event.target)) return;
      const mod = event.ctrlKey || event.metaKey ? "mod+" : "";
      const shift = event.shiftKey && event.key.length === 1 && /[a-z]/i.test(event.key) ? "shift+" : "";
      const key = `${mod}${shift}${event.key.toLowerCase()}`;
      if (handle(key, event)) event.preventDefault();
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, [handle]);
}
