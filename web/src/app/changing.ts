import type { Change, Consequences } from '@sammlung/contract';
import { useQueryCache } from '@pinia/colada';
import { useI18n } from 'vue-i18n';
import { ask } from './shell/ask.ts';
import { previewChange } from './change-preview.ts';
import { explain } from './api/problems.ts';
import { useSentences } from './sentence.ts';
import { say } from './shell/toast.ts';

/** What a change may have made different on the screen. */
const CONCERNED = [
  'tree',
  'folder',
  'audience',
  'placement',
  'bin',
  'space',
  'timing',
  'board',
  'today',
  'courses',
  'staff-room',
];

/** What every change of a teacher goes through: its consequence before, the screen brought up to date after. */
export function useChanging() {
  const { t } = useI18n();
  const { describe } = useSentences();
  const cache = useQueryCache();

  /** Resolves when all that is shown has been brought up to date. */
  const changed = () =>
    Promise.all(CONCERNED.map((name) => cache.invalidateQueries({ key: [name] })));

  async function withRefresh<T>(done: Promise<T>): Promise<T> {
    try {
      return await done;
    } finally {
      // What was done can be told, and undone, before the screen has caught up.
      void changed();
    }
  }

  /** What a change would do, in words; asks first where that is wanted. Null: better not. */
  const consent = async (change: Change, yes: string) => agree(await previewChange(change), yes);

  /** The same where it is known what it would do. */
  async function agree(consequences: Consequences, yes: string): Promise<string | null> {
    const text = describe(consequences);
    if (!consequences.asks) return text;
    return (await ask({ title: t('consequence.title'), text, yes })) ? text : null;
  }

  /** Runs a change; a refusal is shown as a toast. Resolves to whether it was made. */
  async function attempt(run: () => Promise<boolean>): Promise<boolean> {
    try {
      return await run();
    } catch (error) {
      say({ text: explain(t, error), tone: 'bad' });
      return false;
    }
  }

  return { changed, withRefresh, consent, agree, attempt };
}
