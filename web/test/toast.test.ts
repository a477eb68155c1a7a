import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { dismiss, say, toasts, undo } from '../src/app/shell/toast.ts';

const undone: string[] = [];
const step = (name: string) => ({ text: name, undo: async () => undone.push(name) });

beforeEach(() => {
  vi.useFakeTimers();
  undone.length = 0;
});
afterEach(async () => {
  while (toasts.value.length > 0) dismiss(toasts.value[0]!.id);
  for (let n = 0; n < 30; n += 1) await undo();
  vi.useRealTimers();
});

describe('what was done can be undone', () => {
  it('step by step, the last one first, also after its toast has gone', async () => {
    for (const name of ['one', 'two', 'three']) say(step(name));
    vi.advanceTimersByTime(60_000);
    expect(toasts.value).toEqual([]);
    await undo();
    await undo();
    expect(undone).toEqual(['three', 'two']);
  });

  it('from its own toast, once', async () => {
    say(step('first'));
    say(step('second'));
    const [first] = toasts.value;
    await undo(first!.id);
    await undo(first!.id);
    expect(undone).toEqual(['first']);
    expect(toasts.value.map((t) => t.text)).toEqual(['second']);
    await undo();
    expect(undone).toEqual(['first', 'second']);
  });

  it('not when it was only said', async () => {
    say({ text: 'That did not work', tone: 'bad' });
    await undo();
    expect(undone).toEqual([]);
    expect(toasts.value).toHaveLength(1);
  });

  it('and no more than three toasts stand at once', () => {
    for (const name of ['a', 'b', 'c', 'd']) say(step(name));
    expect(toasts.value.map((t) => t.text)).toEqual(['b', 'c', 'd']);
  });
});
