import contentDisposition from 'content-disposition';

/**
 * The header that names what is sent. Names beyond ASCII also go as UTF-8 (RFC 6266): browsers do not agree on what
 * letters such as ö mean without it.
 */
export function disposition(name: string, type: 'attachment' | 'inline' = 'attachment'): string {
  return contentDisposition(name, { type, fallback: name.replace(/[^\x20-\x7e]/gu, '_') });
}
