import { api, ask, problemOf } from "../api/client";
import {
  compositionsQuery,
  nextOutingQuery,
  outingsQuery,
  placesQuery,
  queryClient,
  reliefQuery,
  takesQuery,
  terrainsQuery,
  tracksQuery,
} from "../api/queries";
import type { Along, Late, SpotTable } from "../api/types";
import { outlookQuery } from "../home/outlooks";
import type { Units } from "../shell/units";
import { keepHome } from "./remember";
import { type Answer, type BoardItem, putOnBoard } from "./store";

/** How far taking along has come, in words and as a share. */
export interface Going {
  what: string;
  share: number;
}

const answer = (key: readonly unknown[], data: unknown): Answer => ({ key, data, at: Date.now() });

export const alongKey = (id: string) => ["along", id] as const;
export const lateKey = (id: string) => ["late", id] as const;
export const spotTableKey = (id: string) => ["spot-table", id] as const;

export const askSpotTable = (id: string, units: Units): Promise<SpotTable> =>
  ask(api.GET("/api/sequences/{id}/spot-table", { params: { path: { id }, query: { units } } })) as Promise<SpotTable>;

/** The pictures of the ground go where the pages' own keeper finds them again. */
async function fetchGround(addresses: string[], told: (done: number) => void): Promise<number> {
  let lacking = 0;
  for (let k = 0; k < addresses.length; k += 6) {
    const some = addresses.slice(k, k + 6);
    const came = await Promise.allSettled(some.map(async (one) => (await fetch(one)).ok));
    lacking += came.filter((one) => one.status === "rejected" || !one.value).length;
    told(Math.min(k + 6, addresses.length));
  }
  return lacking;
}

/** Ask the browser to keep what is on board even when room gets short; whether it promises to. */
export async function askToKeep(): Promise<boolean | null> {
  try {
    return (await navigator.storage.persisted()) || (await navigator.storage.persist());
  } catch {
    return null;
  }
}

const MOST_PICTURES = 60;

/** Have Home and its lists on board too, the pictures of an outing's compositions first. */
async function takeHomeAlong(units: Units, first: ReadonlySet<string>): Promise<void> {
  const lists = [outingsQuery, placesQuery, tracksQuery, terrainsQuery, reliefQuery, nextOutingQuery(units), takesQuery({})];
  await Promise.allSettled(lists.map((one) => queryClient.fetchQuery({ ...one, staleTime: 0 } as never)));
  const all = await queryClient.fetchQuery({ ...compositionsQuery, staleTime: 0 });
  const wanted = [...all].sort((a, b) => Number(first.has(b.id)) - Number(first.has(a.id))).slice(0, MOST_PICTURES);
  await Promise.allSettled(wanted.map((one) => queryClient.fetchQuery(outlookQuery(one))));
  await keepHome();
}

/** Take an outing along: everything that its pages, its sequences and its questions on the spot need. */
export async function takeOutingAlong(id: string, units: Units, told: (going: Going) => void): Promise<BoardItem> {
  told({ what: "the plan and its sequences", share: 0.02 });
  const along: Along = await ask(api.POST("/api/outings/{id}/along", { params: { path: { id }, query: { units } } }));
  const lacking = along.sequences.flatMap((one) => (one.lacking ? [`${one.name || "A picture"}: ${one.lacking}`] : []));
  const answers: Answer[] = [answer(alongKey(id), along), answer(["outing", id], along.outing)];
  const made = along.sequences.flatMap((one) => (one.sequence ? [one.sequence] : []));
  const planned = along.plan.plan.days.flatMap((day) => day.visits);
  const steps = made.length + planned.length + 2;
  let done = 1;
  const step = (what: string) => told({ what, share: done / steps });
  const work: (() => Promise<void>)[] = made.map((sequence) => async () => {
    answers.push(answer(["sequence", sequence.id], sequence));
    step(`answers for the spot: ${sequence.plan.composition_name}`);
    try {
      answers.push(answer(spotTableKey(sequence.id), await askSpotTable(sequence.id, units)));
    } catch (error) {
      lacking.push(`${sequence.plan.composition_name}, answers for the spot: ${problemOf(error).detail}`);
    }
  });
  const late: Late[] = [];
  [undefined, ...planned].forEach((visit, k) => {
    // Each picture is left after those before it: what is planned then hangs on them.
    const before = planned.slice(0, Math.max(k - 1, 0)).map((one) => ({ visit_id: one.visit_id, left_at: one.leave_by.at_utc }));
    work.push(async () => {
      step(visit ? `running late at ${visit.name}` : "setting out late");
      const outing = { ...along.outing.outing, done: [...along.outing.outing.done, ...before] };
      try {
        const body = { outing, visit_id: visit?.visit_id ?? null, now: before.at(-1)?.left_at ?? null, units };
        late.push(await ask(api.POST("/api/outings/late", { body })));
      } catch (error) {
        lacking.push(`Running late${visit ? ` at ${visit.name}` : ""}: ${problemOf(error).detail}`);
      }
    });
  });
  // Two at a time: the server has others to answer too.
  const hand = async () => {
    for (let one = work.shift(); one; one = work.shift()) {
      await one();
      done += 1;
    }
  };
  await Promise.all([hand(), hand()]);
  answers.push(answer(lateKey(id), late));
  step("Home and its lists");
  await takeHomeAlong(units, new Set(along.outing.outing.visits.map((one) => one.composition_id)));
  const missing = await fetchGround(along.ground, (count) => step(`the ground: ${count} of ${along.ground.length} pictures`));
  if (missing > 0) lacking.push(`${missing} pictures of the ground.`);
  await askToKeep();
  const item = await putOnBoard({ kind: "outing", of: id, name: along.outing.name, takenAt: Date.now(), lacking, answers });
  for (const { key, data, at } of answers) queryClient.setQueryData(key, data, { updatedAt: at });
  return item;
}

/** Take one sequence along, with its answers for the spot. */
export async function takeSequenceAlong(id: string, units: Units): Promise<BoardItem> {
  const sequence = await ask(api.GET("/api/sequences/{id}", { params: { path: { id } } }));
  const table = await askSpotTable(id, units);
  const answers = [answer(["sequence", id], sequence), answer(spotTableKey(id), table)];
  await askToKeep();
  const item = await putOnBoard({
    kind: "sequence",
    of: id,
    name: sequence.plan.composition_name,
    takenAt: Date.now(),
    lacking: [],
    answers,
  });
  for (const { key, data, at } of answers) queryClient.setQueryData(key, data, { updatedAt: at });
  return item;
}
