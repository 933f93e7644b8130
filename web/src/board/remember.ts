import type { Query } from "@tanstack/react-query";

import { queryClient } from "../api/queries";
import type { CompositionBrief } from "../api/types";
import { type Answer, freshenOnBoard, putOnBoard } from "./store";

/** What Home, and the pages that lead outside, are drawn from. */
const LISTS = new Set(["compositions", "outings", "places", "tracks", "terrains", "preferences", "takes"]);
const MOST_PICTURES = 60;
const QUIET_MS = 1500;

function belongs({ queryKey, state }: Query): boolean {
  return state.status === "success" && state.data !== undefined && (LISTS.has(String(queryKey[0])) || queryKey[0] === "outlook");
}

function answers(): Answer[] {
  const all = queryClient.getQueryCache().getAll().filter(belongs);
  const known = new Set(
    (queryClient.getQueryData<CompositionBrief[]>(["compositions"]) ?? []).map((one) => `${one.id} ${one.updated_at}`),
  );
  const pictures = all
    .filter(({ queryKey }) => queryKey[0] === "outlook" && known.has(`${String(queryKey[1])} ${String(queryKey[2])}`))
    .slice(0, MOST_PICTURES);
  return [...all.filter(({ queryKey }) => queryKey[0] !== "outlook"), ...pictures].map(({ queryKey, state }) => ({
    key: queryKey,
    data: state.data,
    at: state.dataUpdatedAt,
  }));
}

/** Put Home and its lists on board as they were fetched last, so that it opens without a network. */
export const keepHome = () =>
  putOnBoard({
    kind: "home",
    of: "lists",
    name: "Home and its lists",
    takenAt: Date.now(),
    lacking: [],
    answers: answers(),
  });

/** Keep what is on board as fresh as what was fetched or saved last: the lists of Home, and outings that were taken along. */
export function rememberFetched() {
  let timer: number | undefined;
  queryClient.getQueryCache().subscribe(({ type, query }) => {
    if (type !== "updated" || query.state.status !== "success" || query.state.fetchStatus !== "idle") return;
    const [kind, of] = query.queryKey;
    // Without room it stays as it was: the server has what is newer.
    if (kind === "outing") void freshenOnBoard("outing", String(of), query.queryKey, query.state.data).catch(() => undefined);
    if (!belongs(query)) return;
    window.clearTimeout(timer);
    timer = window.setTimeout(() => void keepHome().catch(() => undefined), QUIET_MS);
  });
}
