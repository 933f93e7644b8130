import { useEffect } from "react";

import { renew } from "../api/queries";
import { notify } from "../shell/notices";
import { flush, waitingCount } from "./queue";

const AGAIN_MS = 15_000;

/**
 * Send takes that wait, whenever that may go: at the start, when the network or the page comes back, and every now and then,
 * since a server that is up again tells nobody.
 */
export function useResend() {
  useEffect(() => {
    const told = new Set<string>();
    const send = async () => {
      if (waitingCount() === 0 || document.visibilityState === "hidden") return;
      const { sent, refused } = await flush();
      if (sent.length > 0) {
        void renew("takes");
        notify({
          title: sent.length === 1 ? "A take that waited is in the logbook" : `${sent.length} takes that waited are in the logbook`,
        });
      }
      for (const one of refused.filter(({ id }) => !told.has(id))) {
        told.add(one.id);
        notify({ title: "A take was refused", detail: `${one.why} It still waits on this device.`, kind: "trouble" });
      }
    };
    const now = () => void send();
    now();
    const timer = window.setInterval(now, AGAIN_MS);
    window.addEventListener("online", now);
    document.addEventListener("visibilitychange", now);
    return () => {
      window.clearInterval(timer);
      window.removeEventListener("online", now);
      document.removeEventListener("visibilitychange", now);
    };
  }, []);
}
