const ONE_STEP_WITHIN_MS = 900;
const MOST_STEPS = 200;

/** What was before, for undo and redo. Acts of one kind that follow each other closely are one step. */
export class History<T> {
  private past: T[] = [];
  private future: T[] = [];
  private lastTag = "";
  private lastAt = 0;

  get canUndo() {
    return this.past.length > 0;
  }

  get canRedo() {
    return this.future.length > 0;
  }

  /** What the last act was: one that is sent again is that same act. */
  get tag() {
    return this.lastTag;
  }

  /** An act is about to change what is now. */
  remember(tag: string, now: T) {
    const at = performance.now();
    if (tag !== this.lastTag || at - this.lastAt > ONE_STEP_WITHIN_MS) this.push(now);
    this.future = [];
    this.lastTag = tag;
    this.lastAt = at;
  }

  /** Keep a state to go back to, whatever came before. */
  push(state: T) {
    this.past.push(state);
    if (this.past.length > MOST_STEPS) this.past.shift();
  }

  /** The state before; undefined where there is none. */
  undo(now: T): T | undefined {
    return this.turn(this.past, this.future, now);
  }

  /** The state that was undone last; undefined where there is none. */
  redo(now: T): T | undefined {
    return this.turn(this.future, this.past, now);
  }

  private turn(from: T[], to: T[], now: T) {
    const state = from.pop();
    if (state === undefined) return undefined;
    to.push(now);
    this.lastTag = "";
    return state;
  }
}
