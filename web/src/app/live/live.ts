import { onScopeDispose, watch } from 'vue';

/** A line on which nothing is heard for so long is given up, and another one tried. Milliseconds. */
const QUIET = 45_000;
/** Where there is no line to be had, the page looks by itself this often. Milliseconds. */
const POLL = 20_000;
/** Pages that come back together do not all ask at once. Milliseconds. */
const SPREAD = 1500;

/**
 * What is heard: `changed`, to load again what is shown; `counts`, that numbers beside it may be others; and news with
 * their data, by the names of their events.
 */
export interface LiveListener {
  changed(): unknown;
  counts?(): unknown;
  readonly news?: Readonly<Record<string, (data: never) => unknown>>;
}

/**
 * Tells of changes while the page is on the screen, over server-sent events at `address` (null: nothing to hear of).
 * A line that breaks is made anew, after a sleep and a restart of the server too, and what was missed is loaded; where
 * none can be had the page looks every 20 seconds.
 */
export function useLive(address: () => string | null, hear: LiveListener): void {
  if (import.meta.env.SSR) return;
  let line: EventSource | null = null;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let hadLine = false;

  const later = (wait: number, look = () => hear.changed()) =>
    setTimeout(() => line && look(), wait);

  function again() {
    void hear.changed();
    open();
  }

  function heardIn(wait: number) {
    clearTimeout(timer);
    timer = setTimeout(again, wait);
  }

  function close() {
    clearTimeout(timer);
    line?.close();
    line = null;
  }

  function open() {
    close();
    const at = address();
    if (at === null || document.hidden) return;
    const opened = new EventSource(at);
    line = opened;
    heardIn(POLL);
    const on = (name: string, take: (data: never) => unknown) =>
      opened.addEventListener(name, (event: MessageEvent<string>) => {
        heardIn(QUIET);
        take(JSON.parse(event.data) as never);
      });
    on('here', ({ stale }: { stale: boolean }) => {
      if (hadLine) later(Math.random() * SPREAD);
      else if (stale) void hear.changed();
      hadLine = true;
    });
    on('beat', () => undefined);
    on('changed', ({ wait }: { wait: number }) => later(wait));
    on('counts', ({ wait }: { wait: number }) => later(wait, () => hear.counts?.()));
    for (const [name, take] of Object.entries(hear.news ?? {})) on(name, take);
  }

  /** The connection is there again: what was missed is loaded. */
  function back() {
    open();
    later(Math.random() * SPREAD);
  }

  watch(
    address,
    () => {
      hadLine = false;
      open();
    },
    { immediate: true },
  );
  document.addEventListener('visibilitychange', open);
  window.addEventListener('online', back);
  onScopeDispose(() => {
    document.removeEventListener('visibilitychange', open);
    window.removeEventListener('online', back);
    close();
  });
}
