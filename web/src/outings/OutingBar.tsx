import { Box, Button } from "@chakra-ui/react";
import { useEffect } from "react";
import { Link } from "react-router";

import type { OutingOut } from "../api/types";
import { Sheet } from "../shell/Sheet";
import type { OutingState, OutingStore } from "./outingStore";

const WORDS = {
  saved: "saved",
  unsaved: "not saved yet",
  saving: "saving …",
  conflict: "saved elsewhere meanwhile",
  unreachable: "not saved: no answer, trying again",
  refused: "not saved",
} as const;

/** Whether what is on the screen is safe. */
export function Saved({ state }: { state: OutingState }) {
  const bad = ["conflict", "unreachable", "refused"].includes(state.save);
  const why = state.save === "refused" ? (state.problem?.errors[0]?.message ?? state.problem?.detail) : undefined;
  return (
    <Box role="status" fontSize="13px" color={bad ? "rust" : "muted"} fontWeight={bad ? "700" : "400"} data-testid="save-status">
      {WORDS[state.save]}
      {why ? `: ${why}` : ""}
    </Box>
  );
}

function facts(name: string, one: OutingOut["outing"]) {
  return `“${name}”, ${one.days.map((day) => day.date).join(", ")}, ${one.visits.length} pictures, ${one.packing.ticked.length} lines ticked`;
}

/** Somebody saved this outing meanwhile: both are shown, nothing is overwritten unasked. */
export function OutingConflict({ store, state }: { store: OutingStore; state: OutingState }) {
  const { theirs, draft } = state;
  if (!theirs) return null;
  return (
    <Sheet
      title="This outing was saved elsewhere meanwhile"
      open
      footer={
        <>
          <Button onClick={() => store.resolve("theirs")}>Take the saved one</Button>
          <Button variant="solid" onClick={() => store.resolve("mine")}>
            Save mine over it
          </Button>
        </>
      }
    >
      <Box mb="3">
        <b>Saved:</b>
        <br />
        {facts(theirs.name, theirs.outing)}
      </Box>
      <b>Yours, on this screen:</b>
      <br />
      {facts(draft.name, draft.outing)}
      <Box mt="3" color="muted">
        If you take the saved one, yours stays one Undo away.
      </Box>
    </Sheet>
  );
}

/** Undo and redo by the keys that hands know. */
export function useUndoKeys(store: OutingStore) {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || (event.target as HTMLElement).closest("input, textarea, [role=dialog]")) return;
      const key = event.key.toLowerCase();
      if (key !== "z" && key !== "y") return;
      event.preventDefault();
      if (key === "y" || event.shiftKey) store.redo();
      else store.undo();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, [store]);
}

export function BackTo({ id, children }: { id: string; children: string }) {
  return (
    <Link to={`/outings/${id}`} style={{ textDecoration: "underline" }}>
      {children}
    </Link>
  );
}
