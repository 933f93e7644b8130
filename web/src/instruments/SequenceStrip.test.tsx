// @vitest-environment jsdom
import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it, vi } from "vitest";

import type { PlannedFrame } from "../api/types";
import { expectAccessible, show } from "../shell/componentTest";
import { SequenceStrip } from "./SequenceStrip";

const frame = (number: number, part: Partial<PlannedFrame> = {}) =>
  ({
    number,
    slice_number: 1,
    panel_number: 1,
    panel_count: 1,
    offset_stops: 0,
    caption: "single frame",
    duration_s: 2,
    layer: null,
    shutter: { value: 1, text: "1 s", explain: "" },
    ...part,
  }) as PlannedFrame;

it("tells each frame, which is now and which is done, and picks one", async () => {
  const pick = vi.fn();
  const frames = [frame(1), frame(2, { offset_stops: 2, caption: "bracket +2" }), frame(3, { slice_number: 2, duration_s: 60 })];
  const { container } = show(<SequenceStrip frames={frames} current={2} done={new Set([1])} onPick={pick} />);
  const boxes = screen.getAllByRole("button");
  expect(boxes.map((box) => box.getAttribute("aria-label"))).toEqual([
    "Frame 1: single frame, 1 s, done",
    "Frame 2: bracket +2, 1 s",
    "Frame 3: single frame, 1 s",
  ]);
  expect(boxes.map((box) => box.getAttribute("aria-current"))).toEqual([null, "step", null]);
  await userEvent.click(screen.getByLabelText(/^Frame 3/));
  expect(pick).toHaveBeenCalledExactlyOnceWith(3);
  await expectAccessible(container);
});

it("is a picture where nothing can be picked", async () => {
  const { container } = show(<SequenceStrip frames={[frame(1), frame(2)]} />);
  expect(screen.queryAllByRole("button")).toEqual([]);
  expect(screen.getByRole("group", { name: "2 exposures" })).toBeDefined();
  await expectAccessible(container);
});
