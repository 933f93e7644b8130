import { queryClient } from "../api/queries";
import type { Along, Late, Outing, OutingPlan } from "../api/types";
import { alongKey, lateKey } from "./takeAlong";

/** Whether an outing asks for the same plan as another: what is packed, done or noted asks for none. */
export function samePlanned(one: Outing, other: Outing): boolean {
  const asked = ({ days, start, end, visits, rides, pace, detour }: Outing) =>
    JSON.stringify([days, start, end, visits, rides, pace, detour]);
  return asked(one) === asked(other);
}

export interface OnBoardPlan {
  plan: OutingPlan;
  takenAt: number;
  /** Whether it was worked out for the outing as it is and just what was done; else it holds for what is still in it. */
  exact: boolean;
}

/**
 * The plan on board for an outing of which so much is done. It was worked out before leaving: of the times for which it was,
 * the next one after the one at which the last picture was left.
 */
export function onBoardPlan(id: string, outing: Outing): OnBoardPlan | undefined {
  const along = queryClient.getQueryData<Along>(alongKey(id));
  if (!along) return undefined;
  const takenAt = queryClient.getQueryState(alongKey(id))?.dataUpdatedAt ?? 0;
  const last = [...outing.done].sort((a, b) => a.left_at.localeCompare(b.left_at)).at(-1);
  const same = samePlanned(along.outing.outing, outing);
  if (!last) return { plan: along.plan, takenAt, exact: same };
  const late = queryClient.getQueryData<Late[]>(lateKey(id))?.find((one) => one.visit_id === last.visit_id);
  const at = Date.parse(last.left_at);
  const later = late?.later.find((one) => Date.parse(one.leaves_at) >= at) ?? late?.later.at(-1);
  if (!later) return { plan: along.plan, takenAt, exact: false };
  const order = along.plan.plan.days.flatMap((day) => day.visits.map((one) => one.visit_id));
  const until = order.slice(0, order.indexOf(last.visit_id) + 1);
  const done = new Set(outing.done.map((one) => one.visit_id));
  const exact = same && until.length === done.size && until.every((one) => done.has(one));
  return { plan: { ...along.plan, plan: later.plan }, takenAt, exact };
}
