import text from "../../../docs/guide.md?raw";

export interface Step {
  title: string;
  says: string;
}

/** The steps of the guide: each numbered heading, with the paragraph below it. */
export function stepsIn(markdown: string): Step[] {
  return markdown
    .split(/^## /m)
    .slice(1)
    .map((section) => {
      const [heading = "", ...rest] = section.split("\n\n");
      return { title: heading.replace(/^\d+\.\s*/, "").trim(), says: (rest[0] ?? "").replace(/\s+/g, " ").trim() };
    });
}

/** What the tour says is what the guide says. */
export const STEPS = stepsIn(text);

/** What each step points at, where it is on the page. */
export const TARGETS: readonly string[] = [
  "[data-testid='ways-in'], a[href='/begin'], [role='radiogroup']",
  "[aria-label='Where']",
  "[data-testid='view']",
  "#tab-light",
  "#tab-depth",
  "#tab-exposure",
  "#tab-ways",
  "#tab-sequence",
  "main button",
  "nav a[href='/logbook']",
];
