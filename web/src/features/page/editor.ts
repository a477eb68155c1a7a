import type { Thing } from '@sammlung/contract';
import type { Editor } from '@tiptap/core';
import Highlight from '@tiptap/extension-highlight';
import { TableKit } from '@tiptap/extension-table';
import { Placeholder } from '@tiptap/extensions';
import StarterKit from '@tiptap/starter-kit';
import {
  Above,
  Aside,
  Below,
  Check,
  Checks,
  Folding,
  FoldingTitle,
  Formula,
  FormulaBlock,
  Headings,
  Picture,
  Reference,
} from './nodes.ts';
import { StaleMarks } from './stale.ts';

/**
 * What a page may hold, for the editor; `addressOf` says where the browser finds a picture of the page, `show` puts the card of
 * a thing into an element.
 */
export const pageExtensions = (
  addressOf: (hash: string) => string,
  show: (thing: Thing, dom: HTMLElement) => () => void,
  placeholder: string,
) => [
  StarterKit.configure({
    heading: false,
    link: {
      openOnClick: false,
      defaultProtocol: 'https',
      protocols: ['mailto', 'tel'],
      HTMLAttributes: { target: null, rel: null },
    },
  }),
  Headings,
  Highlight,
  TableKit.configure({ table: { resizable: false } }),
  Placeholder.configure({ placeholder }),
  ...[Below, Above, Checks, Check, Aside, Folding, FoldingTitle, Formula, FormulaBlock],
  Picture.configure({ addressOf }),
  Reference.configure({ show }),
  StaleMarks,
];

/** Goes on with the text straight away: Tiptap's own way waits for the next frame, and a quick key would go elsewhere. */
export function focusText(editor: Editor, at?: number): void {
  if (at !== undefined) editor.commands.setTextSelection(at);
  editor.view.focus();
}

/** Begins what belongs to a day, above all else on the page; `words` is the day as its heading has it. */
export function beginDay(editor: Editor, day: string, words: string): void {
  editor.commands.insertContentAt(0, [
    { type: 'heading', attrs: { level: 2, day }, content: [{ type: 'text', text: words }] },
    { type: 'paragraph' },
  ]);
  // Into the paragraph behind the heading.
  focusText(editor, words.length + 3);
  editor.commands.scrollIntoView();
}

const EMPTY = '<p></p>';

/**
 * What stands in the editor, as it is sent: without the empty line that the editor keeps at the end, and with a sign in place of
 * halves of characters and NUL, which pasted text may hold and no server takes.
 */
export function writtenIn(editor: Editor): string {
  let html = editor.getHTML().replaceAll(/[\p{Surrogate}\0]/gu, '\uFFFD');
  while (html.endsWith(EMPTY)) html = html.slice(0, -EMPTY.length);
  return html;
}

/** Pictures that pasted text names and that are somewhere else: they are not fetched. */
export function foreignPictures(html: string): number {
  const images = new DOMParser().parseFromString(html, 'text/html').images;
  return [...images].filter(
    (image) => !/^(pictures\/|data:|blob:)/u.test(image.getAttribute('src') ?? ''),
  ).length;
}

/** The things to which the text in the editor refers, each once. */
export function referencesIn(editor: Editor): Thing[] {
  const found = new Map<string, Thing>();
  editor.state.doc.descendants(({ type, attrs }) => {
    if (type.name === 'reference') found.set(attrs.id, { kind: attrs.kind, id: attrs.id });
  });
  return [...found.values()];
}
