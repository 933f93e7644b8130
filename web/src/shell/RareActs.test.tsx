// @vitest-environment jsdom
import { screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, it, vi } from "vitest";

import { expectAccessible, show } from "./componentTest";
import { RareActs } from "./RareActs";

it("makes its menu when it is asked for, and goes through it by keys", async () => {
  const [copy, remove] = [vi.fn(), vi.fn()];
  const { container } = show(
    <RareActs
      of="Evening"
      acts={[
        { key: "copy", label: "Duplicate", run: copy },
        { key: "gone", label: "Delete", run: remove },
      ]}
    />,
  );
  await expectAccessible(container);
  expect(screen.queryByRole("menu")).toBeNull();
  screen.getByRole("button", { name: "More for Evening" }).focus();
  await userEvent.keyboard("{Enter}");
  await waitFor(() => expect(screen.getByRole("menu").contains(document.activeElement)).toBe(true));
  const chosen = () => screen.getByRole("menuitem", { name: "Delete" }).hasAttribute("data-highlighted");
  // One key at a time: the menu moves on once it has drawn itself.
  for (let pressed = 0; pressed < 4 && !chosen(); pressed += 1) {
    await userEvent.keyboard("{ArrowDown}");
    await new Promise((resolve) => window.setTimeout(resolve, 150));
  }
  expect(chosen()).toBe(true);
  await userEvent.keyboard("{Enter}");
  await waitFor(() => expect(remove).toHaveBeenCalledOnce());
  expect(copy).not.toHaveBeenCalled();
  await waitFor(() => expect(document.activeElement).toBe(screen.getByRole("button", { name: "More for Evening" })));
});
