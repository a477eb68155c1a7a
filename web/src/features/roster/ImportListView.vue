<script setup lang="ts">
import type { Consequences, ListedRow, ListPreview } from '@sammlung/contract';
import { computed, ref, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { useRoute, useRouter } from 'vue-router';
import { useSentences } from '../../app/sentence.ts';
import { say } from '../../app/shell/toast.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import PageState from '../../app/PageState.vue';
import ClassWay from './ClassWay.vue';
import { previewList, useClassList, useRoster } from './roster.ts';

/** Takes in a class list: pasted, or out of a file; first it is shown what would become of each line. */
const { t } = useI18n();
const route = useRoute();
const router = useRouter();
const { lines } = useSentences();
const { take, undoTaking, leaving } = useRoster();
const id = computed(() => String(route.params.class));
const list = useClassList(() => id.value);

const pasted = ref('');
const order = ref<'first' | 'last'>('first');
const given = ref<Blob | null>(null);
const preview = ref<ListPreview | null>(null);
const { fault, busy, tried } = useSubmit();

async function look(blob: Blob) {
  given.value = blob;
  const read = await tried(async () => {
    preview.value = await previewList(id.value, blob, order.value);
    decisions.value = {};
    ending.value = false;
  });
  if (!read) preview.value = null;
}
const lookAtText = () => look(new Blob([pasted.value]));
async function pick(files: FileList | null | undefined) {
  const file = files?.[0];
  if (!file) return;
  // Read at once: a file that changes meanwhile would else fail in the middle.
  await look(new Blob([await file.arrayBuffer()]));
}
async function turn() {
  order.value = order.value === 'first' ? 'last' : 'first';
  if (given.value) await look(given.value);
}

type Decision = 'same' | 'new' | 'out';
const decisions = ref<Record<number, Decision>>({});
/** Whether members who are not in the list leave. */
const ending = ref(false);

/** What can be decided about a line. */
function choices(row: ListedRow): Decision[] {
  const blocked = row.doubts.some(
    (d) => d === 'mail-elsewhere' || d === 'is-staff' || d === 'mail-twice',
  );
  return [
    'out',
    ...(row.person && !row.doubts.includes('is-staff') ? ['same' as const] : []),
    ...(blocked || (row.person && row.email && row.person.email === row.email)
      ? []
      : ['new' as const]),
  ];
}
function decision(row: ListedRow): Decision {
  if (row.state === 'fault') return 'out';
  if (row.state === 'doubtful') return decisions.value[row.line] ?? 'out';
  return row.person ? 'same' : 'new';
}
const taken = computed(() => (preview.value?.rows ?? []).filter((row) => decision(row) !== 'out'));
const GROUPS = ['fault', 'doubtful', 'new', 'joins', 'asks', 'changed', 'stays'] as const;
const SHOWN = 200;
const groups = computed(() =>
  GROUPS.map((state) => {
    const rows = preview.value?.rows.filter((row) => row.state === state) ?? [];
    return { state, rows: rows.slice(0, SHOWN), more: rows.length - SHOWN, count: rows.length };
  }).filter((group) => group.count > 0),
);
/** What those lose who are not in the list and leave. */
const losses = ref<Consequences | null>(null);
watch(ending, async (leaves) => {
  losses.value = null;
  const missing = (preview.value?.missing ?? []).map((m) => m.membershipId);
  if (!leaves || missing.length === 0) return;
  await tried(async () => (losses.value = await leaving(id.value, missing)));
});
const effects = computed(() => [
  ...(preview.value ? lines(preview.value.consequences) : []),
  ...(losses.value ? lines(losses.value) : []),
]);
const why = (row: ListedRow) =>
  [
    ...row.faults.map((f) => t(`roster.fault.${f}`)),
    ...row.doubts.map((d) =>
      t(`roster.doubt.${d}`, {
        name: row.person?.name ?? '',
        codes: row.person?.classes.join(', ') ?? '',
      }),
    ),
    row.state === 'changed' && row.person && row.person.name !== row.name
      ? t('roster.was-called', { name: row.person.name })
      : '',
    row.asks && decision(row) === 'same' ? t('roster.will-be-asked') : '',
    row.from ? t('roster.joins', { day: row.from }) : '',
    row.until ? t('roster.leaves', { day: row.until }) : '',
  ]
    .filter(Boolean)
    .join(' ');

const nothing = computed(
  () =>
    taken.value.every((row) => row.state === 'stays') &&
    !(ending.value && (preview.value?.missing.length ?? 0) > 0),
);
async function go() {
  const left = ending.value ? (preview.value?.missing ?? []).map((m) => m.membershipId) : [];
  await tried(async () => {
    const result = await take(
      id.value,
      taken.value.map((row) => ({
        name: row.name,
        email: row.email,
        signInName: row.signInName,
        externalId: row.externalId,
        from: row.from,
        until: row.until,
        personId: decision(row) === 'same' ? row.person!.id : null,
      })),
      left,
    );
    say({
      text: [
        t('roster.joined', result.joined),
        result.asked > 0 ? t('roster.asked-to-join', result.asked) : '',
        result.changed > 0 ? t('roster.renamed', result.changed) : '',
        result.left > 0 ? t('roster.now-left', result.left) : '',
      ]
        .filter(Boolean)
        .join(' '),
      undo: undoTaking(id.value, result),
    });
    await router.push({ name: 'class', params: { class: id.value } });
  });
}
</script>

<template>
  <div class="mx-auto w-full max-w-5xl px-5 py-7 sm:px-10">
    <PageState v-if="!list.data.value" :error="list.error.value" @again="list.refetch()" />
    <template v-else>
      <ClassWay :within="{ id, code: list.data.value.code }" />
      <h1 class="mt-1 text-[28px]">{{ t('roster.list-for', { code: list.data.value.code }) }}</h1>

      <form
        v-if="!preview"
        class="mt-2"
        @submit.prevent="lookAtText"
        @dragover.prevent
        @drop.prevent="pick(($event as DragEvent).dataTransfer?.files)"
      >
        <p class="max-w-2xl text-soft">{{ t('roster.list-text') }}</p>
        <textarea
          v-model="pasted"
          rows="12"
          class="mt-4 w-full rounded-edge border border-line bg-raised p-3 font-code text-[14px]"
          :aria-label="t('roster.list')"
          :placeholder="t('roster.list-example')"
          spellcheck="false"
        />
        <div class="mt-3 flex flex-wrap items-center gap-2">
          <AppButton tone="main" submits :disabled="pasted.trim() === '' || busy">{{
            t('roster.look')
          }}</AppButton>
          <label
            class="inline-flex min-h-9 cursor-pointer items-center rounded-edge border border-line bg-raised px-3.5 text-[15px] font-semibold hover:border-petrol hover:text-petrol has-focus-visible:outline-2 pointer-coarse:min-h-11"
          >
            <input
              type="file"
              class="sr-only"
              accept=".csv,.txt,.tsv,text/csv,text/plain,text/tab-separated-values"
              @change="pick(($event.target as HTMLInputElement).files)"
            />
            {{ t('roster.from-file') }}
          </label>
          <span class="text-meta text-soft">{{ t('roster.or-drop') }}</span>
        </div>
        <p role="alert" class="mt-3 font-medium text-brick-ink empty:hidden">{{ fault }}</p>
      </form>

      <template v-else>
        <div class="mt-1 flex flex-wrap items-center gap-3">
          <p class="flex-1 text-soft">{{ t('roster.nothing-yet') }}</p>
          <AppButton @click="turn">{{ t('roster.turn-names') }}</AppButton>
          <AppButton @click="preview = null">{{ t('roster.other-list') }}</AppButton>
        </div>
        <section v-for="group in groups" :key="group.state" class="mt-5">
          <h2 class="flex items-baseline gap-2 text-[17px]">
            <span
              class="size-2.5 self-center rounded-[2px]"
              :class="
                {
                  fault: 'bg-brick',
                  doubtful: 'bg-saffron',
                  new: 'bg-good',
                  joins: 'bg-good',
                  asks: 'bg-saffron',
                  changed: 'bg-petrol',
                  stays: 'bg-mark-ink/40',
                }[group.state]
              "
              aria-hidden="true"
            />
            {{ t(`roster.state.${group.state}`, group.count) }}
          </h2>
          <ul class="mt-1 border-b border-line">
            <li
              v-for="row in group.rows"
              :key="row.line"
              class="flex min-h-10 flex-wrap items-center gap-x-4 gap-y-1 border-t border-line py-1 text-[15px]"
            >
              <span
                class="w-9 shrink-0 font-code text-[12px] text-soft"
                :title="t('roster.line')"
                >{{ row.line }}</span
              >
              <b class="w-56 font-semibold">{{ row.name || '—' }}</b>
              <span class="w-64 truncate text-soft">{{ row.email ?? row.signInName }}</span>
              <span
                class="min-w-0 flex-1 text-meta"
                :class="group.state === 'fault' ? 'text-brick-ink' : 'text-soft'"
                >{{ why(row) }}</span
              >
              <select
                v-if="group.state === 'doubtful' && choices(row).length > 1"
                class="h-9 rounded-edge border border-line bg-raised px-2 text-[14px]"
                :aria-label="t('roster.decide', { name: row.name })"
                :value="decision(row)"
                @change="
                  decisions[row.line] = ($event.target as HTMLSelectElement).value as Decision
                "
              >
                <option v-for="choice in choices(row)" :key="choice" :value="choice">
                  {{ t(`roster.choice.${choice}`) }}
                </option>
              </select>
              <span v-else-if="decision(row) === 'out'" class="text-meta text-soft">{{
                t('roster.choice.out')
              }}</span>
            </li>
            <li v-if="group.more > 0" class="border-t border-line py-2 text-meta text-soft">
              {{ t('roster.and-more', group.more) }}
            </li>
          </ul>
        </section>
        <section v-if="preview.missing.length > 0" class="mt-5">
          <h2 class="text-[17px]">{{ t('roster.missing', preview.missing.length) }}</h2>
          <p class="text-soft">
            {{
              preview.missing
                .slice(0, 12)
                .map((m) => m.name)
                .join(', ')
            }}<template v-if="preview.missing.length > 12"> …</template>
          </p>
          <label class="mt-1.5 flex min-h-9 items-center gap-2">
            <input v-model="ending" type="checkbox" class="size-5 accent-(--action)" />
            {{ t('roster.let-leave', preview.missing.length) }}
          </label>
        </section>
        <div class="sticky bottom-0 mt-6 border-t border-line bg-sheet py-4">
          <ul class="mb-3" aria-live="polite">
            <li v-for="line in effects" :key="line.text" class="flex gap-2.5">
              <b
                class="w-4 text-center font-code"
                :class="line.tone === 'loss' ? 'text-brick-ink' : 'text-good'"
                aria-hidden="true"
                >{{ line.tone === 'loss' ? '−' : '+' }}</b>{{ line.text }}
            </li>
          </ul>
          <p role="alert" class="mb-2 font-medium text-brick-ink empty:hidden">{{ fault }}</p>
          <div class="flex flex-wrap gap-2">
            <AppButton tone="main" :disabled="busy || nothing" @click="go">{{
              nothing
                ? t('roster.nothing-to-do')
                : t('roster.go', taken.filter((r) => r.state !== 'stays').length)
            }}</AppButton>
            <AppButton @click="router.push({ name: 'class', params: { class: id } })">{{
              t('common.cancel')
            }}</AppButton>
          </div>
        </div>
      </template>
    </template>
  </div>
</template>
