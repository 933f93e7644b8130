import { api, ApiError, ask } from "../api/client";
import { hand } from "../instruments/hand";
import type { Change, Composition, CompositionOut, Evaluation, Problem, Scene } from "../api/types";
import { type Draft, sceneOf, type Surroundings } from "./scene";

export type SaveState = "saved" | "unsaved" | "saving" | "conflict" | "unreachable" | "refused";

export interface Snapshot {
  draft: Draft;
  evaluation: Evaluation | null;
  problem: Problem | null;
  missing: string | null;
  save: SaveState;
  savedAt: string;
  saveProblem: Problem | null;
  theirs: CompositionOut | null;
  canUndo: boolean;
  canRedo: boolean;
  /** Counts what the scene has been: what is asked about it is asked anew when this moves on. */
  revision: number;
}

type LockName = Composition["locks"][number];
type Act = { kind: "edit"; tag: string; edit: (draft: Draft) => Draft; history: boolean } | { kind: "change"; tag: string; change: Change; again?: boolean };

const SAVE_AFTER_MS = 700;
const RETRY_MS = 1500;
const ONE_STEP_WITHIN_MS = 900;
const MOST_UNDO = 200;
const HAND_RESTS_MS = 150;
/** Changes that say where a thing is, not by how much it moves. */
const WHERE = new Set(["stand", "aim_toward", "put_element", "height"]);

const keptKey = (id: string) => `lucid-ridge/unsaved/${id}`;

function draftOf(saved: CompositionOut): Draft {
  const { name, place_id, body_id, lens_id, support_id, composition } = saved;
  return { name, place_id, body_id, lens_id, support_id, composition };
}

/**
 * The workbench's draft: takes acts in order, asks the server what follows from them, keeps undo
 * steps and saves by itself.
 *
 * One evaluation is on its way at a time; acts made meanwhile wait and go together in the next one,
 * so that holding a key never starves the picture. What is unsaved is also kept in this browser.
 */
export class WorkbenchStore {
  readonly id: string;
  private saved: CompositionOut;
  private draft: Draft;
  private around: Surroundings;
  private waiting: Act[] = [];
  private running = false;
  private stale = true;
  private closed = false;
  private past: Draft[] = [];
  private future: Draft[] = [];
  private lastTag = "";
  private lastActAt = 0;
  private timer: number | undefined;
  private retry: number | undefined;
  private listeners = new Set<() => void>();
  private shown: Snapshot;
  private calm: Snapshot;
  private calmTimer: number | undefined;

  constructor(
    saved: CompositionOut,
    around: Surroundings,
    /** Told when a hand moves a setting that is locked; nothing is changed then. */
    private readonly onLocked: (setting: LockName) => void,
  ) {
    this.id = saved.id;
    this.saved = saved;
    this.around = around;
    this.draft = draftOf(saved);
    this.shown = {
      draft: this.draft, evaluation: null, problem: null, missing: null, save: "saved", savedAt: saved.updated_at,
      saveProblem: null, theirs: null, canUndo: false, canRedo: false, revision: 0,
    };
    this.calm = this.shown;
    this.recover();
  }

  subscribe = (listener: () => void) => {
    this.listeners.add(listener);
    return () => this.listeners.delete(listener);
  };

  snapshot = () => this.shown;

  /** The same, but while a hand drags something only when it rests, and at its end. */
  unhurried = () => this.calm;

  /** Begin (again, after a remount). */
  open() {
    this.closed = false;
    void this.pump();
  }

  close() {
    this.closed = true;
    window.clearTimeout(this.retry);
    if (this.unsaved) void this.save();
  }

  get scene(): Scene | null {
    const scene = sceneOf(this.draft, this.around);
    return typeof scene === "string" ? null : scene;
  }

  get unsaved() {
    return this.shown.save !== "saved";
  }

  surround(around: Surroundings) {
    if (around.kit === this.around.kit && around.places === this.around.places && around.units === this.around.units && around.forecast === this.around.forecast) return;
    this.around = around;
    this.stale = true;
    void this.pump();
  }

  /** Change the draft directly: what needs no arithmetic. */
  edit(tag: string, edit: (draft: Draft) => Draft) {
    this.waiting.push({ kind: "edit", tag, edit, history: true });
    void this.pump();
  }

  compose(tag: string, edit: (composition: Composition) => Partial<Composition>) {
    this.edit(tag, (draft) => ({ ...draft, composition: { ...draft.composition, ...edit(draft.composition) } }));
  }

  /** Ask the server to make changes: what needs its scales, limits or geometry. */
  act(tag: string, ...changes: Change[]) {
    for (const change of changes) {
      if ((change.kind === "nudge" || change.kind === "set") && this.draft.composition.locks.includes(change.setting)) this.onLocked(change.setting);
      else this.queue({ kind: "change", tag, change });
    }
    void this.pump();
  }

  /** Of a hand that drags, only where it is now matters: it takes the place of where it was. */
  private queue(act: Act & { kind: "change" }) {
    const last = this.waiting.at(-1);
    const dragged = last?.kind === "change" && last.tag === act.tag && last.change.kind === act.change.kind && WHERE.has(act.change.kind ?? "");
    if (dragged) this.waiting[this.waiting.length - 1] = act;
    else this.waiting.push(act);
  }

  undo() {
    const before = this.past.pop();
    if (!before) return;
    this.future.push(this.draft);
    this.restore(before);
  }

  redo() {
    const after = this.future.pop();
    if (!after) return;
    this.past.push(this.draft);
    this.restore(after);
  }

