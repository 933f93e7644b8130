import { Conflict } from "../shell/Conflict";
import { useBench } from "./context";

function facts(
  c: {
    settings: { focal_length_mm: number; filters: readonly unknown[] };
    elements: readonly unknown[];
    technique: { slices: string; bracket: string };
  },
  name: string,
) {
  const filters = `${c.settings.filters.length} filters on`;
  const technique = `slices: ${c.technique.slices}, bracket: ${c.technique.bracket}`;
  return `“${name}”, ${c.settings.focal_length_mm} mm, ${c.elements.length} elements, ${filters}, ${technique}`;
}

/** Somebody saved this composition meanwhile. */
export function ConflictSheet() {
  const { store, state } = useBench();
  const theirs = state.theirs;
  if (!theirs) return null;
  const when = new Date(theirs.updated_at).toLocaleString("en-GB");
  return (
    <Conflict
      what="composition"
      saved={`Saved, version ${theirs.version}, ${when}`}
      savedFacts={facts(theirs.composition, theirs.name)}
      mineFacts={facts(state.draft.composition, state.draft.name)}
      onTheirs={() => store.resolveConflict("theirs")}
      onMine={() => store.resolveConflict("mine")}
    />
  );
}
