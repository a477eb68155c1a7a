import { staleDates, type Frame, type Stale } from '@sammlung/core';
import { Extension, type Editor } from '@tiptap/core';
import type { Node } from '@tiptap/pm/model';
import { Plugin, PluginKey, TextSelection, type Transaction } from '@tiptap/pm/state';
import { Decoration, DecorationSet } from '@tiptap/pm/view';

/** What looks out of date on a page that began from another: marked in the text, until it is accepted or left as it is. */

/** One of them, where it is by now. */
export interface Marked {
  readonly from: number;
  readonly to: number;
  readonly stale: Stale;
}

const KEY = new PluginKey<DecorationSet>('stale');
/** Of what is to be marked no longer, where it is. */
type Change = { readonly mark: DecorationSet } | { readonly leave: readonly Marked[] };

export const StaleMarks = Extension.create({
  name: 'staleMarks',
  addProseMirrorPlugins: () => [
    new Plugin<DecorationSet>({
      key: KEY,
      state: {
        init: () => DecorationSet.empty,
        apply(tr: Transaction, marks) {
          const change = tr.getMeta(KEY) as Change | undefined;
          if (change && 'mark' in change) return change.mark;
          const kept = change
            ? marks.remove(change.leave.flatMap(({ from, to }) => marks.find(from, to)))
            : marks;
          return kept.map(tr.mapping, tr.doc);
        },
      },
      props: { decorations: (state) => KEY.getState(state) },
    }),
  ],
});

/** Marks what looks out of date in a text that comes from one frame and is to be used in another. */
export function markStale({ state, view }: Editor, from: Frame, to: Frame): void {
  const found: Decoration[] = [];
  state.doc.descendants((node, at) => {
    if (!node.isTextblock) return true;
    for (const stale of staleDates(textOf(node), from, to))
      found.push(
        Decoration.inline(
          at + 1 + stale.start,
          at + 1 + stale.end,
          { class: 'stale' },
          { stale, inclusiveStart: false, inclusiveEnd: false },
        ),
      );
    return false;
  });
  view.dispatch(state.tr.setMeta(KEY, { mark: DecorationSet.create(state.doc, found) }));
}

/** The text of a block, one character for each place in it. */
const textOf = (block: Node) => block.textBetween(0, block.content.size, '', '\uFFFC');

/** What is marked, in the order in which it is on the page. */
export function staleIn({ state }: Editor): Marked[] {
  const marks = KEY.getState(state)?.find() ?? [];
  return marks
    .map(({ from, to, spec }) => ({ from, to, stale: (spec as { stale: Stale }).stale }))
    .sort((a, b) => a.from - b.from);
}

/** Puts what is proposed in the place of what is marked; where nothing is, the mark goes. One step for Undo. */
export function acceptStale({ state, view }: Editor, marked: readonly Marked[]): void {
  const { tr } = state;
  // From the end, so that what comes before stays where it is.
  for (const { from, to, stale } of [...marked].reverse()) {
    if (stale.proposed === null) continue;
    const $from = state.doc.resolve(from);
    tr.replaceWith(from, to, state.schema.text(stale.proposed, $from.marksAcross($from)));
    // A heading that begins a day begins the other day.
    const heading = $from.parent;
    if (stale.day && heading.attrs.day) tr.setNodeAttribute($from.before(), 'day', stale.day);
  }
  view.dispatch(tr.setMeta(KEY, { leave: marked }));
}

/** Leaves as it is what is marked. */
export function leaveStale({ state, view }: Editor, marked: readonly Marked[]): void {
  view.dispatch(state.tr.setMeta(KEY, { leave: marked }));
}

/** Chooses one in the text, and brings it before the eyes. */
export function showStale({ state, view }: Editor, { from, to }: Marked): void {
  view.dispatch(state.tr.setSelection(TextSelection.create(state.doc, from, to)).scrollIntoView());
}
