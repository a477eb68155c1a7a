import { useI18n } from 'vue-i18n';
import { explain } from './api/problems.ts';
import { say } from './shell/toast.ts';

/** Runs what somebody asked for at once; a refusal is told in a toast. `after` follows either way. */
export function useAction(after: () => unknown = () => undefined) {
  const { t } = useI18n();
  return async function attempt(run: () => Promise<unknown>): Promise<void> {
    try {
      await run();
    } catch (error) {
      say({ text: explain(t, error), tone: 'bad' });
    } finally {
      await after();
    }
  };
}
