const ESCAPES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' };

/** A text as it is written in HTML, between tags or in a quoted attribute. */
export const escapeHtml = (text: string): string => text.replace(/[&<>"]/gu, (c) => ESCAPES[c]!);

/** The HTML of a frame that shows an address on another website; sizes are in pixels. */
export const frameHtml = (frame: {
  readonly source: string;
  readonly title: string;
  readonly width: number;
  readonly height: number;
}): string =>
  `<iframe src="${escapeHtml(frame.source)}" title="${escapeHtml(frame.title)}" width="${frame.width}" height="${frame.height}" style="border:1px solid #bbb" loading="lazy"></iframe>`;
