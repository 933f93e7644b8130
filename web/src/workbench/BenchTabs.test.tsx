// @vitest-environment jsdom
import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { expect, it } from "vitest";

import { expectAccessible, show } from "../shell/componentTest";
import { type BenchName, BENCHES } from "./benchNames";
import { BenchTabs } from "./BenchTabs";

function Tabs() {
  const [bench, setBench] = useState<BenchName>("frame");
  return (
    <>
      <BenchTabs chosen={bench} choose={setBench} />
      <div id="bench" role="tabpanel" aria-labelledby={`tab-${bench}`} />
    </>
  );
}

const chosen = () => screen.getByRole("tab", { selected: true }).textContent;

it("goes round by arrow keys, to the ends by Home and End, and takes the focus along", async () => {
  const { container } = show(<Tabs />);
  const labels = BENCHES.map(([, label], i) => `${label} ${i + 1}`);
  await userEvent.click(screen.getByRole("tab", { name: labels[0] }));
  const seen = [];
  for (const key of ["{ArrowRight}", "{ArrowLeft}", "{ArrowLeft}", "{ArrowRight}", "{End}", "{Home}"]) {
    await userEvent.keyboard(key);
    seen.push(chosen());
    expect(document.activeElement?.textContent).toBe(chosen());
  }
  const last = labels.at(-1);
  expect(seen).toEqual([labels[1], labels[0], last, labels[0], last, labels[0]]);
  // One tab stop for the whole row.
  expect(screen.getAllByRole("tab").filter((tab) => tab.tabIndex === 0)).toHaveLength(1);
  await expectAccessible(container);
});
