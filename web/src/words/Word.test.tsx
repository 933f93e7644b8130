// @vitest-environment jsdom
import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { MemoryRouter } from "react-router";
import { describe, expect, it } from "vitest";

import { expectAccessible, show } from "../shell/componentTest";
import { WORDS } from "./glossary";
import { Word } from "./Word";

describe("a word of the product", () => {
  it("says what it means when it is hovered, and when it is pressed", async () => {
    const { container } = show(
      <MemoryRouter>
        <Word of="tension">Tensions</Word>
      </MemoryRouter>,
    );
    const means = WORDS.find(({ word }) => word === "tension")?.means ?? "";
    const word = screen.getByRole("button", { name: "Tensions" });
    expect(word.title).toBe(means);
    await userEvent.click(word);
    expect(await screen.findByText(new RegExp(means.slice(0, 30)))).toBeTruthy();
    await expectAccessible(container);
  });

  it("leaves words that are not ours as they are", () => {
    show(<Word of="aperture">Aperture</Word>);
    expect(screen.queryByRole("button")).toBeNull();
  });
});

it("explains every one of our words somewhere where it stands", () => {
  const sources = Object.values(import.meta.glob<string>("../**/*.tsx", { query: "?raw", import: "default", eager: true })).join(
    "",
  );
  const unexplained = WORDS.filter(({ word }) => !sources.includes(`of="${word}"`) && !sources.includes(`word="${word}"`));
  expect(unexplained.map((one) => one.word)).toEqual([]);
});
