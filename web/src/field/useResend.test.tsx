// @vitest-environment jsdom
import "fake-indexeddb/auto";
import { act } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { api } from "../api/client";
import type { TakeNew } from "../api/types";
import { waitingNow, waitToSend } from "../board/outbox";
import { dropFromOutbox, outbox } from "../board/store";
import { show } from "../shell/componentTest";
import { useResend } from "./useResend";

const TAKE = {
  sequence_id: "s",
  started_at: "2026-10-18T07:25:00Z",
  ended_at: "2026-10-18T07:26:00Z",
  frames: [],
} as unknown as TakeNew;

function Page() {
  useResend();
  return null;
}

/** A server that is away for some requests, then there. */
function server(away: number, status = 201) {
  let asked = 0;
  const refusal = { type: "/problems/refused", title: "No", status, detail: "There is no such sequence.", errors: [] };
  return vi.spyOn(api, "PUT").mockImplementation((() => {
    asked += 1;
    if (asked <= away) return Promise.reject(new TypeError("Failed to fetch"));
    return Promise.resolve({
      data: { id: "t" },
      error: status < 300 ? undefined : refusal,
      response: new Response(null, { status }),
    });
  }) as typeof api.PUT);
}

beforeEach(() => vi.useFakeTimers({ shouldAdvanceTime: true }));
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
  window.localStorage.clear();
});
afterEach(async () => {
  for (const one of await outbox()) await dropFromOutbox(one.id);
});

const waiting = async () => (await waitingNow()).length;
const later = (ms: number) => act(async () => vi.advanceTimersByTimeAsync(ms));

it("sends what waits once the server is back, without a word from the network", async () => {
  const sent = server(2);
  await waitToSend({ id: "t", kind: "take", name: "Tarn", body: TAKE });
  show(<Page />);
  await later(100);
  expect(await waiting()).toBe(1);
  await later(15_000);
  expect(await waiting()).toBe(1);
  await later(15_000);
  expect(await waiting()).toBe(0);
  expect(sent).toHaveBeenCalledTimes(3);
  // Nothing waits: nothing is asked.
  await later(60_000);
  expect(sent).toHaveBeenCalledTimes(3);
});

it("waits on where something before the server says that it is not there", async () => {
  const sent = server(0, 502);
  await waitToSend({ id: "t", kind: "take", name: "Tarn", body: TAKE });
  show(<Page />);
  await later(40_000);
  expect(sent.mock.calls.length).toBeGreaterThan(1);
  expect((await waitingNow()).map((one) => one.state)).toEqual(["waiting"]);
});

it("keeps what is refused, and says why once", async () => {
  const sent = server(0, 422);
  await waitToSend({ id: "t", kind: "take", name: "Tarn", body: TAKE });
  show(<Page />);
  await later(40_000);
  expect(sent).toHaveBeenCalledTimes(1);
  expect((await waitingNow()).map((one) => [one.state, one.why])).toEqual([["refused", "There is no such sequence."]]);
});
