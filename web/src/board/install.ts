import { useSyncExternalStore } from "react";
import { Workbox } from "workbox-window";

/** Whether the pages themselves are kept on this device, and whether a newer version of them waits. */
export interface Installed {
  pages: "kept" | "keeping" | "no";
  newer: boolean;
}

let state: Installed = { pages: "no", newer: false };
let workbox: Workbox | undefined;
const listeners = new Set<() => void>();

function put(part: Partial<Installed>) {
  state = { ...state, ...part };
  for (const listener of listeners) listener();
}

/** Keep the pages on this device, where the browser trusts the address. */
export function install() {
  if (!import.meta.env.PROD || !("serviceWorker" in navigator)) return;
  workbox = new Workbox("/sw.js");
  put({ pages: navigator.serviceWorker.controller ? "kept" : "keeping" });
  workbox.addEventListener("waiting", () => put({ newer: true }));
  // Whichever page began to keep them: a keeper that is at work tells nothing to pages that were loaded meanwhile.
  void navigator.serviceWorker.ready.then(() => put({ pages: "kept" }));
  document.addEventListener("visibilitychange", lookForNewer);
  workbox
    .register()
    // Without a server the pages that are kept go on; on an address that is not trusted none are kept.
    .catch(() => put({ pages: navigator.serviceWorker.controller ? "kept" : "no" }));
}

/** Ask whether there is a newer version, whenever the pages come into sight: an installed application is rarely loaded anew. */
function lookForNewer() {
  if (document.visibilityState === "visible") void workbox?.update().catch(() => undefined);
}

/** Take the newer version on: the page is loaded anew. */
export function takeNewer() {
  workbox?.addEventListener("controlling", () => window.location.reload());
  workbox?.messageSkipWaiting();
}

export function useInstalled(): Installed {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => state,
  );
}
