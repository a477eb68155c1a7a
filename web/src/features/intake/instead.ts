import type { SameName } from '@sammlung/contract';
import { useI18n } from 'vue-i18n';
import { explain } from '../../app/api/problems.ts';
import { say } from '../../app/shell/toast.ts';
import { useUploads } from '../../app/uploads/uploads.ts';
import type { Transfer } from '../../app/uploads/transfer.ts';

/** Decides otherwise about files that became versions; what cannot be changed any more is named, and the others go on. */
export function useInstead() {
  const { t } = useI18n();
  const uploads = useUploads();
  return async (which: readonly Transfer[], choice: Exclude<SameName, 'version'>) => {
    for (const x of which)
      try {
        await uploads.instead(x, choice);
      } catch (error) {
        say({ text: `${x.name}: ${explain(t, error)}`, tone: 'bad' });
      }
  };
}
