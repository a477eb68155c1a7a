import { ref, shallowRef } from 'vue';

/** What was just done, in words, and how to undo it. */
export interface Done {
  readonly text: string;
  readonly undo?: () => Promise<unknown>;
  /** `bad` for something that did not work. */
  readonly tone?: 'good' | 'bad';
}

interface Shown extends Done {
  readonly id: number;
}

const LASTS_MS = 9000;
const STEPS = 20;

export const toasts = shallowRef<readonly Shown[]>([]);
const undoable = ref<Shown[]>([]);
let count = 0;

/** Says what was done; a change with `undo` can be taken back from the toast or with Ctrl Z. */
export function say(done: Done): void {
  count += 1;
  const shown = { ...done, id: count };
  toasts.value = [...toasts.value, shown].slice(-3);
  if (done.undo) undoable.value = [...undoable.value, shown].slice(-STEPS);
  setTimeout(() => dismiss(shown.id), LASTS_MS);
}

export function dismiss(id: number): void {
  toasts.value = toasts.value.filter((t) => t.id !== id);
}

/** Steps are undone one after the other, however fast they are asked for. */
let turn: Promise<unknown> = Promise.resolve();

/** Undoes one change, or the last one that has not been undone. Nothing to undo: does nothing. */
export function undo(id?: number): Promise<void> {
  const step = id === undefined ? undoable.value.at(-1) : undoable.value.find((t) => t.id === id);
  const run = step?.undo;
  if (!run) return Promise.resolve();
  undoable.value = undoable.value.filter((t) => t !== step);
  dismiss(step.id);
  const done = turn.then(run);
  // One that fails says so to whoever asked for it, and does not hold up the next.
  turn = done.catch(() => undefined);
  return done.then(() => undefined);
}
