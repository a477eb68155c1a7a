import { FORBIDDEN_CHARACTERS } from '@sammlung/core';
import { ApiError, OfflineError } from './api.ts';

type Translate = (key: string, named?: Record<string, unknown>) => string;

/** What went wrong, in the words of the screen. Anything but an error of the API is thrown on. */
export function explain(t: Translate, error: unknown): string {
  if (error instanceof OfflineError) return t('problem.offline');
  if (!(error instanceof ApiError)) throw error;
  const { code, faults } = error.problem;
  const fault = faults?.[0]?.fault;
  if (code === 'name-not-allowed' && fault)
    return t(`problem.name.${fault}`, { characters: FORBIDDEN_CHARACTERS });
  if (code === 'name-taken' && fault) return t('problem.name-taken-named', { title: fault });
  if (code === 'class-cannot-open' && fault)
    return t('problem.class-cannot-open-named', { title: fault });
  if (code === 'layout-faults' && fault)
    return t('problem.layout-named', {
      title: faults[0]?.field,
      fault: t(`problem.name.${fault}`, { characters: FORBIDDEN_CHARACTERS }),
    });
  if (code === 'too-many-tries')
    return t('problem.too-many-tries', { minutes: Math.ceil((error.retryAfter ?? 60) / 60) });
  return t(`problem.${code}`, { count: fault ?? '' });
}
