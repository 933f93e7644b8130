import { Box } from "@chakra-ui/react";

import { useBench } from "./context";

const WORDS = {
  saved: "saved",
  unsaved: "not saved yet",
  saving: "saving …",
  conflict: "saved elsewhere meanwhile",
  unreachable: "not saved: no answer, trying again",
  refused: "not saved",
} as const;

const FULL = "not saved: the server’s disk is full";
const NO_ROOM = 507;

/** Whether what is on screen is safe. */
export function SaveStatus() {
  const { state } = useBench();
  const time = new Date(state.savedAt).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" });
  const bad = ["conflict", "unreachable", "refused"].includes(state.save);
  return (
    <Box
      role="status"
      fontSize="13px"
      color={bad ? "rust" : "muted"}
      fontWeight={bad ? "700" : "400"}
      whiteSpace="nowrap"
      title={state.saveProblem?.detail}
      data-testid="save-status"
    >
      {state.save === "unreachable" && state.saveProblem?.status === NO_ROOM ? FULL : WORDS[state.save]}
      {state.save === "saved" ? ` ${time}` : ""}
      {state.save === "refused" && state.saveProblem ? `: ${state.saveProblem.detail.slice(0, 60)}` : ""}
    </Box>
  );
}
