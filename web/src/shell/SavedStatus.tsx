import { Box } from "@chakra-ui/react";

import type { Problem } from "../api/types";

export type SaveState = "saved" | "unsaved" | "saving" | "conflict" | "unreachable" | "refused";

const WORDS: Record<SaveState, string> = {
  saved: "saved",
  unsaved: "not saved yet",
  saving: "saving …",
  conflict: "saved elsewhere meanwhile",
  unreachable: "kept on this device: no answer, trying again",
  refused: "not saved",
};
const FULL = "not saved: the server’s disk is full";
const NO_ROOM = 507;
const BAD: readonly SaveState[] = ["conflict", "unreachable", "refused"];
const LONGEST = 60;

/** Whether what is on screen is safe. */
export function SavedStatus({ save, problem, at }: { save: SaveState; problem: Problem | null | undefined; at?: string }) {
  const bad = BAD.includes(save);
  const time = at ? new Date(at).toLocaleTimeString("en-GB", { hour: "2-digit", minute: "2-digit" }) : "";
  const why = save === "refused" ? (problem?.errors[0]?.message ?? problem?.detail ?? "") : "";
  return (
    <Box
      role="status"
      fontSize="13px"
      color={bad ? "rust" : "muted"}
      fontWeight={bad ? "700" : "400"}
      whiteSpace="nowrap"
      title={problem?.detail}
      data-testid="save-status"
    >
      {save === "unreachable" && problem?.status === NO_ROOM ? FULL : WORDS[save]}
      {save === "saved" && time ? ` ${time}` : ""}
      {why ? `: ${why.slice(0, LONGEST)}` : ""}
    </Box>
  );
}
