import type { Draft } from "./scene";
import { forgetKept, keep, mine, readKept } from "../shell/kept";

const key = (id: string) => mine(`lucid-ridge/unsaved/${id}`);

interface Kept {
  version: number;
  draft: Draft;
}

/** Keep a draft in this browser until it is saved; *version* is of what it was made from. */
export function keepDraft(id: string, kept: Kept) {
  keep(key(id), JSON.stringify(kept));
}

export function forgetDraft(id: string) {
  forgetKept(key(id));
}

/** A draft that a closed or broken page could not save. One that this version cannot read is put aside, not thrown away. */
export function keptDraft(id: string): Kept | null {
  const kept = readKept(key(id));
  if (!kept) return null;
  try {
    const read = JSON.parse(kept) as Kept;
    // A draft of a version that named its settings otherwise could not be saved by this one.
    if (read.draft.composition.settings.compensation_stops !== undefined) return read;
  } catch {
    // Put aside below.
  }
  keep(`${key(id)}/unreadable`, kept);
  forgetDraft(id);
  return null;
}
