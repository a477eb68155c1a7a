import type { TreeFolder } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { api } from './api/api.ts';

export function useTree() {
  return useQuery({ key: ['tree'], query: () => api('GET /api/library/tree') });
}

/** A folder in the tree with its depth and the names above it. */
export interface Branch extends TreeFolder {
  readonly depth: number;
  readonly above: readonly string[];
}

/** The tree from top to bottom; below a folder only when `open` says so. */
export function branches(folders: readonly TreeFolder[], open: (id: string) => boolean): Branch[] {
  const children = new Map<string | null, TreeFolder[]>();
  for (const folder of folders) {
    const siblings = children.get(folder.parentId);
    if (siblings) siblings.push(folder);
    else children.set(folder.parentId, [folder]);
  }
  const found: Branch[] = [];
  const walk = (parent: string | null, depth: number, above: readonly string[]) => {
    for (const folder of children.get(parent) ?? []) {
      found.push({ ...folder, depth, above });
      if (open(folder.id)) walk(folder.id, depth + 1, [...above, folder.title]);
    }
  };
  walk(null, 0, []);
  return found;
}

/** The branches whose name, or that of a folder above, holds all the words typed. */
export function namedBranches(folders: readonly TreeFolder[], typed: string): Branch[] {
  const words = typed.toLowerCase().split(/\s+/u).filter(Boolean);
  return branches(folders, () => true).filter((branch) => {
    const name = [...branch.above, branch.title].join(' ').toLowerCase();
    return words.every((word) => name.includes(word));
  });
}
