import text from "../../../docs/glossary.md?raw";

export interface Word {
  word: string;
  means: string;
}

/** The rows of the tables in a Markdown text: two columns, below their headings. */
export function wordsIn(markdown: string): Word[] {
  return markdown.split("\n").flatMap((line) => {
    const [, word, means] = /^\|\s*(.+?)\s*\|\s*(.+?)\s*\|$/.exec(line) ?? [];
    return word && means && word !== "word" && !/^-+$/.test(word) ? [{ word, means }] : [];
  });
}

/** The words of the product as its documents explain them: told once, shown here. */
export const WORDS = wordsIn(text);
