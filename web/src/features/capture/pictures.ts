import { WHOLE, type Corners } from '@sammlung/core';
import { wrap, type Remote } from 'comlink';
import { tryOnScopeDispose } from '@vueuse/core';
import { computed, shallowReactive, shallowRef } from 'vue';
import { v4 } from 'uuid';
import { browserStore } from '../../app/device/browser-store.ts';
import type { CaptureWork } from './capture.worker.ts';
import workerAddress from './capture.worker.ts?worker&url';
import type { PictureSettings, StoredPicture } from './picture.ts';

/** So many pictures make one document. */
export const MOST_PICTURES = 40;

/** One picture that was taken, and the page that is made of it. */
export interface Taken extends PictureSettings {
  readonly id: string;
  /** As it came, for what is said about it. */
  readonly name: string;
  state: 'waiting' | 'making' | 'ready' | 'unreadable';
  corners: Corners;
  light: boolean;
  /** Upright and no larger than it is worked on; null until it has been read. */
  photograph: Blob | null;
  page: Blob | null;
  /** The address of the page, and of the photograph, for the screen. */
  shown: { page: string; photograph: string } | null;
}

/** Pictures that are not a document yet are kept on the device, so that nothing is lost when it goes off in the middle. */
const store = browserStore<StoredPicture>('sammlung-pictures', 'pictures');

/** What works on pictures, which a device has with it to do so without a connection. */
export const CAPTURE_PARTS = workerAddress;

/** The pictures of a document that is being made, in their order. */
export function usePictures(personId: string) {
  const taken = shallowRef<readonly Taken[]>([]);
  const thread = new Worker(workerAddress, { type: 'module' });
  const work: Remote<CaptureWork> = wrap<CaptureWork>(thread);
  /** One picture is worked on at a time, however many come at once. */
  let turn: Promise<unknown> = Promise.resolve();
  const inTurn = <T>(step: () => Promise<T>): Promise<T> => {
    const result = turn.then(step);
    turn = result.catch(() => undefined);
    return result;
  };
  /** Works on a picture when it is its turn; one that cannot be worked on says so, and the others go on. */
  const workOn = (one: Taken, step: () => Promise<void>) =>
    inTurn(async () => {
      try {
        await step();
      } catch (error) {
        one.state = 'unreadable';
        throw error;
      }
    });
  const gone = (one: Taken) => !taken.value.includes(one);
  const busy = computed(() =>
    taken.value.some(({ state }) => state === 'waiting' || state === 'making'),
  );
  const pages = computed(() => taken.value.filter(({ state }) => state === 'ready'));

  const blank = (id: string, name: string): Taken =>
    shallowReactive<Taken>({
      ...{ id, name, state: 'waiting', corners: WHOLE, light: true },
      ...{ photograph: null, page: null, shown: null },
    });

  /** Takes pictures in; those beyond the most that one document has are left out. Returns how many were left out. */
  function add(files: readonly Blob[]): number {
    const room = Math.max(0, MOST_PICTURES - taken.value.length);
    const added = files
      .slice(0, room)
      .map((file) => ({ file, one: blank(v4(), file instanceof File ? file.name : '') }));
    taken.value = [...taken.value, ...added.map(({ one }) => one)];
    for (const { file, one } of added) void workOn(one, () => read(one, file));
    return files.length - added.length;
  }

  async function read(one: Taken, file: Blob) {
    if (gone(one)) return;
    one.state = 'making';
    const found = await work.read(file);
    if (!found) return void (one.state = 'unreadable');
    one.photograph = found.photograph;
    one.corners = found.corners ?? WHOLE;
    // Of a photograph that is neither a sheet nor a board the light is what it shows.
    one.light = found.corners !== null;
    await make(one);
  }

  async function make(one: Taken) {
    if (gone(one) || !one.photograph) return;
    one.state = 'making';
    const { id, corners, light, photograph } = one;
    void store.put(id, {
      id,
      personId,
      place: taken.value.indexOf(one),
      photograph,
      corners,
      light,
    });
    const page = await work.makePage(photograph, { corners, light });
    if (gone(one)) return;
    show(one, page);
    one.state = 'ready';
  }

  function show(one: Taken, page: Blob) {
    if (one.shown) URL.revokeObjectURL(one.shown.page);
    one.page = page;
    one.shown = {
      page: URL.createObjectURL(page),
      photograph: one.shown?.photograph ?? URL.createObjectURL(one.photograph!),
    };
  }

  /** Makes a page anew, of other corners or in another light; of many changes at once for the last one only. */
  function change(one: Taken, settings: Partial<PictureSettings>): void {
    Object.assign(one, settings);
    const { corners, light } = one;
    void workOn(one, async () => {
      if (one.corners === corners && one.light === light) await make(one);
    });
  }

  /** Takes a picture out. Returns what puts it back where it was. */
  function remove(one: Taken): () => Promise<void> {
    const before = taken.value;
    taken.value = before.filter((other) => other !== one);
    void store.remove(one.id);
    return async () => {
      const at = before.indexOf(one);
      taken.value = [...taken.value.slice(0, at), one, ...taken.value.slice(at)];
      if (one.state !== 'unreadable') await workOn(one, () => make(one));
    };
  }

  /** What was taken before and never became a document. */
  async function goOn(): Promise<void> {
    const all = await store.all();
    for (const [id, one] of all) if (one.personId !== personId) void store.remove(id);
    const mine = all.map(([, one]) => one).filter((one) => one.personId === personId);
    mine.sort((a, b) => a.place - b.place);
    const found = mine.map(({ id, corners, light, photograph }) =>
      Object.assign(blank(id, ''), { corners, light, photograph }),
    );
    taken.value = [...found, ...taken.value];
    for (const one of found) void workOn(one, () => make(one));
  }

  /** One document of all pages, in their order. */
  async function makeDocument(title: string): Promise<File> {
    await turn;
    const bytes = await inTurn(() =>
      work.makeDocument(
        pages.value.flatMap(({ page }) => page ?? []),
        title,
      ),
    );
    return new File([bytes], `${title}.pdf`, { type: 'application/pdf' });
  }

  /** What has become a document is kept here no longer. */
  async function clear(): Promise<void> {
    const all = taken.value;
    taken.value = [];
    for (const one of all) await store.remove(one.id);
  }

  tryOnScopeDispose(() => {
    thread.terminate();
    for (const { shown } of taken.value)
      for (const address of shown ? [shown.page, shown.photograph] : [])
        URL.revokeObjectURL(address);
  });

  return { taken, pages, busy, add, change, remove, goOn, makeDocument, clear };
}
