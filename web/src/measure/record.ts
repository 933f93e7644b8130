import { renew } from "../api/queries";
import type { Measured, SpotNew } from "../api/types";
import { sendWaiting, waitToSend } from "../board/outbox";
import { freshId } from "../shell/freshId";
import { notify } from "../shell/notices";

/** Keep something measured on this device, and hand it in as soon as that goes. */
export async function recordMeasured(compositionId: string, name: string, measured: Measured): Promise<void> {
  const body: SpotNew = { composition_id: compositionId, place_id: null, measured_at: new Date().toISOString(), measured };
  const id = freshId();
  try {
    await waitToSend({ id, kind: "spot", name, body });
  } catch {
    notify({
      title: "Not kept: this browser has no room",
      detail: "Write it down, and make room on this device.",
      kind: "trouble",
    });
    return;
  }
  const { sent, refused } = await sendWaiting();
  const no = refused.find((one) => one.id === id);
  if (no) notify({ title: `${name} was refused`, detail: `${no.why} It stands under On board.`, kind: "trouble" });
  else if (sent.some((one) => one.id === id)) {
    notify({ title: `${name}: kept` });
    void renew("spots");
  } else notify({ title: `${name}: kept on this device`, detail: "It is handed in when there is a connection." });
}
