import type { PageDraft } from '@sammlung/contract';
import { PAGE_LIMIT } from '@sammlung/core';
import { useDebounceFn, useEventListener, useIntervalFn } from '@vueuse/core';
import { createStore, del, get, set } from 'idb-keyval';
import { computed, ref, shallowRef } from 'vue';
import { api, ApiError, OfflineError } from '../../app/api/api.ts';

/** What was written and has not reached the server. */
interface KeptHere {
  html: string;
  base: number;
  at: number;
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
  | 'too-long'
  | 'refused';

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
  const shownNow = ref(0);
  const saving = ref<Saving>('shown');
  const savedAt = ref<string | null>(null);
  const problem = shallowRef<unknown>();
  /** Grows with each change; what has been saved is as of one of them. */
  let changes = 0;
  let saved = 0;
  const dirty = () => changes > saved;

  /** Resolves to what is to be written on: what this device kept, one's draft, or what readers get. */
  async function open(): Promise<string> {
    const here = await get<KeptHere>(key, kept);
    const found = await api('GET /api/placements/:placement/draft', { params }).catch((error) => {
      if (error instanceof OfflineError && here) return null;
      throw error;
    });
    if (!found) {
      base.value = shownNow.value = here!.base;
      changes += 1;
      saving.value = 'kept-here';
      return here!.html;
    }
    page.value = found;
    shownNow.value = found.shown.version;
    const newest =
      here && here.at > Date.parse(found.draft?.savedAt ?? '1970-01-01') ? here : found.draft;
    base.value = newest?.base ?? found.shown.version;
    savedAt.value = found.draft?.savedAt ?? null;
    if (newest === here && here) {
      changes += 1;
      saving.value = 'kept-here';
      void save();
    } else if (newest) saving.value = 'saved';
    return newest?.html ?? found.shown.html;
  }

  const soon = useDebounceFn(() => save(), PAUSE_MS, { maxWait: AT_LEAST_MS });
  function changed() {
    changes += 1;
    saving.value = 'writing';
    void soon();
  }

  let running: Promise<void> | null = null;
  /** Saves what has not been saved; one save after the other. Resolves when that has been tried. */
  async function save(): Promise<void> {
    while (running) await running;
    if (!dirty()) return;
    running = saveOnce().finally(() => (running = null));
    await running;
  }

  async function saveOnce() {
    const as = changes;
    const html = written();
    if (html.length > PAGE_LIMIT) {
      saving.value = 'too-long';
      return;
    }
    await set(key, { html, base: base.value, at: Date.now() } satisfies KeptHere, kept);
    try {
      const body = { html, base: base.value };
      const reply = await api('PUT /api/placements/:placement/draft', { params, body });
      await done(as);
      savedAt.value = reply.savedAt;
      shownNow.value = reply.version;
      saving.value = dirty() ? 'writing' : 'saved';
    } catch (error) {
      if (error instanceof OfflineError) saving.value = 'kept-here';
      else {
        problem.value = error;
        saving.value = 'refused';
      }
    }
  }

  /** What was written up to a change is safe. */
  async function done(as: number) {
    saved = as;
    if (!dirty()) await del(key, kept);
  }

  /**
   * Shows what is written. Resolves to true; to false where readers get another version by now than the one from which was
   * begun (`shownNow`): then nothing has changed. Throws ApiError or OfflineError.
   */
  async function show(): Promise<boolean> {
    while (running) await running;
    const as = changes;
    const body = { html: written(), base: base.value };
    try {
      const reply = await api('POST /api/placements/:placement/shown', { params, body });
      base.value = shownNow.value = reply.version;
      await done(as);
      savedAt.value = null;
      saving.value = dirty() ? 'writing' : 'shown';
      return true;
    } catch (error) {
      if (!(error instanceof ApiError) || error.problem.code !== 'changed-since') throw error;
      await look();
      return false;
    }
  }

  /** Looks what readers get by now. */
  async function look() {
    page.value = await api('GET /api/placements/:placement/draft', { params });
    shownNow.value = page.value.shown.version;
  }

  /** What is written now continues the version that readers get by now. */
  function takeBase() {
    base.value = shownNow.value;
    changed();
  }

  /** Drops one's own draft. Resolves to what readers get. */
  async function drop(): Promise<string> {
    while (running) await running;
    await api('DELETE /api/placements/:placement/draft', { params });
    await look();
    base.value = shownNow.value;
    await done(changes);
    savedAt.value = null;
    saving.value = 'shown';
    return page.value!.shown.html;
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
    ...{ page, base, shownNow, saving, savedAt, problem },
    newer: computed(() => shownNow.value > base.value),
    ...{ open, changed, save, show, look, takeBase, drop },
  };
}
