// @vitest-environment jsdom
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { effectScope, nextTick, ref, type EffectScope } from 'vue';
import { useLive } from '../src/app/live/live.ts';

/** A line whose events the test sends by itself. */
class Line extends EventTarget {
  static lines: Line[] = [];
  closed = false;
  constructor(readonly address: string) {
    super();
    Line.lines.push(this);
  }
  close() {
    this.closed = true;
  }
  says(event: string, data: object = {}) {
    this.dispatchEvent(new MessageEvent(event, { data: JSON.stringify(data) }));
  }
}
const open = () => Line.lines.filter((line) => !line.closed);
const newest = () => Line.lines.at(-1)!;

const address = ref<string | null>('/folder/live');
const changed = vi.fn();
const counts = vi.fn();
const contents = vi.fn();
let scope: EffectScope;
let hidden = false;

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal('EventSource', Line);
  vi.spyOn(document, 'hidden', 'get').mockImplementation(() => hidden);
  vi.spyOn(Math, 'random').mockReturnValue(0.5);
  Line.lines = [];
  hidden = false;
  address.value = '/folder/live';
  for (const heard of [changed, counts, contents]) heard.mockReset();
  scope = effectScope();
  scope.run(() => useLive(() => address.value, { changed, counts, news: { contents } }));
});
afterEach(() => {
  scope.stop();
  vi.useRealTimers();
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
});

describe('a page that is told of changes', () => {
  it('looks again at its moment, and hears news and counts by their names', () => {
    expect(open().map((line) => line.address)).toEqual(['/folder/live']);
    newest().says('here', { stale: false });
    newest().says('changed', { wait: 200 });
    vi.advanceTimersByTime(199);
    expect(changed).not.toHaveBeenCalled();
    vi.advanceTimersByTime(1);
    expect(changed).toHaveBeenCalledOnce();
    newest().says('contents', { total: 3 });
    expect(contents).toHaveBeenCalledExactlyOnceWith({ total: 3 });
    newest().says('counts', { wait: 10 });
    vi.advanceTimersByTime(10);
    expect(counts).toHaveBeenCalledOnce();
    expect(changed).toHaveBeenCalledOnce();
  });

  it('looks again when something changed while it was loading, and when it was told so', () => {
    newest().says('here', { stale: false });
    expect(changed).not.toHaveBeenCalled();
    address.value = '/other/live';
    return nextTick(() => {
      expect(open().map((line) => line.address)).toEqual(['/other/live']);
      newest().says('here', { stale: true });
      expect(changed).toHaveBeenCalledOnce();
    });
  });

  it('takes a line on which nothing is heard for lost, makes another, and loads what it missed', () => {
    newest().says('here', { stale: false });
    vi.advanceTimersByTime(40_000);
    newest().says('beat');
    vi.advanceTimersByTime(44_000);
    expect([Line.lines.length, changed.mock.calls.length]).toEqual([1, 0]);
    vi.advanceTimersByTime(1_000);
    expect([Line.lines.length, open().length, changed.mock.calls.length]).toEqual([2, 1, 1]);
    // The line is there again: what came between the two looks is looked for, not by all pages at the same moment.
    newest().says('here', { stale: false });
    vi.advanceTimersByTime(749);
    expect(changed).toHaveBeenCalledOnce();
    vi.advanceTimersByTime(1);
    expect(changed).toHaveBeenCalledTimes(2);
  });

  it('looks every 20 seconds where there is no line to be had', () => {
    vi.advanceTimersByTime(19_999);
    expect(changed).not.toHaveBeenCalled();
    vi.advanceTimersByTime(40_001);
    expect(changed).toHaveBeenCalledTimes(3);
    expect(open()).toHaveLength(1);
  });

  it('is not told while it is not on the screen, and looks when it is back', () => {
    newest().says('here', { stale: false });
    newest().says('changed', { wait: 500 });
    hidden = true;
    document.dispatchEvent(new Event('visibilitychange'));
    vi.advanceTimersByTime(120_000);
    expect([open().length, changed.mock.calls.length]).toEqual([0, 0]);
    hidden = false;
    document.dispatchEvent(new Event('visibilitychange'));
    newest().says('here', { stale: false });
    vi.advanceTimersByTime(750);
    expect(changed).toHaveBeenCalledOnce();
  });

  it('looks again when the connection is back', () => {
    newest().says('here', { stale: false });
    window.dispatchEvent(new Event('online'));
    expect(open()).toHaveLength(1);
    expect(Line.lines).toHaveLength(2);
    vi.advanceTimersByTime(750);
    expect(changed).toHaveBeenCalledOnce();
  });

  it('hears nothing without an address, and nothing once it has gone', async () => {
    address.value = null;
    await nextTick();
    vi.advanceTimersByTime(120_000);
    expect([open().length, changed.mock.calls.length]).toEqual([0, 0]);
    address.value = '/folder/live';
    await nextTick();
    newest().says('changed', { wait: 500 });
    scope.stop();
    window.dispatchEvent(new Event('online'));
    document.dispatchEvent(new Event('visibilitychange'));
    vi.advanceTimersByTime(120_000);
    expect([open().length, changed.mock.calls.length]).toEqual([0, 0]);
  });
});
