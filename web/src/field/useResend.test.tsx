// @vitest-environment jsdom
import { act } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { api } from "../api/client";
import type { TakeNew } from "../api/types";
import { show } from "../shell/componentTest";
import { enqueue, waitingCount } from "./queue";
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

const later = (ms: number) => act(async () => vi.advanceTimersByTimeAsync(ms));

it("sends what waits once the server is back, without a word from the network", async () => {
  const sent = server(2);
  enqueue("t", TAKE);
  show(<Page />);
  await later(100);
  expect(waitingCount()).toBe(1);
  await later(15_000);
  expect(waitingCount()).toBe(1);
  await later(15_000);
  expect(waitingCount()).toBe(0);
  expect(sent).toHaveBeenCalledTimes(3);
  // Nothing waits: nothing is asked.
  await later(60_000);
  expect(sent).toHaveBeenCalledTimes(3);
});

it("keeps a take that is refused", async () => {
  const sent = server(0, 422);
  enqueue("t", TAKE);
  show(<Page />);
  await later(40_000);
  expect(sent.mock.calls.length).toBeGreaterThan(1);
  expect(waitingCount()).toBe(1);
});
