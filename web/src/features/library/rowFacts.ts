import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { useFormat } from '../../app/format.ts';
import { useMeta } from '../../app/meta.ts';
import { contentAddress, folderArchiveAddress } from '../../app/api/addresses.ts';
import { useReadingPlace } from '../../app/place.ts';
import { TO_PAGE } from './asPage.ts';
import type { DropPlace } from './drag.ts';
import type { Row } from './library.ts';

export type RowAct =
  | 'write'
  | 'to-page'
  | 'rename'
  | 'move'
  | 'place'
  | 'mark'
  | 'about'
  | 'hand-out'
  | 'timing'
  | 'why'
  | 'reach'
  | 'top'
  | 'remove';

/** What a row is given, as a line or as a tile. */
export interface RowProps {
  readonly row: Row;
  /** The first folders in it, which can be gone to from here; none where they are not shown. */
  readonly inside?: readonly { readonly id: string; readonly title: string }[];
  readonly mayChange: boolean;
  /** Whether the person manages the folder. */
  readonly manages: boolean;
  /** Whether a panel stands beside the list, over whose edge the tabs reach. */
  readonly beside: boolean;
  /** Whether there is no room for the tabs at the edge. */
  readonly narrow: boolean;
  readonly chosen: boolean;
  /** Whether others are chosen, so that the boxes show. */
  readonly choosing: boolean;
  /** Cut, and not pasted yet. */
  readonly cut: boolean;
  readonly renaming: boolean;
  readonly rename: (title: string) => Promise<unknown>;
  /** What goes along when it is dragged. */
  readonly dragging: () => readonly Row[];
  readonly drop: DropPlace | null;
}

export interface RowEvents {
  choose: [event: MouseEvent];
  act: [name: RowAct];
  named: [];
}

/** With Ctrl or Shift a click chooses, it does not open. */
export function chooses(event: MouseEvent): boolean {
  if (!event.ctrlKey && !event.metaKey && !event.shiftKey) return false;
  event.preventDefault();
  return true;
}

/** What a row of the Library says and offers, as a line or as a tile. */
export function useRowFacts(row: () => Row, mayChange: () => boolean, manages: () => boolean) {
  const { t } = useI18n();
  const { moment } = useFormat();
  const meta = useMeta();
  const place = useReadingPlace();

  const tabs = computed(() => row().folder?.tabs ?? row().item?.tabs ?? []);
  /** In words what the tabs show: one state for all, or the first date at which something changes. */
  const when = computed(() => {
    const states = new Set(tabs.value.map((tab) => tab.state));
    const own = row().folder?.release ?? row().item?.release;
    if (tabs.value.length === 0)
      return { text: t(own?.held ? 'state.held' : 'state.private'), tone: 'text-soft' };
    const later = tabs.value.find((tab) => tab.state === 'later');
    if (states.has('out')) return { text: t('state.out'), tone: 'text-good' };
    if (later?.from)
      return { text: t('state.later', { when: moment(later.from) }), tone: 'text-saffron-ink' };
    return { text: t('state.held'), tone: 'text-soft' };
  });
  const to = computed(() =>
    row().kind === 'folder' ? place.folder(row().id) : place.item(row().id),
  );
  const below = computed(() => {
    const { folder, item } = row();
    if (item) return meta(item);
    if (!folder) return '';
    return [t('count.folders', folder.folders), t('count.items', folder.items)]
      .slice(folder.folders > 0 ? 0 : 1)
      .join(' · ');
  });
  const onTop = computed(() => row().folder?.keepOnTop ?? row().item?.keepOnTop ?? false);

  /** Whether there is anything to do with it. */
  const acts = computed(() => mayChange() || row().item?.kind !== 'link');
  const actions = (): {
    name: RowAct | 'download';
    text: string;
    keys?: string;
    href?: string;
  }[] => {
    const { item, folder, id } = row();
    return [
      ...(mayChange() && item?.kind === 'page'
        ? [{ name: 'write' as const, text: t('library.write') }]
        : []),
      ...(folder || item?.kind !== 'link'
        ? [
            {
              name: 'download' as const,
              text: t('desk.download'),
              href: folder
                ? folderArchiveAddress(place, id)
                : contentAddress(place, id, 'attachment'),
            },
          ]
        : []),
      ...(mayChange()
        ? [
            ...(item?.kind === 'file' && TO_PAGE.has(item.mediaType)
              ? [{ name: 'to-page' as const, text: t('library.to-page') }]
              : []),
            { name: 'rename' as const, text: t('library.rename'), keys: 'F2' },
            ...(folder ? [{ name: 'mark' as const, text: t('library.mark') }] : []),
            ...(item ? [{ name: 'about' as const, text: t('library.about') }] : []),
            { name: 'move' as const, text: t('library.move'), keys: 'M' },
            ...(item ? [{ name: 'place' as const, text: t('library.also-put') }] : []),
            ...(manages()
              ? [
                  { name: 'hand-out' as const, text: t('library.hand-out') },
                  { name: 'timing' as const, text: t('library.timing') },
                  { name: 'why' as const, text: t('library.why') },
                  { name: 'reach' as const, text: t('reach.link') },
                  {
                    name: 'top' as const,
                    text: t(onTop.value ? 'library.top-off' : 'library.top-on'),
                  },
                ]
              : []),
            { name: 'remove' as const, text: t('library.remove'), keys: 'Del' },
          ]
        : []),
    ];
  };
  return { tabs, when, to, below, onTop, acts, actions };
}
