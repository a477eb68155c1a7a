import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { useUploads } from '../../app/uploads/uploads.ts';
import type { Transfer } from '../../app/uploads/transfer.ts';

/** What is said about whatever is on its way in, or has just arrived. */
export function useUploadWords() {
  const { t } = useI18n();
  const uploads = useUploads();

  const by = (state: Transfer['state']) => uploads.transfers.filter((x) => x.state === state);
  const done = computed(() => by('done'));
  const failed = computed(() => by('failed').length);
  const stopped = computed(() => by('stopped').length);
  const lost = computed(() => by('lost').length);
  const busy = computed(() => uploads.running.length > 0 || uploads.preparing);
  const added = computed(() =>
    done.value.filter(
      ({ result }) => result?.outcome !== 'skipped' && result?.outcome !== 'unchanged',
    ),
  );
  /** Where files have arrived. */
  const folders = computed(() => [
    ...new Map(added.value.map(({ folder }) => [folder.id, folder])).values(),
  ]);
  /** How many wait for the person: to go on, to be chosen again, or to be a file of their own after all. */
  const unsettled = computed(
    () => failed.value + stopped.value + lost.value + uploads.versions.length,
  );

  const headline = computed(() => {
    if (uploads.preparing) return t('intake.preparing');
    if (busy.value)
      return t('intake.running', { done: done.value.length, count: uploads.transfers.length });
    const where =
      folders.value.length > 3
        ? t('count.folders', folders.value.length)
        : folders.value.map((folder) => folder.title).join(', ');
    const parts = [
      added.value.length > 0 &&
        t('intake.done', { files: t('count.files', added.value.length), folder: where }),
      done.value.length > added.value.length &&
        t('intake.nothing-new', done.value.length - added.value.length),
      failed.value > 0 && t('intake.failed', failed.value),
      stopped.value > 0 && t('intake.stopped-some', stopped.value),
      lost.value > 0 && t('intake.lost-some', lost.value),
      uploads.versions.length > 1 && `${t('intake.versions', uploads.versions.length)}.`,
    ];
    return parts.filter(Boolean).join(' ');
  });
  return { busy, folders, headline, unsettled };
}
