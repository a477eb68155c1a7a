import {
  OUT,
  type Folder,
  type HandingOut,
  type Placement,
  type Release,
  type ReleaseRule,
} from '../src/index.ts';

/** A release that is out but for what is said, for single classes as well. */
export function rule(
  own: Partial<Release> = {},
  perClass: readonly (readonly [string, Release])[] = [],
): ReleaseRule {
  return { ...OUT, ...own, perClass: new Map(perClass) };
}

/** The folder at a path such as `top/unit`: a teacher's, and out. */
export function folder(path: string, more: Partial<Folder> = {}): Folder {
  const ids = path.split('/');
  return {
    id: ids.at(-1)!,
    ownerId: 'teacher',
    path: ids,
    release: rule(),
    binned: false,
    yearClosed: false,
    ...more,
  };
}

/** An item in a folder, out. */
export function placed(
  id: string,
  folderId: string,
  itemId: string,
  more: Partial<Placement> = {},
): Placement {
  return { id, folderId, itemId, release: rule(), binned: false, ...more };
}

/** A folder, or what is called `item…`, handed out to view for good. */
export function handed(
  target: string,
  audience: HandingOut['audience'],
  more: Partial<HandingOut> = {},
): HandingOut {
  const kind = target.startsWith('item') ? 'item' : 'folder';
  return {
    id: `${target}>${audience.id}`,
    target: { kind, id: target },
    audience,
    level: 'view',
    from: null,
    until: null,
    ...more,
  };
}
