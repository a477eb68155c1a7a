import type { Language, NextStep, PasskeyAnswer, Person } from '@sammlung/contract';
import { useQueryCache } from '@pinia/colada';
import { defineStore } from 'pinia';
import { ref } from 'vue';
import { api, whenSessionEnds } from '../api/api.ts';
import { language, rememberLanguage, switchLanguage } from '../i18n.ts';

/** What somebody has on the device; visitors have nothing, and do not load it. */
const device = async () => (await import('../device/device.ts')).useDevice();

/** Who has signed in, and the wait for signing in again when a session ends in the middle of work. */
export const useSession = defineStore('session', () => {
  const cache = useQueryCache();
  const person = ref<Person | null>(null);
  const loaded = ref(false);
  /** True while the person is asked to sign in again. */
  const ended = ref(false);
  let waiting: { promise: Promise<void>; go: () => void } | null = null;

  /** Asks who it is, and speaks their language. */
  async function take() {
    const { person: found } = await api('GET /api/session');
    if (found?.language) await switchLanguage(found.language);
    person.value = found;
    if (!import.meta.env.SSR)
      void device().then(({ start }) => start(found && found.kind !== 'office' ? found : null));
  }

  async function load() {
    if (loaded.value) return;
    await take();
    loaded.value = true;
  }

  /** Signs in. Resolves to what has to come first, if anything has; then nobody has signed in yet. */
  async function signIn(email: string, password: string): Promise<NextStep | null> {
    const before = person.value?.id;
    const next = await api('POST /api/session', { body: { email, password } });
    if (!next) await entered(before);
    return next;
  }

  /** The second step of signing in. */
  async function giveCode(code: string): Promise<void> {
    const before = person.value?.id;
    await api('POST /api/session/code', { body: { code } });
    await entered(before);
  }

  /** Signs in by what the browser answered with a passkey. */
  async function givePasskey(answer: PasskeyAnswer): Promise<void> {
    const before = person.value?.id;
    await api('PUT /api/session/passkey', { body: answer });
    await entered(before);
  }

  /** After signing in in another tab: goes on where that has worked. */
  async function comeBack(): Promise<void> {
    const { person: found } = await api('GET /api/session');
    if (found) await entered(person.value?.id);
  }

  /** Somebody has signed in, where `before` had. */
  async function entered(before: string | undefined): Promise<void> {
    await take();
    if (before === undefined) {
      // What nobody was shown may be for this person.
      void cache.invalidateQueries();
    } else if (before !== person.value?.id) {
      // Somebody else: nothing of the first person may stay on the screen.
      location.assign('/');
      return;
    }
    ended.value = false;
    waiting?.go();
    waiting = null;
  }

  /** One’s own name is another one now. */
  function rename(name: string) {
    if (person.value) person.value = { ...person.value, name };
  }

  async function signOut() {
    await (await device()).forget();
    await api('DELETE /api/session');
    // The browser was told to forget everything; which language it speaks is nobody's secret.
    rememberLanguage(language());
    for (const entry of cache.getEntries()) cache.remove(entry);
    // A fresh page: no store, no cache, no open request of this person is left.
    location.assign('/sign-in');
  }

  /** Another language for the screens, in this browser and, of somebody who has signed in, everywhere. */
  async function choose(chosen: Language) {
    await switchLanguage(chosen);
    rememberLanguage(chosen);
    if (!person.value) return;
    await api('PUT /api/session/language', { body: { language: chosen } });
    person.value = { ...person.value, language: chosen };
  }

  /** Resolves when the person has signed in again; all who wait go on together. */
  function signInAgain(): Promise<void> {
    ended.value = true;
    if (!waiting) {
      let go = () => {};
      const promise = new Promise<void>((resolve) => (go = resolve));
      waiting = { promise, go };
    }
    return waiting.promise;
  }

  // A page that the browser has held while others were open may be of somebody who has signed out since.
  if (!import.meta.env.SSR)
    window.addEventListener('pageshow', (event) => event.persisted && location.reload());

  whenSessionEnds(async () => {
    if (person.value) await signInAgain();
    return person.value !== null;
  });

  return {
    person,
    ended,
    load,
    signIn,
    giveCode,
    givePasskey,
    comeBack,
    rename,
    signOut,
    choose,
    signInAgain,
  };
});
