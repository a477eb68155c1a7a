import type { PlacementView } from '@sammlung/contract';

export type Shown =
  | 'page'
  | 'pdf'
  | 'picture'
  | 'table'
  | 'markdown'
  | 'text'
  | 'sound'
  | 'video'
  | 'waiting'
  | 'facts';

/** Ways of showing in which somebody is in the middle of something; a page stays where it is when its text changes. */
export const CONTENT: ReadonlySet<Shown> = new Set([
  'pdf',
  'picture',
  'table',
  'markdown',
  'text',
  'sound',
  'video',
]);
/** Ways of showing that go on paper as they stand; a PDF has a way of its own. */
export const PRINTS: ReadonlySet<Shown> = new Set(['page', 'picture', 'table', 'markdown', 'text']);

/** In which way an item is shown. What browsers do not show themselves has a form that the server has made of it. */
export function howShown({
  kind,
  preview,
  mediaType,
}: Pick<PlacementView, 'kind' | 'preview' | 'mediaType'>): Shown {
  if (kind === 'page') return 'page';
  const type = preview?.shown ?? mediaType ?? '';
  if (type === 'application/pdf') return 'pdf';
  if (/^image\/(png|jpeg|gif|webp|avif)$/u.test(type)) return 'picture';
  if (type === 'text/csv') return 'table';
  if (type === 'text/markdown') return 'markdown';
  if (/^text\/(plain|tab-separated-values)$/u.test(type)) return 'text';
  if (type.startsWith('audio/')) return 'sound';
  if (type.startsWith('video/')) return 'video';
  return preview?.state === 'waiting' ? 'waiting' : 'facts';
}
