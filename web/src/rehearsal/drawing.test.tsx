// @vitest-environment jsdom
import { act, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { api } from "../api/client";
import { show } from "../shell/componentTest";
import { type Subject, useDrawnInTurn } from "./drawing";

const SUBJECT = { scene: {}, changes: [], mishaps: [] } as unknown as Subject;
const WANTED = [1, 2, 3].map((number) => ({ number, longest_px: 320 }));

function Page({ subject, looked = 0 }: { subject: Subject | null; looked?: number }) {
  const { frames, error } = useDrawnInTurn(subject, WANTED, looked);
  return (
    <output>
      {[...frames.keys()].map((at) => at + 1).join(" ")}
      {error ? " trouble" : ""}
    </output>
  );
}

/** A server whose answers come when they are let go, some of them refusals. */
function server(...statuses: number[]) {
  const waiting: (() => void)[] = [];
  const asked: { number: number; signal: AbortSignal }[] = [];
  vi.spyOn(api, "POST").mockImplementation(((_: string, { body, signal }: { body: { number: number }; signal: AbortSignal }) => {
    asked.push({ number: body.number, signal });
    const status = statuses.shift() ?? 200;
    const problem = { type: "about:blank", title: "No", status, detail: "No.", errors: [] };
    return new Promise((done) =>
      waiting.push(() =>
        done(
          status === 200 ? { data: {}, response: new Response() } : { error: problem, response: new Response(null, { status }) },
        ),
      ),
    );
  }) as unknown as typeof api.POST);
  const letGo = () => act(async () => (waiting.shift()?.(), vi.advanceTimersByTimeAsync(60)));
  return { asked, letGo };
}

beforeEach(() => vi.useFakeTimers({ shouldAdvanceTime: true }));
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});
const shown = () => screen.getByRole("status").textContent;

it("draws one frame after the other and shows each as it comes", async () => {
  const { asked, letGo } = server();
  show(<Page subject={SUBJECT} />);
  await letGo();
  expect(shown()).toBe("1");
  expect(asked.map((one) => one.number)).toEqual([1, 2]);
  await letGo();
  await letGo();
  expect(shown()).toBe("1 2 3");
});

it("gives up what is on its way when the scene changes, and asks for nothing without one", async () => {
  const { asked, letGo } = server();
  const { rerender } = show(<Page subject={SUBJECT} />);
  await letGo();
  rerender(<Page subject={{ ...SUBJECT }} />);
  await letGo();
  expect(asked.map((one) => one.number)).toEqual([1, 2, 1]);
  expect(asked[1]?.signal.aborted).toBe(true);
  rerender(<Page subject={null} />);
  await letGo();
  expect(shown()).toBe("");
  expect(asked).toHaveLength(3);
});

it("asks again where the server was busy, and stops at a refusal with what came so far", async () => {
  const { asked, letGo } = server(503, 200, 422);
  show(<Page subject={SUBJECT} />);
  await letGo();
  await act(async () => vi.advanceTimersByTimeAsync(1000));
  expect(asked.map((one) => one.number)).toEqual([1, 1]);
  await letGo();
  await letGo();
  expect(shown()).toBe("1 trouble");
  expect(asked).toHaveLength(3);
});

it("draws what is looked at first, and the rest after it", async () => {
  const { asked, letGo } = server();
  show(<Page subject={SUBJECT} looked={1} />);
  await letGo();
  await letGo();
  await letGo();
  expect(asked.map((one) => one.number)).toEqual([2, 3, 1]);
});
