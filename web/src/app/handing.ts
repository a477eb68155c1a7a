import type {
  AudienceChoice,
  AudienceRow,
  CoverNote,
  Door,
  GrantChange,
  HandedUndo,
  RosterAudience,
  Thing,
} from '@sammlung/contract';
import { api } from './api/api.ts';
import { useChanging } from './changing.ts';

/** When a handing out is in force, and what it allows. */
export type Terms = GrantChange;
export const AT_ONCE: Terms = { level: 'view', from: null, until: null };

/** Handing out and taking back. Each resolves, as soon as the server has done it, to how to undo it. */
export function useHandingOut() {
  const { changed, withRefresh } = useChanging();
  const undoing = (undo: () => Promise<unknown>) => async () => {
    await undo();
    await changed();
  };

  async function handOut(
    things: readonly Thing[],
    audiences: readonly RosterAudience[],
    terms: Terms = AT_ONCE,
    note: CoverNote | null = null,
  ) {
    const { already, noted, ...handed } = await withRefresh(
      api('POST /api/grants', {
        body: {
          things,
          audiences: audiences.map(({ kind, id }) => ({ kind, id })),
          ...terms,
          note,
        },
      }),
    );
    const some = handed.made.length + handed.changed.length > 0;
    return { already, noted, undo: some ? () => undoHanding(handed) : undefined };
  }

  /** What was made is taken back, what got other terms has those from before. */
  async function undoHanding({ made, changed: others }: HandedUndo) {
    if (made.length > 0) await api('POST /api/grants/take-back', { body: { grants: made } });
    for (const { id, before } of others)
      await api('PUT /api/grants/:grant', { params: { grant: id }, body: before });
    await changed();
  }

  async function takeBack(grants: readonly string[]) {
    await withRefresh(api('POST /api/grants/take-back', { body: { grants } }));
    return undoing(() => api('POST /api/grants/restore', { body: { grants } }));
  }

  async function changeTerms(grant: string, terms: Terms) {
    const before = await withRefresh(
      api('PUT /api/grants/:grant', { params: { grant }, body: terms }),
    );
    return undoing(() => api('PUT /api/grants/:grant', { params: { grant }, body: before }));
  }

  async function openDoor(thing: Thing, kind: Door['kind']) {
    const door = await withRefresh(api('POST /api/doors', { body: { thing, kind } }));
    return undoing(() => api('DELETE /api/doors/:door', { params: { door: door.id } }));
  }

  async function closeDoor(door: string) {
    await withRefresh(api('DELETE /api/doors/:door', { params: { door } }));
    return undoing(() => api('POST /api/doors/:door/reopen', { params: { door } }));
  }

  /** Turns a row of the panel, or a square of the board, the other way round. */
  function turn(thing: Thing, row: Pick<AudienceRow, 'kind' | 'id'>, here: string | null) {
    const { kind, id } = row;
    if (kind === 'public' || kind === 'school-door')
      return here ? closeDoor(here) : openDoor(thing, kind === 'public' ? 'public' : 'school');
    return here ? takeBack([here]) : handOut([thing], [{ kind, id }]).then(({ undo }) => undo);
  }

  return { handOut, undoHanding, takeBack, changeTerms, turn };
}

/** Whether a handing out to this audience may allow more than looking. */
export const colleagues = ({ kind, about }: Pick<AudienceChoice, 'kind' | 'about'>) =>
  kind === 'staff' || (kind === 'person' && about !== 'student');
