import type { CarryOver, CarryPlan, CarryYear } from '@sammlung/contract';
import { useQueryCache } from '@pinia/colada';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { say } from '../../app/shell/toast.ts';

/** What is proposed to carry over: the classes that follow by course and code, with all that the classes before them had. */
export function proposedPlan(from: CarryYear, to: CarryYear): CarryPlan {
  const follows = (code: string, course: string) =>
    to.classes.find((one) => one.course === course && one.code === code) ??
    to.classes.find((one) => one.code === code) ??
    to.classes.find((one) => one.course === course);
  const classes = from.classes.map(({ id, code, course }) => ({
    from: id,
    to: [follows(code, course)?.id ?? []].flat(),
  }));
  const followed = new Set(classes.flatMap((one) => (one.to.length > 0 ? [one.from] : [])));
  return {
    ...{ from: from.id, to: to.id, classes, into: null, names: [], handOut: false, boxes: [] },
    folders: from.folders
      .filter((one) => one.classes.length === 0 || one.classes.some((id) => followed.has(id)))
      .map(({ id }) => id),
    pages: from.classes
      .filter(({ id, entries }) => entries > 0 && followed.has(id))
      .map(({ id }) => id),
  };
}

/** What may have changed on the screen once something was carried over. */
const CONCERNED = ['tree', 'folder', 'carry-over', 'class-page', 'boxes', 'bin', 'today', 'board'];

export function useCarryOvers() {
  const { t } = useI18n();
  const cache = useQueryCache();
  const refresh = () =>
    Promise.all(CONCERNED.map((name) => cache.invalidateQueries({ key: [name] })));

  /** To be called once folders of a year are there no more, or again. */
  const refreshYears = () => cache.invalidateQueries({ key: ['carry-over', 'start'] });

  /** In words what was made: “12 folders, 80 things, 5 entries”. */
  function madeWords({ made }: Pick<CarryOver, 'made'>): string {
    if (!made) return '';
    return (
      [
        ['count.folders', made.folders],
        ['count.things', made.placements],
        ['carry-over.entries', made.entries],
        ['carry-over.boxes', made.boxes],
      ] as const
    )
      .filter(([, n]) => n > 0)
      .map(([key, n]) => t(key, n))
      .join(', ');
  }

  async function undo(id: string) {
    await api('DELETE /api/carry-over/:carryOver', { params: { carryOver: id } });
    await refresh();
  }
  /** Says that it is done, with Undo. */
  function tell(done: CarryOver) {
    say({
      text: t('carry-over.done', { what: madeWords(done) || t('carry-over.nothing') }),
      undo: () => undo(done.id),
    });
  }
  return { refresh, refreshYears, undo, tell, madeWords };
}
