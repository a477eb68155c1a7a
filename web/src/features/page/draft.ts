import type { PageDraft, Written } from '@sammlung/contract';
import { PAGE_LIMIT } from '@sammlung/core';
import { useDebounceFn, useEventListener, useIntervalFn } from '@vueuse/core';
import { createStore, del, get, set } from 'idb-keyval';
import { computed, ref, shallowRef } from 'vue';
import { api, ApiError, OfflineError } from '../../app/api/api.ts';

/** What was written and has not reached the server. */
interface KeptHere {
  html: string;
  base: number;
  /** When the draft was saved that this continues. */
  after: string | null;
}

/** After so long without a key what was written is saved, in milliseconds; while somebody writes on and on, so often. */
const PAUSE_MS = 1200;
const AT_LEAST_MS = 5000;
/** Without a connection it is tried again so often. */
const RETRY_MS = 10_000;

export type Saving =
  /** Nothing is different from what readers get. */
  | 'shown'
  | 'writing'
  | 'saved'
  /** Kept on this device: there is no connection. */
  | 'kept-here'
  /** Kept on this device: something else was written or shown meanwhile (`other`). */
  | 'meanwhile'
  | 'too-long'
  | 'refused';

const isChanged = (error: unknown) =>
  error instanceof ApiError && error.problem.code === 'changed-since';

/** Of what has not been sent yet there is one store on the device. */
const store = () => createStore('sammlung-drafts', 'drafts');

/**
 * A page as it is being written: it saves itself as a draft, on the device where the server cannot be reached. `written` tells
 * what stands on it now.
 */
