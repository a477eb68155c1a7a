<script setup lang="ts">
import type { TrayClass } from '@sammlung/contract';
import { ArrowLeft, Images, RotateCw, Trash2 } from 'lucide-vue-next';
import { computed, nextTick, onMounted, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { useFormat } from '../../app/format.ts';
import { say } from '../../app/shell/toast.ts';
import { WHOLE, type Corners } from '@sammlung/core';
import AppButton from '../../ui/AppButton.vue';
import OnOffSwitch from '../../ui/OnOffSwitch.vue';
import { useCamera } from './camera.ts';
import CornerFrame from './CornerFrame.vue';
import { turned } from './picture.ts';
import { MOST_PICTURES, usePictures, type Taken } from './pictures.ts';

/** Pictures of a board or of sheets become one document, which goes to a class or into the tray. */
const { personId, classes, busy } = defineProps<{
  personId: string;
  /** The classes for which it can be put in place, the likeliest first. */
  classes: readonly TrayClass[];
  /** While it is being put in place. */
  busy: boolean;
}>();
const emit = defineEmits<{
  done: [document: { file: File; title: string; classId: string | null }];
}>();
defineExpose({ clear: () => pictures.clear() });
const { t } = useI18n();
const { day, time } = useFormat();

const pictures = usePictures(personId);
const { taken, pages } = pictures;
const video = useTemplateRef<HTMLVideoElement>('video');
const camera = useCamera(video);
onMounted(() => pictures.goOn());

// With its time: another picture of the same day is another thing, and not the next version of this one.
const begun = new Date().toISOString();
const title = ref(t('capture.title-of', { day: day(begun), time: time(begun).replace(':', '.') }));
const fileTitle = computed(() => title.value.replace(/\s+/gu, ' ').trim());
const ready = computed(
  () => pages.value.length > 0 && !pictures.busy.value && fileTitle.value !== '' && !busy,
);

const shownId = ref<string | null>(null);
const shown = computed(() => taken.value.find(({ id }) => id === shownId.value) ?? null);
const atCorners = ref(false);
function open(one: Taken) {
  atCorners.value = false;
  shownId.value = one.id;
}

function add(files: readonly Blob[]) {
  const left = pictures.add(files);
  if (left > 0)
    say({ text: t('capture.too-many', { n: left, most: MOST_PICTURES }, left), tone: 'bad' });
}
const flash = ref(false);
async function take() {
  flash.value = true;
  setTimeout(() => (flash.value = false), 120);
  add([await camera.take()]);
}
const picker = useTemplateRef<HTMLInputElement>('picker');
const phone = useTemplateRef<HTMLInputElement>('phone');
function picked(event: Event) {
  const field = event.target as HTMLInputElement;
  add([...(field.files ?? [])]);
  field.value = '';
}

const back = useTemplateRef<HTMLButtonElement>('back');
async function remove(one: Taken) {
  const putBack = pictures.remove(one);
  shownId.value = null;
  say({ text: t('capture.removed'), undo: putBack });
  await nextTick();
  back.value?.focus();
}
const set = (one: Taken, corners: Corners) => pictures.change(one, { corners });
const isWhole = ({ corners }: Taken) =>
  corners.every(({ x, y }, n) => x === WHOLE[n]!.x && y === WHOLE[n]!.y);

async function finish(classId: string | null) {
  if (!ready.value) return;
  emit('done', {
    file: await pictures.makeDocument(fileTitle.value),
    title: fileTitle.value,
    classId,
  });
}
const tool =
  'inline-flex min-h-11 items-center gap-2 rounded-edge px-2.5 text-[15px] font-semibold text-white hover:bg-white/15';
</script>

<template>
  <section
    class="flex flex-1 flex-col bg-frame text-frame-ink max-sm:fixed max-sm:inset-0 max-sm:z-40"
    aria-labelledby="capture-heading"
  >
    <div class="flex items-center gap-2 px-2 sm:px-6">
      <RouterLink :to="{ name: 'today' }" :class="tool">
        <ArrowLeft :size="20" aria-hidden="true" />{{ t('shell.today') }}
      </RouterLink>
      <h1 id="capture-heading" class="flex-1 truncate font-title text-[19px] text-white">
        {{ t('capture.heading') }}
      </h1>
      <span role="status" class="pr-2 text-meta">{{
        pictures.busy.value
          ? t('capture.working')
          : pages.length > 0
            ? t('capture.pages', pages.length)
            : ''
      }}</span>
    </div>

    <div
      class="relative min-h-40 flex-1 overflow-hidden bg-[#0b1718] sm:mx-6 sm:min-h-72 sm:rounded-lg"
    >
      <video
        ref="video"
        class="absolute inset-0 size-full object-contain"
        :class="shown || camera.state.value !== 'on' ? 'invisible' : ''"
        muted
        playsinline
        :aria-label="t('capture.camera')"
      />
      <span
        v-if="flash"
        class="absolute inset-0 bg-white/80 motion-reduce:hidden"
        aria-hidden="true"
      />
      <div
        v-if="!shown && camera.state.value === 'none'"
        class="absolute inset-0 flex flex-col items-center justify-center gap-4 p-6 text-center"
      >
        <p class="max-w-80">{{ t('capture.no-camera') }}</p>
        <AppButton tone="main" @click="phone?.click()">{{ t('capture.use-phone') }}</AppButton>
      </div>
      <template v-else-if="shown">
        <p v-if="!shown.shown" class="p-6">
          {{
            shown.state === 'unreadable'
              ? t('capture.unreadable', { name: shown.name })
              : t('capture.working')
          }}
        </p>
        <CornerFrame
          v-else-if="atCorners"
          class="absolute inset-0"
          :address="shown.shown.photograph"
          :corners="shown.corners"
          @set="set(shown, $event)"
        />
        <img
          v-else
          :src="shown.shown.page"
          :alt="t('capture.page-of', { n: taken.indexOf(shown) + 1 })"
          class="absolute inset-0 size-full object-contain p-3"
        />
      </template>
    </div>

    <div v-if="shown" class="flex flex-wrap items-center justify-center gap-x-1 px-2 sm:px-6">
      <button ref="back" type="button" :class="tool" @click="shownId = null">
        <ArrowLeft :size="18" aria-hidden="true" />{{ t('capture.to-camera') }}
      </button>
      <template v-if="shown.shown">
        <button
          type="button"
          :class="tool"
          :aria-pressed="atCorners"
          @click="atCorners = !atCorners"
        >
          {{ atCorners ? t('capture.show-page') : t('capture.corners') }}
        </button>
        <button
          v-if="atCorners && !isWhole(shown)"
          type="button"
          :class="tool"
          @click="set(shown, WHOLE)"
        >
          {{ t('capture.whole') }}
        </button>
        <template v-if="!atCorners">
          <button type="button" :class="tool" @click="set(shown, turned(shown.corners))">
            <RotateCw :size="18" aria-hidden="true" />{{ t('capture.turn') }}
          </button>
          <span :class="tool">
            <OnOffSwitch
              :model-value="shown.light"
              :label="t('capture.light')"
              @update:model-value="pictures.change(shown, { light: $event })"
            />
            <span aria-hidden="true">{{ t('capture.light') }}</span>
          </span>
        </template>
      </template>
      <button type="button" :class="tool" @click="remove(shown)">
        <Trash2 :size="18" aria-hidden="true" />{{ t('capture.remove') }}
      </button>
    </div>
    <div v-else class="grid grid-cols-3 items-center px-3 py-1.5 sm:px-6">
      <button type="button" :class="tool" class="justify-self-start" @click="picker?.click()">
        <Images :size="20" aria-hidden="true" />{{ t('capture.pick') }}
      </button>
      <button
        v-if="camera.state.value === 'on'"
        type="button"
        class="size-16 justify-self-center rounded-full border-4 border-white bg-saffron outline-offset-4 active:bg-white"
        :aria-label="t('capture.take')"
        @click="take"
      />
    </div>
    <input ref="picker" type="file" accept="image/*" multiple class="hidden" @change="picked" />
    <input
      ref="phone"
      type="file"
      accept="image/*"
      capture="environment"
      class="hidden"
      @change="picked"
    />

    <div v-if="taken.length > 0" class="bg-sheet text-ink sm:mx-6 sm:rounded-t-lg">
      <ol
        class="flex gap-2 overflow-x-auto px-3 pt-3 pb-1 sm:px-5"
        :aria-label="t('capture.taken')"
      >
        <li v-for="(one, n) in taken" :key="one.id" class="shrink-0">
          <button
            type="button"
            class="relative grid h-16 w-14 place-items-center overflow-hidden rounded-[3px] border-2 bg-raised"
            :class="[
              one.id === shownId ? 'border-petrol' : 'border-line',
              one.state === 'unreadable' ? 'border-brick text-brick-ink' : '',
            ]"
            :aria-label="
              t(one.state === 'unreadable' ? 'capture.bad-of' : 'capture.page-of', { n: n + 1 })
            "
            :aria-current="one.id === shownId || undefined"
            @click="open(one)"
          >
            <img v-if="one.shown" :src="one.shown.page" alt="" class="size-full object-cover" />
            <span v-else aria-hidden="true">{{ one.state === 'unreadable' ? '!' : '…' }}</span>
            <span
              class="absolute right-0 bottom-0 rounded-tl bg-sheet px-1 font-code text-[12px]"
              aria-hidden="true"
              >{{ n + 1 }}</span
            >
          </button>
        </li>
      </ol>
      <p
        v-for="one in taken.filter((x) => x.state === 'unreadable')"
        :key="one.id"
        class="px-3 text-meta text-brick-ink sm:px-5"
      >
        {{ t('capture.unreadable', { name: one.name }) }}
      </p>
      <label class="flex items-center gap-3 px-3 pt-1 sm:px-5">
        <span class="text-meta text-soft">{{ t('capture.title') }}</span>
        <input
          v-model="title"
          maxlength="100"
          class="h-11 min-w-0 flex-1 rounded-edge border border-line bg-raised px-3 font-semibold"
        />
      </label>
      <div class="flex flex-wrap items-center gap-x-3 px-3 pt-1 sm:px-5">
        <p id="capture-for" class="flex-1 text-meta text-soft">
          {{
            busy ? t('capture.putting') : classes.length > 0 ? t('capture.for') : t('capture.away')
          }}
        </p>
        <button
          type="button"
          class="min-h-11 font-semibold text-petrol underline underline-offset-2 disabled:opacity-60"
          :disabled="!ready"
          @click="finish(null)"
        >
          {{ t('capture.to-tray') }}
        </button>
      </div>
      <div
        v-if="classes.length > 0"
        role="group"
        aria-labelledby="capture-for"
        class="flex gap-2 overflow-x-auto px-3 pt-1 pb-3 sm:flex-wrap sm:px-5"
      >
        <button
          v-for="one in classes"
          :key="one.id"
          type="button"
          class="flex min-h-11 shrink-0 items-center gap-2 rounded-edge border border-line bg-raised px-2.5 hover:border-petrol disabled:opacity-60"
          :disabled="!ready"
          @click="finish(one.id)"
        >
          <span
            class="rounded-[4px] px-2 py-0.5 font-code text-[13px] font-semibold text-white"
            :style="{ background: `var(--${one.colour})` }"
            >{{ one.code }}</span
          >
          <span class="max-w-40 truncate text-meta">{{
            (one.currentFolder ?? one.proposedFolder)?.title
          }}</span>
        </button>
      </div>
    </div>
  </section>
</template>
