<script setup lang="ts">
import type { Colour, EditedPage } from '@sammlung/contract';
import { onMounted, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import AppButton from '../../ui/AppButton.vue';
import ColourPicker from '../../ui/ColourPicker.vue';
import { COLOURS } from '../../ui/tabColour.ts';
import type { useEditedPage } from './entries.ts';

/** A new heading on the page of a class, or other words and colour for one. */
const {
  page,
  heading = null,
  act,
} = defineProps<{
  page: EditedPage;
  heading?: EditedPage['headings'][number] | null;
  act: ReturnType<typeof useEditedPage>['act'];
}>();
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();
const title = ref(heading?.title ?? '');
const mark = ref(heading?.mark ?? '');
const colour = ref<Colour>(heading?.colour ?? page.colour);
const first = useTemplateRef('first');
onMounted(() => first.value?.focus());

async function save() {
  const facts = {
    title: title.value.trim(),
    mark: mark.value.trim() || null,
    colour: colour.value,
  };
  if (facts.title === '') return;
  const text = t(heading ? 'entry.changed' : 'entry.heading.added', { title: facts.title });
  const done = await act(text, async () => {
    if (!heading) {
      const made = await api('POST /api/class-pages/:class/headings', {
        params: { class: page.id },
        body: facts,
      });
      return () => api('DELETE /api/headings/:heading', { params: { heading: made.id } });
    }
    const { id, onWebsite: _, ...before } = heading;
    const params = { heading: id };
    await api('PATCH /api/headings/:heading', { params, body: facts });
    return () => api('PATCH /api/headings/:heading', { params, body: before });
  });
  if (done) emit('close');
}
const FIELD = 'h-11 rounded-edge border border-line bg-raised px-3';
</script>

<template>
  <form
    class="flex flex-wrap items-end gap-3 border border-line bg-raised px-5 py-4 shadow-md"
    :aria-label="t(heading ? 'entry.heading.change' : 'entry.heading.new')"
    @submit.prevent="save"
    @keydown.esc="emit('close')"
  >
    <label class="text-meta text-soft"
      >{{ t('entry.heading.mark') }}
      <input
        v-model="mark"
        maxlength="8"
        :class="[FIELD, 'mt-0.5 block w-16 text-center font-mark text-ink']"
      />
    </label>
    <label class="min-w-60 flex-1 text-meta text-soft"
      >{{ t('entry.heading.title') }}
      <input
        ref="first"
        v-model="title"
        maxlength="60"
        :class="[FIELD, 'mt-0.5 block w-full font-title text-[19px] text-ink']"
      />
    </label>
    <ColourPicker v-model="colour" :colours="COLOURS" :label="t('entry.heading.colour')" />
    <div class="flex gap-2">
      <AppButton tone="main" submits :disabled="title.trim() === ''">{{
        t('entry.save')
      }}</AppButton>
      <AppButton @click="emit('close')">{{ t('common.cancel') }}</AppButton>
    </div>
  </form>
</template>