export function useDraft(placementId: string, personId: string, written: () => string) {
  const params = { placement: placementId };
  const key = `${personId} ${placementId}`;
  const kept = store();
  const page = shallowRef<PageDraft>();
  /** The version from which was begun, and the one that readers get by now. */
  const base = ref(0);
  /** Whether readers get what is written while it is. */
  const whileWriting = ref(false);
  const shownNow = ref(0);
  const saving = ref<Saving>('shown');
  const savedAt = ref<string | null>(null);
  const problem = shallowRef<unknown>();
  /** What was written in another window, or shown by somebody else: until it is decided what becomes of the two, nothing is saved. */
  const other = shallowRef<{ of: 'draft' | 'version'; html: string } | null>(null);
  /** Grows with each change; what has been saved is as of one of them. */
  let changes = 0;
  let saved = 0;
  const dirty = () => changes > saved;

  /**
   * Resolves to what is to be written on: what this device kept, one's draft, or what readers get. What was kept has not been
   * sent: `save` does that.
   */
  async function open(): Promise<string> {
    const here = await get<KeptHere>(key, kept);
    try {
      page.value = await api('GET /api/placements/:placement/draft', { params });
    } catch (error) {
      if (!(error instanceof OfflineError && here)) throw error;
    }
    whileWriting.value = page.value?.whileWriting ?? false;
    const draft = page.value?.draft;
    base.value = (here ?? draft)?.base ?? page.value!.shown.version;
    shownNow.value = page.value?.shown.version ?? base.value;
    savedAt.value = (here ? here.after : draft?.savedAt) ?? null;
    if (here) {
      changes += 1;
      saving.value = 'kept-here';
    } else if (draft) saving.value = 'saved';
    return (here ?? draft ?? page.value!.shown).html;
  }

  /** Keeps what is written on this device. */
  const keepHere = (html: string) =>
    set(key, { html, base: base.value, after: savedAt.value } satisfies KeptHere, kept);

  const soon = useDebounceFn(() => (other.value ? keepHere(written()) : save()), PAUSE_MS, {
    maxWait: AT_LEAST_MS,
  });
  function changed() {
    changes += 1;
    if (!other.value) saving.value = 'writing';
    void soon();
  }

  /** What readers get, as the editor has it, while that is known: to have it again is no change. */
  let opened: string | null = null;
  /** The editor shows what `open` resolved to. */
  function begin() {
    if (saving.value === 'shown') opened = written();
    // What this device kept of an earlier time.
    void save();
  }

  let running: Promise<void> | null = null;
  /** Saves what has not been saved; one save after the other. Resolves when that has been tried. */
  async function save(): Promise<void> {
    while (running) await running;
    if (!dirty() || other.value) return;
    running = saveOnce().finally(() => (running = null));
    await running;
  }

  async function saveOnce() {
    const as = changes;
    const html = written();
    if (html === opened && savedAt.value === null) {
      await done(as);
      saving.value = 'shown';
      return;
    }
    if (html.length > PAGE_LIMIT) {
      saving.value = 'too-long';
      return;
    }
    await keepHere(html);
    try {
      const body = { html, base: base.value, after: savedAt.value };
      if (whileWriting.value) return await showNow(body, as);
      const reply = await api('PUT /api/placements/:placement/draft', { params, body });
      await done(as);
      savedAt.value = reply.savedAt;
      shownNow.value = reply.version;
      saving.value = dirty() ? 'writing' : 'saved';
    } catch (error) {
      try {
        if (!isChanged(error)) throw error;
        await meet();
      } catch (failure) {
        problem.value = failure;
        saving.value = failure instanceof OfflineError ? 'kept-here' : 'refused';
      }
    }
  }

  /** Looks what else there is: another draft of one's own, or another version than the one from which was begun. */
  async function meet() {
    page.value = await api('GET /api/placements/:placement/draft', { params });
    const { shown, draft } = page.value;
    shownNow.value = shown.version;
    saving.value = 'meanwhile';
    other.value =
      draft && draft.savedAt !== savedAt.value
        ? { of: 'draft', html: draft.html }
        : { of: 'version', html: shown.html };
  }

  /** What was written up to a change is safe. */
  async function done(as: number) {
    saved = as;
    if (!dirty()) await del(key, kept);
  }

  /**
   * Shows what is written. Resolves to whether it was: not where there is something else by now (`other`), or what is written
   * cannot be saved. Throws ApiError or OfflineError.
   */
  async function show(): Promise<boolean> {
    await save();
    if (dirty() || other.value) return false;
    // It is what readers get already.
    if (whileWriting.value && saving.value === 'shown') return true;
    try {
      await showNow({ html: written(), base: base.value, after: savedAt.value }, changes);
      return true;
    } catch (error) {
      if (!isChanged(error)) throw error;
      await meet();
      return false;
    }
  }

  async function showNow(text: Written, as: number) {
    const body = { ...text, whileWriting: whileWriting.value };
    const reply = await api('POST /api/placements/:placement/shown', { params, body });
    base.value = shownNow.value = reply.version;
    await done(as);
    savedAt.value = null;
    opened = text.html;
    saving.value = dirty() ? 'writing' : 'shown';
  }

  /** Says whether readers get what is written while it is; if so they get what is written now. Resolves as `show` does. */
  async function showWhileWriting(on: boolean): Promise<boolean> {
    await api('PUT /api/placements/:placement/showing', { params, body: { whileWriting: on } });
    whileWriting.value = on;
    return !on || show();
  }

  /** What is written now goes on from what there is by now, and is saved in place of it. */
  function goOn() {
    const found = page.value!;
    base.value = found.shown.version;
    savedAt.value = found.draft?.savedAt ?? null;
    other.value = null;
    opened = null;
    changed();
  }

  /** Drops what is written here for what there is by now. Resolves to that. */
  async function takeOther(): Promise<string> {
    while (running) await running;
    const { of, html } = other.value!;
    if (of === 'version') await api('DELETE /api/placements/:placement/draft', { params });
    const { shown, draft } = page.value!;
    base.value = (of === 'draft' ? draft?.base : null) ?? shown.version;
    savedAt.value = of === 'draft' ? (draft?.savedAt ?? null) : null;
    await done(changes);
    saving.value = of === 'draft' ? 'saved' : 'shown';
    other.value = null;
    opened = null;
    return html;
  }

  useIntervalFn(() => saving.value === 'kept-here' && void save(), RETRY_MS);
  useEventListener(window, 'online', () => void save());
  useEventListener(document, 'visibilitychange', () => document.hidden && void save());
  useEventListener(window, 'beforeunload', (event) => {
    if (saving.value !== 'writing' || !dirty()) return;
    void save();
    event.preventDefault();
  });

  return {
    ...{ page, base, shownNow, saving, savedAt, problem, other, whileWriting },
    newer: computed(() => shownNow.value > base.value),
    ...{ open, begin, changed, save, show, showWhileWriting, meet, goOn, takeOther },
  };
}
