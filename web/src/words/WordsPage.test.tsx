// @vitest-environment jsdom
import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { MemoryRouter } from "react-router";
import { expect, it } from "vitest";

import { expectAccessible, show } from "../shell/componentTest";
import { WORDS, wordsIn } from "./glossary";
import WordsPage from "./WordsPage";

it("reads the rows of a table and nothing else", () => {
  expect(wordsIn("# Words\n\n| word | means |\n|---|---|\n| take | as it was | \n| way | a technique |\ntext | not a row")).toEqual(
    [{ word: "way", means: "a technique" }],
  );
  expect(WORDS.length).toBeGreaterThan(15);
  expect(new Set(WORDS.map((one) => one.word)).size).toBe(WORDS.length);
});

it("shows every word, and those that are sought", async () => {
  const { container } = show(
    <MemoryRouter>
      <WordsPage />
    </MemoryRouter>,
  );
  expect(screen.getAllByRole("term").map((one) => one.textContent)).toEqual(WORDS.map((one) => one.word));
  await userEvent.type(screen.getByLabelText("find a word"), "Shutter{Enter}");
  const found = screen.getAllByRole("term").map((one) => one.textContent);
  expect(found).toContain("stop ledger");
  expect(found.length).toBeLessThan(WORDS.length);
  await expectAccessible(container);
});
