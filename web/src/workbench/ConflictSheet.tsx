import { Box, Button } from "@chakra-ui/react";

import { Sheet } from "../shell/Sheet";
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

/** Somebody saved this composition meanwhile: both are shown, nothing is overwritten unasked. */
export function ConflictSheet() {
  const { store, state } = useBench();
  const theirs = state.theirs;
  if (!theirs) return null;
  const when = new Date(theirs.updated_at).toLocaleString("en-GB");
  return (
    <Sheet
      title="This composition was saved elsewhere meanwhile"
      open
      onClose={() => undefined}
      footer={
        <>
          <Button onClick={() => store.resolveConflict("theirs")}>Take the saved one</Button>
          <Button variant="solid" onClick={() => store.resolveConflict("mine")}>
            Save mine over it
          </Button>
        </>
      }
    >
      <Box mb="3">
        <b>
          Saved, version {theirs.version}, {when}:
        </b>
        <br />
        {facts(theirs.composition, theirs.name)}
      </Box>
      <Box>
        <b>Yours, on this screen:</b>
        <br />
        {facts(state.draft.composition, state.draft.name)}
      </Box>
      <Box mt="3" color="muted">
        If you take the saved one, yours stays one Undo away.
      </Box>
    </Sheet>
  );
}
