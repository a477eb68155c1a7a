import type { CarriedRow, CarriedTree } from '@sammlung/contract';
import { carriedKey, groupBy } from '@sammlung/core';
import type { Prepared } from './prepare.ts';

/** Folders that are listed of one tree, and of all. */
const OF_ONE = 300;
const OF_ALL = 2000;

/** The folders of each tree as they were, and as they will be; `titles` of those that are there. */
export function rowsOf(
  { folders, plan, trees, known, classes }: Prepared,
  titles: ReadonlyMap<string, string>,
): CarriedTree[] {
  const below = groupBy(folders, ({ parentId }) => parentId ?? '');
  const byId = new Map(folders.map((folder) => [folder.id, folder]));
  const made = new Map(
    plan.folders.map((one) => [carriedKey('folder', one.key, one.sourceId), one]),
  );
  const things = new Map<string, number>();
  for (const { folderId } of plan.placements) things.set(folderId, (things.get(folderId) ?? 0) + 1);
  let listed = 0;
  return trees.map(({ folderId, key, successors }) => {
    const rows: CarriedRow[] = [];
    let all = 0;
    const walk = (id: string, depth: number) => {
      const folder = byId.get(id)!;
      const name = carriedKey('folder', key, id);
      const [fresh, there] = [made.get(name), known.get(name)];
      if (there?.binned) return;
      all += 1;
      if (rows.length < OF_ONE && listed < OF_ALL) {
        listed += 1;
        rows.push({
          ...{ id, depth, before: folder.title, there: there?.id ?? null },
          after: fresh?.title ?? titles.get(there!.id) ?? folder.title,
          things: things.get(fresh?.id ?? there!.id) ?? 0,
        });
      }
      const inOrder = [...(below.get(id) ?? [])].sort((a, b) => a.position - b.position);
      for (const child of inOrder) walk(child.id, depth + 1);
    };
    walk(folderId, 0);
    return {
      ...{ folder: folderId, key, rows, more: all - rows.length },
      classes: [...successors.keys()].map((id) => {
        const { code, colour, course } = classes.get(id)!;
        return { id, code, colour, course };
      }),
    };
  });
}
