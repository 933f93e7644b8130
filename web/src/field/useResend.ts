import { useEffect } from "react";

import { renew } from "../api/queries";
import { notify } from "../shell/notices";
import { sendWaiting } from "../board/outbox";
import { sendDrafts } from "../outings/outingStore";

const AGAIN_MS = 15_000;

/**
 * Send takes that wait, whenever that may go: at the start, when the network or the page comes back, and every now and then,
 * since a server that is up again tells nobody.
 */
export function useResend() {
  useEffect(() => {
    const told = new Set<string>();
    const send = async () => {
      if (document.visibilityState === "hidden") return;
      const { sent, refused } = await sendWaiting();
      await sendDrafts();
      if (sent.length > 0) {
        void renew("takes", "spots");
        notify({ title: sent.length === 1 ? "What waited is handed in" : `${sent.length} things that waited are handed in` });
      }
      for (const one of refused.filter(({ id }) => !told.has(id))) {
        told.add(one.id);
        notify({ title: `${one.name} was refused`, detail: `${one.why} It still waits on this device.`, kind: "trouble" });
      }
    };
    const now = () => void send().catch(() => undefined);
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
