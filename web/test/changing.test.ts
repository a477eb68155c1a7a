// @vitest-environment jsdom
import type { Change, Consequences } from '@sammlung/contract';
import { afterEach, describe, expect, it, vi } from 'vitest';
import { ApiError } from '../src/app/api/api.ts';
import { asked } from '../src/app/shell/ask.ts';
import { useChanging } from '../src/app/changing.ts';
import { previewChange } from '../src/app/change-preview.ts';
import { dismiss, toasts } from '../src/app/shell/toast.ts';

const invalidated = vi.hoisted(() => vi.fn());
vi.mock('@pinia/colada', () => ({ useQueryCache: () => ({ invalidateQueries: invalidated }) }));
vi.mock('vue-i18n', () => ({ useI18n: () => ({ t: (key: string) => key }) }));
vi.mock('../src/app/change-preview.ts', () => ({ previewChange: vi.fn() }));
vi.mock('../src/app/sentence.ts', () => ({
  useSentences: () => ({
    describe: ({ asks }: Consequences) => (asks ? 'SO1A loses' : 'SO1A gains'),
  }),
}));
vi.mock('../src/app/api/problems.ts', () => ({
  explain: (_: unknown, error: ApiError) => `said: ${error.problem.code}`,
}));

const CHANGE: Change = { do: 'remove', things: [{ kind: 'folder', id: 'f' }] };
const consequences = (asks: boolean) => ({ asks }) as Consequences;
const { withRefresh, consent, attempt } = useChanging();

afterEach(() => {
  invalidated.mockReset();
  while (toasts.value.length > 0) dismiss(toasts.value[0]!.id);
});

describe('a change', () => {
  it('that needs no question is told and not asked about', async () => {
    vi.mocked(previewChange).mockResolvedValue(consequences(false));
    expect(await consent(CHANGE, 'Remove')).toBe('SO1A gains');
    expect(previewChange).toHaveBeenCalledWith(CHANGE);
    expect(asked.value).toBeNull();
  });

  it.each([
    [true, 'SO1A loses'],
    [false, null],
  ])(
    'that takes something away is asked about; answered with %s it gives %s',
    async (yes, text) => {
      vi.mocked(previewChange).mockResolvedValue(consequences(true));
      const answer = consent(CHANGE, 'Remove');
      await vi.waitUntil(() => asked.value);
      expect(asked.value).toMatchObject({ text: 'SO1A loses', yes: 'Remove' });
      asked.value!.answer(yes);
      expect(await answer).toBe(text);
      expect(asked.value).toBeNull();
    },
  );

  it('brings the screen up to date once it was made, without being waited for', async () => {
    let caughtUp = false;
    invalidated.mockImplementation(() => new Promise(() => (caughtUp = true)));
    expect(await withRefresh(Promise.resolve('made'))).toBe('made');
    expect(caughtUp).toBe(true);
    const names = invalidated.mock.calls.map(([{ key }]) => key[0] as string);
    for (const name of ['tree', 'folder', 'audience', 'bin', 'board', 'today'])
      expect(names).toContain(name);
  });

  it('that is refused brings the screen up to date too: something else may have changed', async () => {
    const refusal = new ApiError({ code: 'not-found', status: 404 });
    await expect(withRefresh(Promise.reject(refusal))).rejects.toBe(refusal);
    expect(invalidated).toHaveBeenCalled();
  });

  it('that is refused says so in a toast', async () => {
    expect(await attempt(async () => true)).toBe(true);
    expect(toasts.value).toEqual([]);
    const refusal = new ApiError({ code: 'title-taken', status: 409 });
    expect(await attempt(() => Promise.reject(refusal))).toBe(false);
    expect(toasts.value).toMatchObject([{ text: 'said: title-taken', tone: 'bad' }]);
  });
});
