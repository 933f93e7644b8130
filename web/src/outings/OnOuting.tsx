import { Box, Button, Flex } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useEffect } from "react";
import { useParams } from "react-router";

import { problemOf } from "../api/client";
import { outingQuery } from "../api/queries";
import type { OutingOut } from "../api/types";
import type { OnBoardPlan } from "../board/onBoardPlan";
import { agoWords } from "../board/words";
import { Conflict } from "../shell/Conflict";
import { SavedStatus } from "../shell/SavedStatus";
import { Loading, Trouble } from "../shell/states";
import { useNow } from "../shell/useNow";
import { TopBar } from "../shell/TopBar";
import { type OutingState, type OutingStore, useOutingStore } from "./outingStore";

export interface Held {
  id: string;
  store: OutingStore;
  state: OutingState;
}

/** A screen about the outing of the address: fetched, kept while it is changed, with undo by keys and conflicts told. */
export function OnOuting({ what, children }: { what: string; children: (held: Held) => ReactNode }) {
  const { id = "" } = useParams();
  const saved = useQuery(outingQuery(id));
  if (saved.data)
    return (
      <Whole key={id} saved={saved.data}>
        {children}
      </Whole>
    );
  return (
    <>
      <TopBar />
      {saved.isError ? <Trouble error={saved.error} again={() => void saved.refetch()} /> : <Loading what={what} />}
    </>
  );
}

function Whole({ saved, children }: { saved: OutingOut; children: (held: Held) => ReactNode }) {
  const [store, state] = useOutingStore(saved);
  useUndoKeys(store);
  const { theirs, draft } = state;
  return (
    <>
      {children({ id: saved.id, store, state })}
      {theirs ? (
        <Conflict
          what="outing"
          saved="Saved"
          savedFacts={facts(theirs.name, theirs.outing)}
          mineFacts={facts(draft.name, draft.outing)}
          onTheirs={() => store.resolve("theirs")}
          onMine={() => store.resolve("mine")}
        />
      ) : null}
    </>
  );
}

function facts(name: string, one: OutingOut["outing"]) {
  return `“${name}”, ${one.days.map((day) => day.date).join(", ")}, ${one.visits.length} pictures, ${one.packing.ticked.length} lines ticked`;
}

/** Undo and redo by the keys that hands know. */
function useUndoKeys(store: OutingStore) {
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

const FIELDS: Record<string, string> = {
  set_up_min: "Set-up: ",
  frames_min: "Frames: ",
  margin_min: "To spare: ",
  ready_min: "Ready before its light: ",
  tolerance_min: "Give or take: ",
  minutes: "A drive: ",
  overdue_min: "When to call: ",
  batteries: "Batteries: ",
  cards_gb: "Cards: ",
  coldest_c: "Coldest: ",
  own: "You: ",
  load: "Load: ",
  darkness: "By lamp: ",
  ground: "Ground: ",
};

/** Why there is no plan of what is on the screen: what each field wants, with the way back beside it; else the whole trouble. */
export function NotPlanned({
  query,
  store,
}: {
  query: { isError: boolean; error: unknown; refetch: () => unknown };
  store: OutingStore;
}) {
  if (!query.isError) return null;
  const problem = problemOf(query.error);
  if (problem.errors.length === 0) return <Trouble error={query.error} again={() => void query.refetch()} />;
  return (
    <Flex role="alert" borderLeftWidth="4px" borderColor="rust" bg="panel" px="3" py="2" my="2" gap="3" align="center" wrap="wrap">
      <Box flex="1" minW="14rem">
        <b>Not planned, not saved.</b>{" "}
        {problem.errors.map((one) => `${FIELDS[one.pointer.split("/").at(-1) ?? ""] ?? ""}${one.message}`).join(" ")}
      </Box>
      <Button onClick={store.undo}>Undo</Button>
    </Flex>
  );
}

/** That the plan is the one taken along, since the server does not answer. */
export function FromBoard({ query }: { query: { fromBoard: OnBoardPlan | undefined } }) {
  const { fromBoard } = query;
  const now = useNow(30_000);
  if (!fromBoard) return null;
  return (
    <Box
      role="status"
      borderLeftWidth="4px"
      borderColor="slate"
      bg="panel"
      px="3"
      py="2"
      my="2"
      fontSize="14px"
      data-testid="from-board"
    >
      <b>Without a connection.</b> The plan is the one on board, {agoWords(fromBoard.takenAt, now)}.
      {fromBoard.exact
        ? ""
        : " The outing was changed since, or goes in another order: it holds for what is still in it, and is put right when there is a connection."}
    </Box>
  );
}

/** Whether what is on the screen is safe. */
export function Saved({ state }: { state: OutingState }) {
  return <SavedStatus save={state.save} problem={state.problem} />;
}
