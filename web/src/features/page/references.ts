import type { Reference, Thing } from '@sammlung/contract';
import { REFERENCE_LIMIT } from '@sammlung/core';
import type { Editor } from '@tiptap/core';
import { computed, getCurrentInstance, h, ref, render, shallowRef } from 'vue';
import { api } from '../../app/api/api.ts';
import { referencesIn } from './editor.ts';
import ReferenceCard from './ReferenceCard.vue';

/** The things to which a page that is being written refers, with what the server says of them. */
export function useReferences(placementId: string) {
  const app = getCurrentInstance()!.appContext;
  const known = shallowRef<ReadonlyMap<string, Reference>>(new Map());
  /** Those that were asked about: what is not known of them is not there for the writer. */
  const asked = ref<ReadonlySet<string>>(new Set());

  /** Asks about what the text refers to; where `all`, about what is known already too. */
  async function look(editor: Editor, all = false): Promise<void> {
    const things = referencesIn(editor).slice(0, REFERENCE_LIMIT);
    if (!all && things.every(({ id }) => asked.value.has(id))) return;
    const { references } = await api('POST /api/placements/:placement/references', {
      params: { placement: placementId },
      body: { things },
    });
    known.value = new Map(references.map((reference) => [reference.id, reference]));
    asked.value = new Set(things.map(({ id }) => id));
  }

  /** For the editor: shows the card of a thing in an element; `handOut` is asked for from it. */
  const show = (handOut: (reference: Reference) => void) => (thing: Thing, dom: HTMLElement) => {
    const card = h(ReferenceCard, {
      reference: computed(() => known.value.get(thing.id) ?? null),
      gone: computed(() => asked.value.has(thing.id) && !known.value.has(thing.id)),
      onHandOut: handOut,
    });
    card.appContext = app;
    render(card, dom);
    return () => render(null, dom);
  };

  return { look, show };
}
