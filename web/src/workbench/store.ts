import { api, ApiError, ask } from "../api/client";
import { dragState } from "../instruments/dragState";
import type { Change, Composition, CompositionOut, Evaluation, Problem, Scene } from "../api/types";
import { type BenchName, BENCHES } from "./benchNames";
import { History } from "./history";
import { forgetDraft, keepDraft, keptDraft } from "./keptDraft";
import type { SaveState } from "../shell/SavedStatus";
import { type Draft, sceneOf, type Surroundings } from "./scene";

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
  /** Benches whose numbers are of the scene as it stands; the others are asked for when they are opened. */
  told: ReadonlySet<BenchName>;
}

type LockName = Composition["locks"][number];
type Act =
  | { kind: "edit"; tag: string; edit: (draft: Draft) => Draft; history: boolean }
  | { kind: "change"; tag: string; change: Change; again?: boolean };

const SAVE_AFTER_MS = 700;
const RETRY_MS = 1500;
const HAND_RESTS_MS = 150;
/** Changes that say where a thing is, not by how much it moves. */
const WHERE = new Set(["stand", "aim_toward", "put_element", "height", "shape_element"]);

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
  private bench: BenchName = "depth";
  /** Benches of which what is shown is of the scene as it stands. */
  private told = new Set<BenchName>(BENCHES.map(([name]) => name));
  private waiting: Act[] = [];
  private running = false;
  private stale = true;
  /** A bench was opened of which nothing is known yet; the scene is as it was. */
  private unseen = false;
  private closed = false;
  private history = new History<Draft>();
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
      draft: this.draft,
      evaluation: null,
      problem: null,
      missing: null,
      save: "saved",
      savedAt: saved.updated_at,
      saveProblem: null,
      theirs: null,
      canUndo: false,
      canRedo: false,
      revision: 0,
      told: this.told,
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
    if (
      around.kit === this.around.kit &&
      around.places === this.around.places &&
      around.units === this.around.units &&
      around.forecast === this.around.forecast
    )
      return;
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
      if ((change.kind === "nudge" || change.kind === "set") && this.draft.composition.locks.includes(change.setting))
        this.onLocked(change.setting);
      else this.queue({ kind: "change", tag, change });
    }
    void this.pump();
  }

  /** Of a hand that drags, only where it is now matters: it takes the place of where it was. */
  private queue(act: Act & { kind: "change" }) {
    const last = this.waiting.at(-1);
    const dragged =
      last?.kind === "change" && last.tag === act.tag && last.change.kind === act.change.kind && WHERE.has(act.change.kind ?? "");
    if (dragged) this.waiting[this.waiting.length - 1] = act;
    else this.waiting.push(act);
  }

  undo() {
    const before = this.history.undo(this.draft);
    if (before) this.restore(before);
  }

  redo() {
    const after = this.history.redo(this.draft);
    if (after) this.restore(after);
  }

  /** Resolve a conflict: take what was saved elsewhere, or save this over it. */
  resolveConflict(keep: "theirs" | "mine") {
    const theirs = this.shown.theirs;
    if (!theirs) return;
    this.saved = theirs;
    if (keep === "theirs") {
      this.history.push(this.draft);
      forgetDraft(this.id);
      this.show({ theirs: null, save: "saved", savedAt: theirs.updated_at });
      this.restore(draftOf(theirs), false);
    } else {
      this.show({ theirs: null, save: "unsaved" });
      void this.save();
    }
  }

  private restore(draft: Draft, dirty = true) {
    this.waiting.push({ kind: "edit", tag: "restore", edit: () => draft, history: false });
    if (!dirty) this.draft = draft;
    void this.pump();
  }

  private show(part: Partial<Snapshot>) {
    this.shown = { ...this.shown, draft: this.draft, canUndo: this.history.canUndo, canRedo: this.history.canRedo, ...part };
    if (!dragState.busy) this.settleDown();
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
        if (changes.length === 0 && !next.again) this.history.remember(next.tag, this.draft);
        changes.push(next.change);
      } else {
        if (next.history) this.history.remember(next.tag, this.draft);
        this.draft = next.edit(this.draft);
      }
    }
    return { changes, touched };
  }

  /** What follows from a scene: the whole at first, then as far as it is shown; of other benches what was last known. */
  private async evaluated(scene: Scene, changes: Change[]): Promise<Evaluation> {
    const before = this.shown.evaluation;
    if (!before) return ask(api.POST("/api/evaluate", { body: { scene, changes } }));
    const { ribbon, bench, ...made } = await ask(api.POST("/api/workbench", { body: { scene, changes, bench: this.bench } }));
    this.told = new Set([bench]);
    const { light, separation, panorama, depth, ledger, range, motion, sequence, ...rest } = made;
    return {
      ...before,
      ...rest,
      light: light ?? { ...before.light, ribbon },
      separation: separation ?? before.separation,
      panorama: bench === "frame" ? panorama : before.panorama,
      depth: depth ?? before.depth,
      ledger: ledger ?? before.ledger,
      range: range ?? before.range,
      motion: motion ?? before.motion,
      sequence: sequence ?? before.sequence,
    };
  }

  /** Which bench is open: what the others show is not asked for. */
  openBench(bench: BenchName) {
    if (bench === this.bench) return;
    this.bench = bench;
    if (this.told.has(bench)) return;
    this.unseen = true;
    void this.pump();
  }

  private async pump() {
    if (this.running) return;
    this.running = true;
    try {
      while ((this.waiting.length > 0 || this.stale || this.unseen) && !this.closed) {
        const sameScene = this.unseen && !this.stale && this.waiting.length === 0;
        this.stale = this.unseen = false;
        const { changes, touched } = this.takeRound();
        if (touched) this.touch();
        const scene = sceneOf(this.draft, this.around);
        if (typeof scene === "string") {
          this.show({ missing: scene });
          continue;
        }
        try {
          const made = await this.evaluated(scene, changes);
          this.draft = { ...this.draft, composition: made.composition };
          if (touched) this.keep();
          this.show({
            evaluation: made,
            problem: null,
            missing: null,
            revision: this.shown.revision + (sameScene ? 0 : 1),
            told: this.told,
          });
          // Another bench was opened meanwhile.
          if (!this.told.has(this.bench)) this.unseen = true;
        } catch (error) {
          if (!(error instanceof ApiError)) throw error;
          this.show({ problem: error.problem, missing: null });
          if (error.unreachable) {
            for (const change of [...changes].reverse())
              this.waiting.unshift({ kind: "change", tag: this.history.tag, change, again: true });
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

  private keep() {
    keepDraft(this.id, { version: this.saved.version, draft: this.draft });
  }

  private recover() {
    const kept = keptDraft(this.id);
    if (!kept) return;
    this.saved = { ...this.saved, version: kept.version };
    this.history.push(this.draft);
    this.draft = kept.draft;
    this.show({});
    this.touch();
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
      if (same) forgetDraft(this.id);
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
