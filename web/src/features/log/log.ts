import type { LOG_ROUTES } from '@sammlung/contract';
import { useInfiniteQuery } from '@pinia/colada';
import type { z } from 'zod';
import { api } from '../../app/api/api.ts';

type Page = z.infer<(typeof LOG_ROUTES)['GET /api/log']['reply']>;
type Query = z.infer<(typeof LOG_ROUTES)['GET /api/log']['query']>;

/** The log, page after page: only what was done with these things, by or to these people, on this day. */
export function useLog(query: () => Query) {
  return useInfiniteQuery<Page, Error, number | null>({
    key: () => ['log', { ...query() }],
    initialPageParam: null,
    query: ({ pageParam }) =>
      api('GET /api/log', { query: { ...query(), after: pageParam ?? undefined } }),
    getNextPageParam: (page) => page.next,
    staleTime: 0,
    placeholderData: (before) => before,
  });
}
