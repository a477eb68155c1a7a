import type { Library } from './access.ts';
import { audienceName } from './audience.ts';
import { groupBy } from './group.ts';
import type { Audience, HandingOut, Id, Instant } from './model.ts';
import type { ReleaseState } from './release.ts';
import { bestOf, standingsOf } from './tabs.ts';

/** How one folder stands to one audience, for the board. */
export interface Square {
  readonly folderId: Id;
  readonly audience: Audience;
  readonly state: ReleaseState;
  /** When it goes out, with `later`. */
  readonly from: Instant | null;
  /** The handing out on this very folder by itself; null where it all comes from above, or by entries of class pages. */
  readonly here: HandingOut | null;
}

/** Every square that is not empty, folder by folder. Work grows with the folders and what is handed out on their paths. */
export function squares(library: Library, folderIds: readonly Id[], t: Instant): Square[] {
  return folderIds.flatMap((folderId) => {
    const perAudience = groupBy(standingsOf(library, folderId, null, t), (s) =>
      audienceName(s.audience),
    );
    return [...perAudience.values()].map((standings): Square => {
      const best = bestOf(standings);
      const here =
        standings.find((s) => s.through.target.id === folderId && !s.through.appearanceId)
          ?.through ?? null;
      return { folderId, audience: best.audience, state: best.state, from: best.from, here };
    });
  });
}
