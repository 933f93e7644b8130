import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";

import { api, ApiError, ask } from "../api/client";
import type { Outing, OutingPlan } from "../api/types";
import { onBoardPlan } from "../board/onBoardPlan";
import { useUnits } from "../shell/units";

const WAIT_MS = 120;

/**
 * The plan of an outing as it stands; the one before stays until a new one is there. Where the server does not answer, the
 * plan on board takes its place.
 */
export function usePlan(id: string, outing: Outing, now: string | null = null) {
  const units = useUnits();
  const [asked, setAsked] = useState(outing);
  useEffect(() => {
    const timer = window.setTimeout(() => setAsked(outing), WAIT_MS);
    return () => window.clearTimeout(timer);
  }, [outing]);
  const query = useQuery({
    queryKey: ["outing-plan", units, now, asked],
    queryFn: async ({ signal }) => await ask(api.POST("/api/outings/plan", { body: { outing: asked, units, now }, signal })),
    placeholderData: keepPreviousData,
    staleTime: 600_000,
    gcTime: 60_000,
  });
  // What cannot be planned takes nothing off the screen: the last plan stays, with what is wrong beside it.
  const [last, setLast] = useState<OutingPlan>();
  if (query.data && query.data !== last) setLast(query.data);
  const { failureReason } = query;
  const silent = failureReason instanceof ApiError && failureReason.unreachable && failureReason.problem.status !== 401;
  const board = useMemo(() => onBoardPlan(id, outing), [id, outing]);
  const fresh = query.isPlaceholderData ? undefined : query.data;
  const fromBoard = fresh || !(silent || (query.isPending && !last)) ? undefined : board;
  return {
    ...query,
    data: fresh ?? fromBoard?.plan ?? query.data ?? last,
    fromBoard: silent ? fromBoard : undefined,
    isError: query.isError && !fromBoard,
    behind: !fromBoard && (asked !== outing || query.isPlaceholderData || query.isError),
  };
}
