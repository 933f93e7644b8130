import { useEffect, useState, useSyncExternalStore } from "react";

import { api, ApiError, ask, problemOf } from "../api/client";
import { outingQuery, queryClient } from "../api/queries";
import type { Outing, OutingOut, Problem } from "../api/types";
import { forgetSafe, keepSafe, readSafe, safeKeys } from "../board/store";
import type { SaveState } from "../shell/SavedStatus";

export interface Draft {
  name: string;
  outing: Outing;
}

export interface OutingState {
  draft: Draft;
  version: number;
  save: SaveState;
  problem: Problem | undefined;
  theirs: OutingOut | undefined;
  undone: Draft[];
  done: Draft[];
}

const WAIT_MS = 600;
const AGAIN_MS = 3000;
const MOST_UNDO = 100;
export const DRAFTS = "lucid-ridge/unsaved-outing/";
const key = (id: string) => `${DRAFTS}${id}`;
const atWork = new Set<string>();

/** One outing on the screen: what is changed is kept in this browser at once, and saved a moment later. */
export class OutingStore {
  private state: OutingState;
  private listeners = new Set<() => void>();
  private timer: number | undefined;
  private closed = false;
  private readonly id: string;

  constructor(saved: OutingOut) {
    this.id = saved.id;
    const draft = { name: saved.name, outing: saved.outing };
    this.state = { draft, version: saved.version, save: "saved", problem: undefined, theirs: undefined, undone: [], done: [] };
    const kept = this.kept();
    if (kept && JSON.stringify(kept.draft) !== JSON.stringify(draft)) {
      // What a closed page could not save: over the version it was made from, so that another's change is seen.
      this.state = { ...this.state, draft: kept.draft, version: kept.version, save: "unsaved", done: [draft] };
      this.soon(0);
    }
  }

  private kept(): { version: number; draft: Draft } | null {
    try {
      return JSON.parse(readSafe(key(this.id)) ?? "null") as { version: number; draft: Draft } | null;
    } catch {
      return null;
    }
  }

  get = () => this.state;

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  private put(part: Partial<OutingState>) {
    this.state = { ...this.state, ...part };
    for (const listener of this.listeners) listener();
  }

  /** A change of the whole draft that can be undone. Changes of one gesture share a step. */
  change(next: Draft, joined = false) {
    const { draft, done } = this.state;
    this.take(next, { done: joined ? done : [...done.slice(-MOST_UNDO), draft], undone: [] });
  }

  outing(change: (before: Outing) => Outing, joined = false) {
    this.change({ ...this.state.draft, outing: change(this.state.draft.outing) }, joined);
  }

  undo = () => {
    const { done, undone, draft } = this.state;
    const before = done.at(-1);
    if (before) this.take(before, { done: done.slice(0, -1), undone: [...undone, draft] });
  };

  redo = () => {
    const { done, undone, draft } = this.state;
    const next = undone.at(-1);
    if (next) this.take(next, { undone: undone.slice(0, -1), done: [...done, draft] });
  };

  private take(draft: Draft, part: Partial<OutingState>) {
    void keepSafe(key(this.id), JSON.stringify({ version: this.state.version, draft }));
    const save: SaveState = this.state.save === "conflict" ? "conflict" : "unsaved";
    this.put({ ...part, draft, save });
    if (save === "unsaved") this.soon(WAIT_MS);
  }

  private soon(wait: number) {
    window.clearTimeout(this.timer);
    this.timer = window.setTimeout(() => void this.send(), wait);
  }

  private async send() {
    const { draft, version } = this.state;
    this.put({ save: "saving", problem: undefined });
    try {
      const body = { version, name: draft.name, outing: draft.outing };
      const saved = await ask(api.PUT("/api/outings/{id}", { params: { path: { id: this.id } }, body }));
      const same = this.state.draft === draft;
      this.put({ version: saved.version, save: same ? "saved" : "unsaved" });
      if (same) void forgetSafe(key(this.id));
      else {
        void keepSafe(key(this.id), JSON.stringify({ version: saved.version, draft: this.state.draft }));
        this.soon(WAIT_MS);
      }
      queryClient.setQueryData(outingQuery(this.id).queryKey, saved);
      void queryClient.invalidateQueries({ queryKey: ["outings"] });
    } catch (error) {
      this.fail(error);
    }
  }

