<script setup lang="ts">
import type { RoundPreview, Tray, TrayAnswer, TrayDestination } from '@sammlung/contract';
import { Check } from 'lucide-vue-next';
import { computed, defineAsyncComponent, nextTick, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { address } from '../../app/api/addresses.ts';
import { useFormat } from '../../app/format.ts';
import type { Choosable } from '../../app/FolderChooser.vue';
import AppButton from '../../ui/AppButton.vue';
import KindMark from '../../ui/KindMark.vue';
import RowMenu from '../../ui/RowMenu.vue';
import ClassChoice from './ClassChoice.vue';
import FolderSheet from './FolderSheet.vue';
import GoesOutChoice from './GoesOutChoice.vue';
import { foldersFor, forClasses, linesOf, type TrayRowData } from './rows.ts';

/** One file of the tray: what it is, for whom, where it goes and when; all of it is changed here. */
const { row, tray, preview } = defineProps<{
  row: TrayRowData;
  tray: Tray;
  /** What the round would do, as far as it is known. */
  preview: RoundPreview | undefined;
}>();
const emit = defineEmits<{ decide: [change: TrayAnswer | null]; remove: [] }>();
const { t } = useI18n();
const { size, day } = useFormat();
const MomentSheet = defineAsyncComponent(() => import('./MomentSheet.vue'));

const lines = computed(() => linesOf(row.to));
const classOf = (id: string | null) => tray.classes.find((one) => one.id === id);
const codes = (ids: readonly (string | null)[]) =>
  ids.map((id) => classOf(id)?.code ?? '').join(', ');
const fileName = (id: string | null) => tray.files.find((f) => f.id === id)?.name ?? '';

/** Why this is proposed, while nothing else was decided. */
const why = computed(() => {
  const [reason] = row.file.answer?.to ? [] : row.file.proposal.reasons;
  return reason ? t(`tray.why.${reason.why}`, { detail: reason.detail }) : '';
});
const known = computed(() => row.file.known ?? row.file.nearly);

/** What is said about the file below its name: what becomes of it, or why it does not go. */
const steps = computed(() => preview?.steps.filter((s) => s.fileId === row.file.id) ?? []);
const refusals = computed(() => preview?.refused.filter((r) => r.fileId === row.file.id) ?? []);
const notes = computed(() =>
  row.state === 'ready'
    ? [
        ...steps.value
          .filter(({ outcome }) => outcome === 'version' || outcome === 'opened')
          .map(({ outcome, title }) => ({
            bad: false,
            text: t(`tray.step.${outcome}`, { title }),
          })),
        ...refusals.value.map(({ because, classId, folder }) => ({
          bad: true,
          text: t(`tray.refused.${because}`, {
            code: classOf(classId)?.code ?? '',
            folder: folder?.title ?? '',
          }),
        })),
      ]
    : [],
);

const setTo = (to: TrayDestination[]) => emit('decide', { to });
const setClasses = (chosen: readonly (string | null)[]) =>
  setTo(forClasses(chosen, row.to, tray, row.kind));
const change = (ids: readonly (string | null)[], more: Partial<TrayDestination>) =>
  setTo(row.to.map((one) => (ids.includes(one.classId) ? { ...one, ...more } : one)));

const choosing = ref<readonly (string | null)[] | null>(null);
function chooseFolder(ids: readonly (string | null)[], event: Event) {
  const { value } = event.target as HTMLSelectElement;
  if (value === OTHER) {
    (event.target as HTMLSelectElement).value = '';
    choosing.value = ids;
  } else change(ids, { folderId: value });
}
const OTHER = 'other';
function otherFolder(folder: Choosable) {
  if (folder.id !== null && choosing.value) change(choosing.value, { folderId: folder.id });
  choosing.value = null;
}

/** Each class with a line of its own, for another time or folder. */
const split = ref(false);
const shownLines = computed(() =>
  split.value
    ? row.to.map(({ classId, folderId, goesOut }) => ({ classIds: [classId], folderId, goesOut }))
    : lines.value,
);
const timing = ref<readonly (string | null)[] | null>(null);

function setTitle(event: Event) {
  const field = event.target as HTMLTextAreaElement;
  const title = field.value.replace(/\s+/gu, ' ').trim();
  if (title && title !== row.title) emit('decide', { title });
  else field.value = row.title;
}
const dating = ref(false);
const dateField = useTemplateRef<HTMLInputElement>('date');
async function openDate() {
  dating.value = true;
  await nextTick();
  dateField.value?.focus();
}
function setDate(event: Event) {
  const { value } = event.target as HTMLInputElement;
  dating.value = false;
  if (/^\d{4}-\d\d-\d\d$/u.test(value) && value !== row.lessonDate)
    emit('decide', { lessonDate: value });
}

/** It is the next version of what it nearly is: for the same classes, in the same folder. */
function nextVersion() {
  const { nearly, proposal } = row.file;
  if (!nearly) return;
  const goesOut = proposal.to[0]?.goesOut ?? tray.rules.goesOut[row.kind];
  const ids: (string | null)[] = nearly.classIds.length > 0 ? nearly.classIds : [null];
  emit('decide', {
    versionOf: nearly.itemId,
    to: ids.map((classId) => ({ classId, folderId: nearly.folder.id, goesOut })),
  });
}

const actions = () => [
  {
    name: 'open',
    text: t('tray.open'),
    href: address('GET /api/tray/:file/content', { params: { file: row.file.id } }),
  },
  ...(row.to.length > 1 && !split.value ? [{ name: 'split', text: t('tray.split') }] : []),
  ...(row.file.answer ? [{ name: 'reset', text: t('tray.reset') }] : []),
  { name: 'remove', text: t('tray.remove'), keys: 'Del' },
];
function act(name: string) {
  if (name === 'split') split.value = true;
  if (name === 'reset') emit('decide', null);
  if (name === 'remove') emit('remove');
}
const waits = computed(() => row.state === 'same' || row.state === 'known');
</script>

<template>
  <li
    data-row
    tabindex="-1"
    class="tray-row border-t border-line px-3 py-3 outline-offset-[-2px] sm:px-4"
    :class="waits ? 'bg-brick-pale/45' : ''"
    :aria-label="t('tray.row', { title: row.title })"
    @keydown.delete.self="emit('remove')"
  >
    <span class="tray-picture">
      <img
        v-if="row.file.small"
        :src="
          address('GET /api/tray/:file/small', {
            params: { file: row.file.id },
            query: { of: row.file.small, as: 'line' },
          })
        "
        alt=""
        loading="lazy"
        class="h-[50px] w-10 rounded-[3px] border border-line bg-white object-cover object-top"
      />
      <KindMark v-else kind="file" :extension="row.file.extension" large />
    </span>
    <div class="tray-title min-w-0">
      <textarea
        v-if="!waits"
        :value="row.title"
        data-field="title"
        rows="1"
        maxlength="120"
        class="-mx-1.5 block field-sizing-content min-h-8 w-[calc(100%+0.75rem)] resize-none rounded-edge border border-transparent bg-transparent px-1.5 py-0.5 font-semibold hover:border-line focus:border-petrol focus:bg-raised pointer-coarse:min-h-11 pointer-coarse:py-2"
        :aria-label="t('tray.title-of', { name: row.file.name })"
        @change="setTitle"
        @keydown.enter.exact.prevent="($event.target as HTMLTextAreaElement).blur()"
      />
      <b v-else class="block font-semibold wrap-anywhere">{{ known?.title ?? row.title }}</b>
      <p class="text-meta wrap-anywhere text-soft">
        {{ row.file.name }} · {{ size(row.file.size) }}
        <template v-if="!waits">
          ·
          <input
            v-if="dating"
            ref="date"
            type="date"
            :value="row.lessonDate"
            max="2199-12-31"
            class="rounded-edge border border-line bg-raised px-1 text-ink"
            :aria-label="t('tray.lesson-date')"
            @change="setDate"
            @blur="setDate"
          /><button
            v-else
            type="button"
            class="underline decoration-dotted underline-offset-2 hover:text-petrol pointer-coarse:min-h-11"
            @click="openDate"
          >
            {{ t('tray.lesson-of', { day: day(`${row.lessonDate}T12:00:00Z`) }) }}
          </button>
        </template>
      </p>
      <p v-if="row.state === 'same'" class="text-meta text-brick-ink">
        {{ t('tray.same', { name: fileName(row.file.sameAs) }) }}
      </p>
      <p v-else-if="row.state === 'known' && known" class="text-meta text-brick-ink">
        {{ t('tray.known', { day: day(known.at), folder: known.folder.title }) }}
      </p>
      <div v-else-if="row.state === 'nearly' && known" class="mt-1 text-meta">
        <p class="text-saffron-ink">
          {{ t('tray.nearly', { title: known.title, folder: known.folder.title }) }}
        </p>
        <p class="mt-1 flex flex-wrap gap-2">
          <AppButton @click="nextVersion">{{ t('tray.next-version') }}</AppButton>
          <AppButton @click="emit('decide', { versionOf: null })">{{
            t('tray.own-file')
          }}</AppButton>
        </p>
      </div>
      <p
        v-for="note in notes"
        :key="note.text"
        class="text-meta"
        :class="note.bad ? 'text-brick-ink' : 'text-petrol'"
      >
        {{ note.text }}
      </p>
    </div>

    <template v-if="waits">
      <p class="tray-known flex flex-wrap items-center gap-x-5 gap-y-1">
        <button
          v-if="row.state === 'known'"
          type="button"
          class="min-h-9 text-petrol underline underline-offset-2 pointer-coarse:min-h-11"
          @click="emit('decide', { again: true })"
        >
          {{ t('tray.again') }}
        </button>
        <button
          type="button"
          class="min-h-9 text-petrol underline underline-offset-2 pointer-coarse:min-h-11"
          @click="emit('remove')"
        >
          {{ t('tray.remove') }}
        </button>
      </p>
    </template>
    <template v-else>
      <div class="tray-class min-w-0">
        <ClassChoice
          :classes="tray.classes"
          :chosen="row.to.map((one) => one.classId)"
          :asks="row.state === 'class' || row.state === 'sure'"
          :name="row.title"
          @choose="setClasses"
        />
        <p v-if="row.state === 'sure'" class="mt-1">
          <button
            type="button"
            class="inline-flex min-h-8 items-center gap-1 rounded-edge border border-saffron bg-raised px-2 text-meta font-semibold pointer-coarse:min-h-11"
            @click="setTo([...row.to])"
          >
            <Check :size="14" aria-hidden="true" />{{ t('tray.confirm') }}
          </button>
        </p>
        <p v-if="why" class="mt-1 text-[13px] leading-tight text-soft">{{ why }}</p>
      </div>
      <div class="tray-places min-w-0 space-y-1.5">
        <div
          v-for="(line, n) in shownLines"
          :key="n"
          class="grid grid-cols-[minmax(0,1fr)_11.5rem] gap-2 max-sm:grid-cols-2"
        >
          <span v-if="shownLines.length > 1" class="col-span-2 font-code text-[12px] text-soft">{{
            codes(line.classIds)
          }}</span>
          <select
            data-field="folder"
            :value="line.folderId ?? ''"
            class="h-9 w-full min-w-0 rounded-edge border bg-raised px-2 text-[15px] pointer-coarse:h-11"
            :class="line.folderId === null ? 'border-saffron' : 'border-line'"
            :aria-label="t('tray.folder-of', { title: row.title })"
            @change="chooseFolder(line.classIds, $event)"
          >
            <option v-if="line.folderId === null" value="" disabled>
              {{ t('tray.which-folder') }}
            </option>
            <option v-for="folder in foldersFor(line, tray)" :key="folder.id" :value="folder.id">
              {{ folder.title }}
            </option>
            <option :value="OTHER">{{ t('tray.other-folder') }}</option>
          </select>
          <GoesOutChoice
            :goes-out="line.goesOut"
            :name="row.title"
            @choose="change(line.classIds, { goesOut: $event })"
            @moment="timing = line.classIds"
          />
        </div>
      </div>
    </template>
    <span class="tray-menu">
      <RowMenu :label="t('tray.actions', { title: row.title })" :actions="actions" @act="act" />
    </span>
    <FolderSheet v-if="choosing" @choose="otherFolder" @close="choosing = null" />
    <MomentSheet
      v-if="timing"
      @choose="(at) => (change(timing ?? [], { goesOut: at }), (timing = null))"
      @close="timing = null"
    />
  </li>
</template>

<style scoped>
.tray-row {
  display: grid;
  grid-template-columns: 44px minmax(0, 1.25fr) minmax(136px, 0.55fr) minmax(0, 1.6fr) 36px;
  gap: 4px 14px;
  align-items: start;
}
.tray-known {
  grid-column: 3 / 5;
}
@media (max-width: 899px) {
  .tray-row {
    grid-template-columns: 48px minmax(0, 1fr) 36px;
    grid-template-areas: 'picture title menu' '. class class' '. places places' '. known known';
  }
  .tray-picture {
    grid-area: picture;
  }
  .tray-title {
    grid-area: title;
  }
  .tray-class {
    grid-area: class;
  }
  .tray-places {
    grid-area: places;
  }
  .tray-known {
    grid-area: known;
  }
  .tray-menu {
    grid-area: menu;
  }
}
@media (max-width: 479px) {
  .tray-class,
  .tray-places,
  .tray-known {
    margin-left: -62px;
  }
}
</style>
