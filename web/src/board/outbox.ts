import { api, ApiError, ask } from "../api/client";
import type { TakeNew } from "../api/types";
import { forgetKept, mine, readKept } from "../shell/kept";
import { dropFromOutbox, outbox, putInOutbox, type Waiting, whose } from "./store";

const KEPT_SENT = 30;
/** Answers of what stands before the server, or of one that is asked too often: nothing is wrong with what was sent. */
const LATER = new Set([429, 502, 504]);
const BEFORE = "lucid-ridge/takes-waiting";

type New = Pick<Waiting, "id" | "name" | "body"> & { kind: "take" | "spot" };

/** Put something recorded in the outbox. Its id makes sending it twice harmless. On the disk when this resolves. */
export async function waitToSend(one: New): Promise<void> {
  const path = one.kind === "take" ? "/api/takes/{id}" : "/api/spots/{id}";
  await putInOutbox({ ...one, whose: whose(), at: Date.now(), path, state: "waiting", why: "", sentAt: null });
}

/** Put a picture in the outbox, with the composition that it is of. */
export async function waitWithPicture(one: { id: string; name: string; compositionId: string; file: File }): Promise<void> {
  const path = `/api/compositions/${one.compositionId}/photographs/${one.id}?name=${encodeURIComponent(one.file.name || "picture.jpg")}`;
  const body = new Blob([await one.file.arrayBuffer()], { type: one.file.type || "image/jpeg" });
  await putInOutbox({
    id: one.id,
    name: one.name,
    body,
    kind: "picture",
    whose: whose(),
    at: Date.now(),
    path,
    state: "waiting",
    why: "",
    sentAt: null,
  });
}

async function sendPicture(path: string, body: Blob): Promise<void> {
  await ask(
    fetch(path, { method: "PUT", body, headers: { "Content-Type": body.type } }).then(async (response) => ({
      response,
      ...(response.ok ? { data: null } : { error: (await response.json().catch(() => null)) as unknown }),
    })),
  );
}

async function send(one: Waiting): Promise<void> {
  if (one.kind === "picture") {
    await sendPicture(one.path, one.body as Blob);
    return;
  }
  await ask(api.PUT(one.path as "/api/takes/{id}", { params: { path: { id: one.id } }, body: one.body as TakeNew }));
}

export interface Outcome {
  sent: Waiting[];
  refused: Waiting[];
  waiting: number;
}

/** Send what waits, the oldest first. What the server refuses stays, with its reason; without an answer all of it waits. */
export async function sendWaiting(): Promise<Outcome> {
  const go = async (): Promise<Outcome> => {
    await takeOver();
    const sent: Waiting[] = [];
    const refused: Waiting[] = [];
    const all = await outbox();
    for (const one of all.filter(({ state }) => state === "waiting")) {
      try {
        await send(one);
        const now = { ...one, body: null, state: "sent", sentAt: Date.now(), why: "" } as const;
        await putInOutbox(now);
        sent.push(now);
      } catch (error) {
        if (!(error instanceof ApiError) || error.unreachable || LATER.has(error.problem.status)) break;
        const now = { ...one, state: "refused", why: error.message } as const;
        await putInOutbox(now);
        refused.push(now);
      }
    }
    const old = (await outbox()).filter(({ state }) => state === "sent").sort((a, b) => (b.sentAt ?? 0) - (a.sentAt ?? 0));
    await Promise.all(old.slice(KEPT_SENT).map(({ id }) => dropFromOutbox(id)));
    return { sent, refused, waiting: (await waitingNow()).length };
  };
  // Two pages of one browser do not send the same at once.
  return "locks" in navigator ? await navigator.locks.request("lucid-ridge/outbox", go) : await go();
}

/** What the server does not have: what waits and what it refused. */
export const waitingNow = async () => (await outbox()).filter(({ state }) => state !== "sent");

/** Takes that an older version of the pages kept elsewhere come into the outbox. */
async function takeOver() {
  const key = mine(BEFORE);
  const before = JSON.parse(readKept(key) ?? "[]") as { id: string; take: TakeNew }[];
  if (before.length === 0) return;
  for (const { id, take } of before) await waitToSend({ id, kind: "take", name: "A take", body: take });
  forgetKept(key);
}

/** Have something that was refused sent again. */
export const sendAgain = (one: Waiting) => putInOutbox({ ...one, state: "waiting", why: "" });