  /** The answer to an earlier save was lost on its way: what is there is this, and nobody else changed it. */
  private isMine(current: OutingOut): boolean {
    if (JSON.stringify({ name: current.name, outing: current.outing }) !== JSON.stringify(this.state.draft)) return false;
    this.put({ version: current.version, save: "saved", problem: undefined });
    void forgetSafe(key(this.id));
    return true;
  }

  private fail(error: unknown) {
    const problem = problemOf(error);
    if (problem.status === 409) {
      const { current } = problem as Problem & { current: OutingOut };
      if (this.isMine(current)) return;
      this.put({ save: "conflict", theirs: current, problem });
    } else if (error instanceof ApiError && !error.unreachable) {
      this.put({ save: "refused", problem });
    } else {
      this.put({ save: "unreachable", problem });
      if (!this.closed) this.soon(AGAIN_MS);
    }
  }

  /** Of two that were saved at once: theirs, with mine one Undo away; or mine over it. */
  resolve(which: "mine" | "theirs") {
    const { theirs, draft, done } = this.state;
    if (!theirs) return;
    this.put({ version: theirs.version, theirs: undefined, problem: undefined, save: "saved" });
    if (which === "theirs") {
      void forgetSafe(key(this.id));
      this.put({ draft: { name: theirs.name, outing: theirs.outing }, done: [...done, draft], undone: [] });
    } else {
      this.put({ save: "unsaved" });
      this.soon(0);
    }
  }

  /** A newer one was fetched: it is taken on unless something here waits to be saved, which then meets it as a conflict. */
  renew(saved: OutingOut) {
    if (this.state.save !== "saved" || saved.version <= this.state.version) return;
    this.put({ draft: { name: saved.name, outing: saved.outing }, version: saved.version, undone: [], done: [] });
  }

  /** The page goes: what is not saved yet goes now. */
  close() {
    this.closed = true;
    atWork.delete(this.id);
    window.clearTimeout(this.timer);
    if (this.state.save === "unsaved") void this.send();
  }

  open() {
    this.closed = false;
    atWork.add(this.id);
    draftTrouble.delete(this.id);
  }
}

/** The store of an outing that was fetched, and its state. */
export function useOutingStore(saved: OutingOut): readonly [OutingStore, OutingState] {
  const [store] = useState(() => new OutingStore(saved));
  const state = useSyncExternalStore(store.subscribe, store.get);
  useEffect(() => {
    store.open();
    return () => store.close();
  }, [store]);
  useEffect(() => store.renew(saved), [store, saved]);
  return [store, state] as const;
}

/** Why what an outing has waiting here cannot be saved by itself, by the outing; it waits until somebody opens it. */
export const draftTrouble = new Map<string, string>();

/** Save what outings that are not open have waiting here. One that meets trouble is left alone until it is opened. */
export async function sendDrafts(): Promise<void> {
  for (const name of safeKeys(DRAFTS)) {
    const id = name.slice(DRAFTS.length);
    if (atWork.has(id) || draftTrouble.has(id)) continue;
    const { version, draft } = JSON.parse(readSafe(name) ?? "{}") as { version: number; draft: Draft };
    try {
      await ask(
        api.PUT("/api/outings/{id}", { params: { path: { id } }, body: { version, name: draft.name, outing: draft.outing } }),
      );
      await forgetSafe(name);
      void queryClient.invalidateQueries({ queryKey: ["outing", id] });
    } catch (error) {
      if (!(error instanceof ApiError) || error.unreachable) return;
      draftTrouble.set(id, error.problem.status === 409 ? "It was changed elsewhere meanwhile: open it to choose." : error.message);
    }
  }
}
