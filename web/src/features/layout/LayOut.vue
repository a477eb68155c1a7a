<script setup lang="ts">
import type { MadeLayout } from '@sammlung/contract';
import {
  checkPattern,
  faultsIn,
  layOut,
  missingPaths,
  parseOutline,
  type ExistingFolder,
} from '@sammlung/core';
import { useQuery, useQueryCache } from '@pinia/colada';
import { computed, ref, useTemplateRef, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { api } from '../../app/api/api.ts';
import { explain } from '../../app/api/problems.ts';
import { say } from '../../app/shell/toast.ts';
import { removeThings } from '../../app/things.ts';
import { useTree } from '../../app/tree.ts';
import AppButton from '../../ui/AppButton.vue';
import IndexTab from '../../app/IndexTab.vue';
import PageState from '../../app/PageState.vue';
import LaidTree from './LaidTree.vue';

/** The same named structure for several classes at once, seen before it is made. */
const { t } = useI18n();
const cache = useQueryCache();
const start = useQuery({ key: ['layout'], query: () => api('GET /api/layout') });
const tree = useTree();
const pattern = ref('');
const purpose = ref('');
const outline = ref('');
const chosen = ref<string[]>([]);
const handOut = ref(true);
const busy = ref(false);
const refused = ref('');
const made = ref<MadeLayout | null>(null);
const patternField = useTemplateRef('patternField');
const TOKENS = ['{year2}', '{year}', '{class}', '{course}', '{teacher}', '{kind}'];

watch(
  () => start.data.value,
  (now, before) => {
    if (!now || before) return;
    pattern.value = now.settings.pattern;
    purpose.value = now.settings.purpose;
    outline.value = now.settings.outline || t('layout.example');
    chosen.value = now.classes.map((c) => c.id);
  },
  { immediate: true },
);

const parsed = computed(() => parseOutline(outline.value));
const patternFaults = computed(() => checkPattern(pattern.value));
const lying = computed(() => {
  const below = (parent: string | null): ExistingFolder[] =>
    (tree.data.value?.folders ?? [])
      .filter((folder) => folder.parentId === parent)
      .map(({ id, title }) => ({ id, title, below: below(id) }));
  return below(null);
});
const laid = computed(() =>
  (start.data.value?.classes ?? [])
    .filter((c) => chosen.value.includes(c.id))
    .map((c) => ({
      ...c,
      folder: layOut(
        {
          year: c.year,
          course: c.course,
          class: c.code,
          teacher: start.data.value?.teacher ?? '',
          kind: purpose.value,
        },
        pattern.value,
        parsed.value.lines,
      ),
    })),
);
/** Two classes whose folders would be the same one. */
const nameShared = computed(() => {
  const titles = laid.value.map(({ folder }) => folder.title.toLowerCase());
  return titles.length > new Set(titles).size;
});
const missing = computed(
  () =>
    missingPaths(
      laid.value.map((l) => l.folder),
      lying.value,
    ).length,
);
const wrong = computed(() => faultsIn(laid.value.map((l) => l.folder)).length);
const ready = computed(
  () =>
    laid.value.length > 0 &&
    wrong.value === 0 &&
    !nameShared.value &&
    parsed.value.faults.length === 0 &&
    !busy.value,
);

function insert(token: string) {
  const field = patternField.value;
  const at = field?.selectionStart ?? pattern.value.length;
  pattern.value = pattern.value.slice(0, at) + token + pattern.value.slice(at);
  field?.focus();
}

/** Tab indents the line in the outline, as in any editor for text; Shift Tab takes the indent back. */
function indent(event: KeyboardEvent) {
  const field = event.target as HTMLTextAreaElement;
  const begin = outline.value.lastIndexOf('\n', field.selectionStart - 1) + 1;
  const back = /^ {1,2}|^\t/u.exec(outline.value.slice(begin))?.[0].length ?? 0;
  const shift = event.shiftKey ? -back : 2;
  // At the edge the key leaves the field, so that nobody is caught in it.
  if (
    event.shiftKey ? back === 0 : field.selectionStart === 0 && begin === 0 && outline.value === ''
  )
    return;
  event.preventDefault();
  const caret = field.selectionStart + shift;
  outline.value =
    outline.value.slice(0, begin) +
    (event.shiftKey ? outline.value.slice(begin + back) : `  ${outline.value.slice(begin)}`);
  requestAnimationFrame(() => field.setSelectionRange(caret, caret));
}

const refresh = () => {
  for (const key of [['tree'], ['folder'], ['audience'], ['layout']])
    void cache.invalidateQueries({ key });
};

async function make() {
  busy.value = true;
  refused.value = '';
  try {
    const result = await api('POST /api/layout', {
      body: {
        pattern: pattern.value,
        purpose: purpose.value,
        outline: outline.value,
        parentId: null,
        classIds: laid.value.map((l) => l.id),
        handOut: handOut.value,
      },
    });
    made.value = result;
    say({
      text: t('layout.made', { folders: t('count.folders', result.count) }),
      ...(result.made.length + result.grants.length > 0 && { undo: () => undo(result) }),
    });
  } catch (error) {
    refused.value = explain(t, error);
  } finally {
    busy.value = false;
    refresh();
  }
}

async function undo(result: MadeLayout) {
  const { grants } = result;
  if (grants.length > 0) await api('POST /api/grants/take-back', { body: { grants } });
  if (result.made.length > 0) await removeThings('folder', result.made);
  made.value = null;
  refresh();
}
</script>

<template>
  <div class="mx-auto w-full max-w-[1400px] px-5 py-6 sm:px-9">
    <p class="text-[15px] text-soft">
      <RouterLink :to="{ name: 'library' }" class="hover:text-petrol hover:underline">{{
        t('library.title')
      }}</RouterLink>
    </p>
    <h1 class="text-[28px]">{{ t('shell.lay-out') }}</h1>
    <p class="mb-5 text-soft">{{ t('layout.text') }}</p>
    <PageState v-if="!start.data.value" :error="start.error.value" @again="start.refetch()" />
    <p
      v-else-if="start.data.value.classes.length === 0"
      class="border-t border-line py-10 text-soft"
    >
      {{ t('layout.no-classes') }}
    </p>
    <div v-else class="grid items-start gap-8 lg:grid-cols-[minmax(300px,380px)_1fr]">
      <form class="grid gap-5" @submit.prevent="ready && make()">
        <fieldset>
          <legend class="mb-1.5 font-semibold">{{ t('layout.classes') }}</legend>
          <div class="grid">
            <label
              v-for="c in start.data.value.classes"
              :key="c.id"
              class="flex min-h-8 cursor-pointer items-center gap-2.5 rounded-edge px-2 hover:bg-paper pointer-coarse:min-h-11"
            >
              <input
                v-model="chosen"
                type="checkbox"
                :value="c.id"
                class="size-4 accent-(--action)"
              />
              <IndexTab
                :tab="{ kind: 'class', label: c.code, colour: c.colour, from: null, state: 'out' }"
                plain
              />
              <span class="text-[15px]"
                >{{ c.course }}
                <span class="text-meta text-soft"
                  >· {{ t('count.students', c.students) }}</span
                ></span
              >
            </label>
          </div>
        </fieldset>
        <div>
          <label for="pattern" class="mb-1.5 block font-semibold">{{ t('layout.pattern') }}</label>
          <input
            id="pattern"
            ref="patternField"
            v-model="pattern"
            class="h-10 w-full rounded-edge border border-line bg-raised px-3 font-code text-[15px]"
            :aria-invalid="patternFaults.length > 0"
          />
          <p v-if="patternFaults[0]" role="alert" class="mt-1 text-meta font-medium text-brick-ink">
            {{
              t(`layout.pattern-fault.${patternFaults[0].fault}`, { token: patternFaults[0].token })
            }}
          </p>
          <p class="mt-1.5 flex flex-wrap gap-1">
            <button
              v-for="token in TOKENS"
              :key="token"
              type="button"
              class="rounded-edge border border-line bg-raised px-1.5 py-0.5 font-code text-[13px] hover:border-petrol hover:text-petrol pointer-coarse:min-h-11"
              :title="t(`layout.token.${token.slice(1, -1)}`)"
              @click="insert(token)"
            >
              {{ token }}
            </button>
          </p>
          <label
            v-if="pattern.includes('{kind}')"
            class="mt-2 flex items-center gap-2 text-meta text-soft"
            >{{ t('layout.purpose') }}
            <input
              v-model="purpose"
              maxlength="60"
              class="h-9 flex-1 rounded-edge border border-line bg-raised px-2.5 text-[15px] text-ink"
            />
          </label>
        </div>
        <div>
          <label for="outline" class="block font-semibold">{{ t('layout.outline') }}</label>
          <p class="mb-1.5 text-meta text-soft">{{ t('layout.outline-text') }}</p>
          <textarea
            id="outline"
            v-model="outline"
            rows="10"
            spellcheck="false"
            class="w-full rounded-edge border border-line bg-raised px-3 py-2 font-code text-[14px] leading-relaxed"
            @keydown.tab="indent"
          />
          <p
            v-for="fault in parsed.faults.slice(0, 3)"
            :key="fault.line"
            role="alert"
            class="text-meta font-medium text-brick-ink"
          >
            {{ t(`layout.outline-fault.${fault.fault}`, { line: fault.line }) }}
          </p>
        </div>
      </form>
      <div>
        <div class="mb-7 flex flex-wrap items-center gap-x-5 gap-y-2">
          <AppButton tone="main" :disabled="!ready" @click="make">
            {{
              missing > 0
                ? t('layout.make', { folders: t('count.folders', missing) })
                : t('layout.make-none')
            }}
          </AppButton>
          <label class="flex cursor-pointer items-center gap-2.5">
            <input v-model="handOut" type="checkbox" class="size-4 accent-(--action)" />
            {{ t('layout.hand-out') }}
          </label>
          <p v-if="nameShared" role="alert" class="w-full text-meta font-medium text-brick-ink">
            {{ t('layout.name-shared') }}
          </p>
          <p role="alert" class="w-full text-meta font-medium text-brick-ink empty:hidden">
            {{ refused }}
          </p>
        </div>
        <p v-if="made" role="status" class="mb-4 rounded-lg bg-petrol-pale px-4 py-3">
          {{ t('layout.done', { folders: t('count.folders', made.count) }) }}
          <RouterLink
            v-for="folder in made.folders"
            :key="folder.folderId"
            :to="{ name: 'folder', params: { folder: folder.folderId } }"
            class="mr-3 font-medium text-petrol underline underline-offset-2"
            >{{ folder.title }}</RouterLink
          >
        </p>
        <div class="grid gap-x-4 gap-y-6 sm:grid-cols-[repeat(auto-fill,minmax(230px,1fr))]">
          <section
            v-for="l in laid"
            :key="l.id"
            class="relative rounded-lg border border-line bg-raised px-4 pt-5 pb-4"
            :aria-label="l.code"
          >
            <IndexTab
              class="absolute -top-2.5 left-4"
              :tab="{ kind: 'class', label: l.code, colour: l.colour, from: null, state: 'out' }"
              plain
            />
            <LaidTree :folders="[l.folder]" :lying="lying" />
          </section>
        </div>
        <p v-if="laid.length === 0" class="text-soft">{{ t('layout.none-chosen') }}</p>
      </div>
    </div>
  </div>
</template>
