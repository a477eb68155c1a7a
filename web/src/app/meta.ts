import type { ItemRow } from '@sammlung/contract';
import { useI18n } from 'vue-i18n';
import { useFormat } from './format.ts';

/** The line below an item's title: day, size, version. */
export function useMeta() {
  const { t } = useI18n();
  const { day, size } = useFormat();
  return (item: Pick<ItemRow, 'kind' | 'lessonDate' | 'changedAt' | 'size' | 'version' | 'url'>) =>
    [
      day(item.lessonDate ?? item.changedAt),
      item.size === null || item.kind === 'page' ? '' : size(item.size),
      item.kind === 'link' && item.url ? new URL(item.url).host : '',
      (item.version ?? 1) > 1 ? t('item.version', { number: item.version }) : '',
    ]
      .filter(Boolean)
      .join(' · ');
}
