import type { Thing } from '@sammlung/contract';
import { Mark, Node, textblockTypeInputRule, wrappingInputRule } from '@tiptap/core';
import { TaskItem, TaskList } from '@tiptap/extension-list';
import type { NodeType } from '@tiptap/pm/model';
import { NodeSelection, TextSelection, type Transaction } from '@tiptap/pm/state';
import Heading from '@tiptap/extension-heading';

/** The parts of a page that the editor does not bring along, in the form in which pages are stored (contract/page). */

declare module '@tiptap/core' {
  interface Commands<ReturnType> {
    aside: { toggleAside: () => ReturnType };
    folding: { addFolding: () => ReturnType };
    picture: {
      addPicture: (picture: { hash: string; width: number; height: number }) => ReturnType;
    };
    formula: { addFormula: (block: boolean) => ReturnType };
    reference: { addReference: (thing: Thing) => ReturnType };
  }
}

/**
 * Headings from the second level on: the first is the title. `# ` makes the highest that there is. One may begin what belongs to a
 * day.
 */
export const Headings = Heading.configure({ levels: [2, 3, 4] }).extend({
  addAttributes() {
    return {
      ...this.parent?.(),
      day: {
        default: null,
        parseHTML: (element: HTMLElement) => element.getAttribute('data-day'),
        renderHTML: ({ day }: { day?: string | null }) => (day ? { 'data-day': day } : {}),
        // What is written below it belongs to the same day.
        keepOnSplit: false,
      },
    };
  },
  addInputRules() {
    return [2, 3, 4].map((level) =>
      textblockTypeInputRule({
        find: new RegExp(`^(#{${level - 1}})\\s$`, 'u'),
        type: this.type,
        getAttributes: { level },
      }),
    );
  },
});

/** Small, below and above the line; never both. */
const small = (name: string, tag: string, other: string, key: string) =>
  Mark.create({
    name,
    excludes: `${name} ${other}`,
    parseHTML: () => [{ tag }],
    renderHTML: () => [tag, 0],
    addKeyboardShortcuts() {
      return { [key]: () => this.editor.commands.toggleMark(name) };
    },
  });
export const Below = small('below', 'sub', 'above', 'Mod-,');
export const Above = small('above', 'sup', 'below', 'Mod-.');

const isChecks = (element: HTMLElement) =>
  element.querySelector(':scope > li[data-checked]') ? {} : false;

export const Checks = TaskList.extend({
  parseHTML: () => [{ tag: 'ul', priority: 60, getAttrs: isChecks }],
  renderHTML: () => ['ul', 0],
});

export const Check = TaskItem.configure({ nested: true }).extend({
  parseHTML: () => [{ tag: 'li[data-checked]', priority: 60 }],
  renderHTML: ({ node }) => ['li', { 'data-checked': String(node.attrs.checked === true) }, 0],
});

/** A part that is set apart from the text. */
export const Aside = Node.create({
  name: 'aside',
  group: 'block',
  content: 'block+',
  defining: true,
  parseHTML: () => [{ tag: 'aside' }],
  // It belongs to the text, and is no part of the screen of its own.
  renderHTML: () => ['aside', { role: 'note' }, 0],
  addCommands() {
    return {
      toggleAside:
        () =>
        ({ commands }) =>
          commands.toggleWrap(this.name),
    };
  },
  addInputRules() {
    return [wrappingInputRule({ find: /^!\s$/u, type: this.type })];
  },
});

/** Where the last node of a type begins, at or before the place where one writes; null where there is none. */
function lastBefore({ doc, selection }: Transaction, type: NodeType): number | null {
  for (let at = selection.from; at >= 0; at -= 1) if (doc.nodeAt(at)?.type === type) return at;
  return null;
}

/** Shown open while it is written: a browser's own folding would take the keys. */
const openView = (className: string) => () => {
  const dom = document.createElement('div');
  dom.className = className;
  return { dom, contentDOM: dom };
};

/** A part that readers fold out: its title, and what is in it. */
export const Folding = Node.create({
  name: 'folding',
  group: 'block',
  content: 'foldingTitle block+',
  defining: true,
  isolating: true,
  parseHTML: () => [{ tag: 'details' }],
  renderHTML: () => ['details', 0],
  addNodeView: () => openView('folding'),
  addCommands() {
    return {
      addFolding:
        () =>
        ({ tr, state, dispatch }) => {
          const { folding, foldingTitle, paragraph } = state.schema.nodes;
          tr.replaceSelectionWith(
            folding!.create(null, [foldingTitle!.create(), paragraph!.create()]),
          );
          // Its title is what is typed next.
          const at = lastBefore(tr, folding!);
          if (at !== null) tr.setSelection(TextSelection.create(tr.doc, at + 2));
          dispatch?.(tr);
          return true;
        },
    };
  },
});

export const FoldingTitle = Node.create({
  name: 'foldingTitle',
  content: 'inline*',
  defining: true,
  parseHTML: () => [{ tag: 'summary' }],
  renderHTML: () => ['summary', 0],
  addNodeView: () => openView('folding-title'),
});

