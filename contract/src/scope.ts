import { z } from 'zod';
import { AsParams, TokenParams } from './common.ts';
import type { ScopePath } from './route.ts';

const scope = <const P extends string, S extends z.ZodRawShape>(path: ScopePath<P, S>) => path;

/** Where people with a session read for themselves. */
export const OWN_PATH: ScopePath<'/api', Record<never, never>> = {
  prefix: '/api',
  params: z.object({}),
};
/** Where whoever shows the token of a door reads. */
export const DOOR_PATH = scope({ prefix: '/api/open/:token', params: TokenParams });
/** Where a teacher reads as somebody else would, at some time. */
export const SEEN_AS_PATH = scope({ prefix: '/api/as/:as/:at', params: AsParams });

export type ScopePrefix = (typeof OWN_PATH | typeof DOOR_PATH | typeof SEEN_AS_PATH)['prefix'];