  /** Settle a conflict: take what was saved elsewhere, or save this over it. */
  settle(keep: "theirs" | "mine") {
    const theirs = this.shown.theirs;
    if (!theirs) return;
    this.saved = theirs;
    if (keep === "theirs") {
      const mine = this.draft;
      this.past.push(mine);
      this.forget();
      this.show({ theirs: null, save: "saved", savedAt: theirs.updated_at });
      this.restore(draftOf(theirs), false);
    } else {
      this.show({ theirs: null, save: "unsaved" });
      void this.save();
    }
  }

  private restore(draft: Draft, dirty = true) {
    this.lastTag = "";
    this.waiting.push({ kind: "edit", tag: "restore", edit: () => draft, history: false });
    if (!dirty) this.draft = draft;
    void this.pump();
  }

  private show(part: Partial<Snapshot>) {
    this.shown = { ...this.shown, draft: this.draft, canUndo: this.past.length > 0, canRedo: this.future.length > 0, ...part };
    if (!hand.busy) this.settleDown();
    else {
      window.clearTimeout(this.calmTimer);
      this.calmTimer = window.setTimeout(() => this.settleDown(true), HAND_RESTS_MS);
    }
    this.tell();
  }

  private settleDown(late = false) {
    window.clearTimeout(this.calmTimer);
    this.calmTimer = undefined;
    this.calm = this.shown;
    if (late) this.tell();
  }

  private tell() {
    for (const listener of this.listeners) listener();
  }

  private remember(tag: string) {
    const now = performance.now();
    if (tag !== this.lastTag || now - this.lastActAt > ONE_STEP_WITHIN_MS) {
      this.past.push(this.draft);
      if (this.past.length > MOST_UNDO) this.past.shift();
    }
    this.future = [];
    this.lastTag = tag;
    this.lastActAt = now;
  }

  /** Take waiting acts up to where an edit follows a change: those go in one request. */
  private takeRound() {
    const changes: Change[] = [];
    let touched = false;
    while (this.waiting.length > 0) {
      const next = this.waiting[0];
      if (!next || (next.kind === "edit" && changes.length > 0)) break;
      this.waiting.shift();
      touched = true;
      if (next.kind === "change") {
        // Sent again it is the same act: history has it already.
        if (changes.length === 0 && !next.again) this.remember(next.tag);
        changes.push(next.change);
      } else {
        if (next.history) this.remember(next.tag);
        this.draft = next.edit(this.draft);
      }
    }
    return { changes, touched };
  }

  private async pump() {
    if (this.running) return;
    this.running = true;
    try {
      while ((this.waiting.length > 0 || this.stale) && !this.closed) {
        this.stale = false;
        const { changes, touched } = this.takeRound();
        if (touched) this.touch();
        const scene = sceneOf(this.draft, this.around);
        if (typeof scene === "string") {
          this.show({ missing: scene });
          continue;
        }
        try {
          const made = await ask(api.POST("/api/evaluate", { body: { scene, changes } }));
          this.draft = { ...this.draft, composition: made.composition };
          if (touched) this.keep();
          this.show({ evaluation: made, problem: null, missing: null, revision: this.shown.revision + 1 });
        } catch (error) {
          if (!(error instanceof ApiError)) throw error;
          this.show({ problem: error.problem, missing: null });
          if (error.unreachable) {
            for (const change of [...changes].reverse()) this.waiting.unshift({ kind: "change", tag: this.lastTag, change, again: true });
            this.stale = true;
            await new Promise((done) => window.setTimeout(done, RETRY_MS));
          }
        }
      }
    } finally {
      this.running = false;
    }
  }

  // --- saving ------------------------------------------------------------------------------------

  private touch() {
    if (this.shown.save !== "conflict") this.show({ save: "unsaved" });
    this.keep();
    window.clearTimeout(this.timer);
    this.timer = window.setTimeout(() => void this.save(), SAVE_AFTER_MS);
  }

  /** Keep the draft in this browser until it is saved. */
  private keep() {
    window.localStorage.setItem(keptKey(this.id), JSON.stringify({ version: this.saved.version, draft: this.draft }));
  }

  private forget() {
    window.localStorage.removeItem(keptKey(this.id));
  }

  /** Take up a draft that a closed or broken page could not save. */
  private recover() {
    const kept = window.localStorage.getItem(keptKey(this.id));
    if (!kept) return;
    try {
      const { version, draft } = JSON.parse(kept) as { version: number; draft: Draft };
      if (!draft.composition.settings) throw new Error("not a draft");
      this.saved = { ...this.saved, version };
      this.past.push(this.draft);
      this.draft = draft;
      this.show({});
      this.touch();
    } catch {
      this.forget();
    }
  }

  async save(): Promise<void> {
    window.clearTimeout(this.timer);
    window.clearTimeout(this.retry);
    if (this.shown.save === "saving" || this.shown.save === "conflict") return;
    if (this.running) {
      // The shutter that follows is on its way; save what it belongs to.
      this.timer = window.setTimeout(() => void this.save(), 120);
      return;
    }
    const sent = this.draft;
    this.show({ save: "saving" });
    try {
      const saved = await ask(
        api.PUT("/api/compositions/{id}", { params: { path: { id: this.id } }, body: { ...sent, version: this.saved.version } }),
      );
      this.saved = saved;
      const same = this.draft === sent;
      this.show({ save: same ? "saved" : "unsaved", savedAt: saved.updated_at, saveProblem: null });
      if (same) this.forget();
      else this.touch();
    } catch (error) {
      if (!(error instanceof ApiError)) throw error;
      const problem = error.problem as Problem & { current?: CompositionOut };
      if (problem.status === 409 && problem.current) {
        this.show({ save: "conflict", theirs: problem.current });
      } else if (error.unreachable) {
        this.show({ save: "unreachable", saveProblem: problem });
        this.retry = window.setTimeout(() => void this.save(), RETRY_MS);
      } else {
        this.show({ save: "refused", saveProblem: problem });
      }
    }
  }
}