const HASH = /^pictures\/([0-9a-f]{64})$/u;
const numberOf = (element: HTMLElement, name: string) => Number(element.getAttribute(name)) || null;

/** A picture of the page; `addressOf` says where the browser finds it. */
export const Picture = Node.create<{ addressOf: (hash: string) => string }>({
  name: 'picture',
  group: 'block',
  atom: true,
  draggable: true,
  addOptions: () => ({ addressOf: (hash) => hash }),
  addAttributes: () => ({
    hash: { parseHTML: (element) => HASH.exec(element.getAttribute('src') ?? '')?.[1] ?? null },
    alt: { default: '', parseHTML: (element) => element.getAttribute('alt') ?? '' },
    width: { default: null, parseHTML: (element) => numberOf(element, 'width') },
    height: { default: null, parseHTML: (element) => numberOf(element, 'height') },
  }),
  parseHTML: () => [{ tag: 'img[src^="pictures/"]' }],
  renderHTML({ node }) {
    const { hash, alt, width, height } = node.attrs;
    return ['img', { src: `pictures/${hash}`, alt, width, height }];
  },
  addNodeView() {
    return ({ node }) => {
      const dom = document.createElement('img');
      const { hash, alt, width, height } = node.attrs;
      dom.src = this.options.addressOf(hash);
      dom.alt = alt;
      dom.loading = 'lazy';
      if (width && height) Object.assign(dom, { width, height });
      return {
        dom,
        update(changed) {
          if (changed.type !== node.type || changed.attrs.hash !== hash) return false;
          dom.alt = changed.attrs.alt;
          return true;
        },
      };
    };
  },
  addCommands() {
    return {
      addPicture:
        (attrs) =>
        ({ commands }) =>
          commands.insertContent({ type: this.name, attrs }),
    };
  },
});

/** A folder or an item of the library, as a card; `show` puts it into an element, and resolves to what takes it out again. */
export const Reference = Node.create<{ show: (thing: Thing, dom: HTMLElement) => () => void }>({
  name: 'reference',
  group: 'block',
  atom: true,
  draggable: true,
  addOptions: () => ({ show: () => () => undefined }),
  addAttributes: () => ({
    kind: {
      default: null,
      parseHTML: (element) => ('folder' in element.dataset ? 'folder' : 'placement'),
    },
    id: {
      default: null,
      parseHTML: ({ dataset }) => dataset.folder ?? dataset.placement ?? null,
    },
  }),
  parseHTML: () => [
    { tag: 'p[data-folder]', priority: 60 },
    { tag: 'p[data-placement]', priority: 60 },
  ],
  renderHTML: ({ node: { attrs } }) => ['p', { [`data-${attrs.kind}`]: attrs.id }],
  addNodeView() {
    return ({ node: { attrs } }) => {
      const dom = document.createElement('div');
      const destroy = this.options.show({ kind: attrs.kind, id: attrs.id }, dom);
      return {
        dom,
        destroy,
        stopEvent: ({ target }) => target instanceof HTMLButtonElement,
        ignoreMutation: () => true,
      };
    };
  },
  addCommands() {
    return {
      addReference:
        (attrs) =>
        ({ commands }) =>
          commands.insertContent([{ type: this.name, attrs }, { type: 'paragraph' }]),
    };
  },
});

/** Draws a formula; until that has been loaded it stands there as it was written. */
async function draw(element: HTMLElement, tex: string) {
  element.textContent = tex || 'TeX';
  if (tex) (await import('../../app/content/formulas.ts')).setFormula(element, tex);
}

const formula = (name: string, block: boolean) => {
  const [tag, shown] = block ? ['pre', 'div'] : ['code', 'span'];
  return Node.create({
    name,
    group: block ? 'block' : 'inline',
    inline: !block,
    atom: true,
    addAttributes: () => ({
      tex: { default: '', parseHTML: (element) => element.textContent ?? '' },
    }),
    parseHTML: () => [{ tag: `${tag}.formula`, priority: 100 }],
    renderHTML: ({ node }) => [tag, { class: 'formula' }, node.attrs.tex],
    addNodeView() {
      return ({ node }) => {
        const dom = document.createElement(shown);
        dom.className = 'formula';
        void draw(dom, node.attrs.tex);
        return {
          dom,
          update(changed) {
            if (changed.type !== node.type) return false;
            void draw(dom, changed.attrs.tex);
            return true;
          },
          ignoreMutation: () => true,
        };
      };
    },
  });
};

/** A formula in a line. */
export const Formula = formula('formula', false).extend({
  addCommands() {
    return {
      addFormula:
        (block) =>
        ({ tr, state, dispatch }) => {
          const type = state.schema.nodes[block ? 'formulaBlock' : 'formula']!;
          tr.replaceSelectionWith(type.create());
          // It is chosen, so that what it says can be typed.
          const at = lastBefore(tr, type);
          if (at !== null) tr.setSelection(NodeSelection.create(tr.doc, at));
          dispatch?.(tr);
          return true;
        },
    };
  },
});
/** A formula by itself. */
export const FormulaBlock = formula('formulaBlock', true);
