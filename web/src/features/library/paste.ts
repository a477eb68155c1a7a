import type { Row } from './library.ts';

export type Pasted =
  | { readonly kind: 'files'; readonly files: readonly File[] }
  | { readonly kind: 'rows'; readonly rows: readonly Row[] }
  | { readonly kind: 'link'; readonly url: string };

/**
 * What pasting means: files and pictures of the clipboard; else the rows that were cut or copied, unless something
 * newer was copied elsewhere since; else a web address. Null when it means nothing here.
 */
export function pasted(
  clipboard: Pick<DataTransfer, 'files' | 'getData'>,
  taken: { readonly rows: readonly Row[]; readonly cut: boolean } | null,
  now: Date,
): Pasted | null {
  const files = [...clipboard.files];
  if (files.length > 0) return { kind: 'files', files: files.map((file) => named(file, now)) };
  const text = clipboard.getData('text/plain').trim();
  const url = /^https?:\/\/\S+$/iu.test(text) && URL.canParse(text) ? text : null;
  if (taken && (taken.cut || url === null)) return { kind: 'rows', rows: taken.rows };
  return url === null ? null : { kind: 'link', url };
}

/** A picture out of the clipboard has no name of its own: it is called by the day and time. */
function named(file: File, now: Date): File {
  if (!/^image\.\w+$/u.test(file.name)) return file;
  const two = (n: number) => String(n).padStart(2, '0');
  const day = `${now.getFullYear()}-${two(now.getMonth() + 1)}-${two(now.getDate())}`;
  const time = `${two(now.getHours())}.${two(now.getMinutes())}.${two(now.getSeconds())}`;
  const extension = file.name.split('.').at(-1);
  return new File([file], `Pasted ${day} ${time}.${extension}`, { type: file.type });
}
