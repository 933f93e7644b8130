// @vitest-environment jsdom
import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it, vi } from "vitest";

import { expectAccessible, show } from "./componentTest";
import { ChoiceField, NumberField, TextField, TickField } from "./fields";

it("keeps a number on Enter and on leaving, once, and not what is no number", async () => {
  const commit = vi.fn();
  const { container } = show(<NumberField label="camera height" unit="m" step={0.1} value={1.5} onCommit={commit} />);
  const box = screen.getByLabelText(/camera height/);
  await userEvent.clear(box);
  await userEvent.type(box, "0.8{Enter}");
  expect(commit).toHaveBeenLastCalledWith(0.8);
  await userEvent.tab();
  expect(commit).toHaveBeenCalledTimes(1);
  await expectAccessible(container);
});

it("says beside the field what is wrong with it", async () => {
  const { container } = show(
    <NumberField label="ISO" unit="" step={1} value={5} error="The body's ISO runs from 64." onCommit={() => undefined} />,
  );
  const box = screen.getByLabelText(/ISO/);
  expect(box.getAttribute("aria-invalid")).toBe("true");
  expect(screen.getByText(/runs from 64/)).toBeDefined();
  await expectAccessible(container);
});

it("keeps text and ticks and choices by their labels", async () => {
  const text = vi.fn();
  const tick = vi.fn();
  const choice = vi.fn();
  const { container } = show(
    <>
      <TextField label="name" value="Tarn" onCommit={text} />
      <TickField label="camera in hand" value={false} onCommit={tick} />
      <ChoiceField
        label="sharp for"
        value="print"
        options={[
          ["print", "a print"],
          ["pixel", "two pixels"],
        ]}
        onCommit={choice}
      />
    </>,
  );
  await userEvent.type(screen.getByLabelText("name"), " at dawn{Enter}");
  await userEvent.click(screen.getByLabelText("camera in hand"));
  await userEvent.selectOptions(screen.getByLabelText("sharp for"), "pixel");
  expect([text.mock.lastCall, tick.mock.lastCall, choice.mock.lastCall]).toEqual([["Tarn at dawn"], [true], ["pixel"]]);
  await expectAccessible(container);
});
