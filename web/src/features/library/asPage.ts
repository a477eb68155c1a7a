import { apiAt, ApiError } from '../../app/api/api.ts';
import { contentAddress } from '../../app/api/addresses.ts';

/** Files of which a page can be made. */
export const TO_PAGE: ReadonlySet<string | null> = new Set(['text/markdown', 'text/html']);

/** What a Markdown or HTML file says, as HTML that is not clean yet: the server cleans it. Throws ApiError, OfflineError. */
export async function readAsPage(placementId: string, mediaType: string): Promise<string> {
  // Asked for first, so that a lost connection or right is told as everywhere.
  await apiAt('/api', 'GET /placements/:placement', { params: { placement: placementId } });
  const reply = await fetch(contentAddress({ base: '/api' }, placementId, 'attachment'));
  if (!reply.ok) throw new ApiError(await reply.json());
  const text = await reply.text();
  return mediaType === 'text/html' ? text : fromMarkdown(text);
}

/** Lists to tick off are written `- [ ]` and `- [x]`. */
export async function fromMarkdown(text: string): Promise<string> {
  const { default: MarkdownIt } = await import('markdown-it');
  return new MarkdownIt({ html: false, linkify: true })
    .render(text)
    .replaceAll(
      /<li>(<p>|\s)*\[([ xX])\] /gu,
      (_, __, mark: string) => `<li data-checked="${mark !== ' '}">`,
    );
}
