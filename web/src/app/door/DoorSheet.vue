<script setup lang="ts">
import type { Door, DoorChange } from '@sammlung/contract';
import { frameHtml } from '@sammlung/core';
import { useClipboard } from '@vueuse/core';
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../api/api.ts';
import { ask } from '../shell/ask.ts';
import { useChanging } from '../changing.ts';
import MomentField from '../MomentField.vue';
import { say } from '../shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import ModalSheet from '../../ui/ModalSheet.vue';
import { codeAddress, addressToSay, tokenOf } from './addresses.ts';

/** All about one door: its addresses, its code to print, its end and word, and the HTML for a class website. */
const { door: given, title } = defineProps<{ door: Door; title: string }>();
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();
const { attempt, withRefresh } = useChanging();
const { copy, copied, text: copiedText } = useClipboard({ legacy: true, copiedDuring: 4000 });
const door = ref(given);
const until = ref(given.until);
const word = ref('');
const coverText = ref(given.coverText);

const change = (facts: DoorChange, said: string) =>
  attempt(async () => {
    door.value = await withRefresh(
      api('PATCH /api/doors/:door', { params: { door: door.value.id }, body: facts }),
    );
    say({ text: t(said, { title }) });
    return true;
  });
async function renew() {
  const yes = t('door.renew');
  if (await ask({ title: t('door.renew-title'), text: t('door.renew-text'), yes }))
    await change({ renew: true }, 'door.renewed');
}

const SIZES = { small: [360, 280], medium: [640, 480], large: [960, 680] } as const;
const size = ref<keyof typeof SIZES>('medium');
const html = computed(() => {
  const [width, height] = SIZES[size.value];
  const source = `${new URL(door.value.address).origin}/embed/${tokenOf(door.value)}`;
  return frameHtml({ source, title, width, height });
});
const wasCopied = (text: string) => copied.value && copiedText.value === text;
</script>

<template>
  <ModalSheet :title="t('door.title', { title })" @close="emit('close')">
    <p class="mt-1 text-soft">{{ t(`door.who.${door.kind}`) }}</p>
    <div class="mt-4 flex gap-5">
      <img
        :src="codeAddress(door, 'svg')"
        :alt="t('door.code')"
        class="size-32 shrink-0 rounded-edge border border-line bg-white"
      />
      <div class="min-w-0 flex-1">
        <p class="truncate font-code text-[13px] text-soft" :title="door.address">
          {{ door.address }}
        </p>
        <p
          v-if="door.shortAddress"
          class="mt-1 font-code text-[16px] font-semibold whitespace-nowrap text-petrol"
        >
          {{ addressToSay(door) }}
        </p>
        <div class="mt-2 flex flex-wrap gap-2">
          <AppButton @click="copy(door.shortAddress ?? door.address)">{{
            t(wasCopied(door.shortAddress ?? door.address) ? 'audience.copied' : 'audience.copy')
          }}</AppButton>
          <AppButton
            v-if="!door.shortAddress"
            @click="change({ short: true }, 'door.short-made')"
            >{{ t('door.make-short') }}</AppButton
          >
          <AppButton v-else @click="change({ short: false }, 'door.short-gone')">{{
            t('door.no-short')
          }}</AppButton>
        </div>
        <p v-if="!door.shortAddress" class="mt-1.5 text-meta text-soft">
          {{ t('door.short-text') }}
        </p>
        <p class="mt-1.5 flex gap-3 text-meta">
          <a
            v-for="form in ['svg', 'png'] as const"
            :key="form"
            :href="codeAddress(door, form)"
            :download="`${title}.${form}`"
            class="text-petrol underline underline-offset-2"
            >{{ t('door.code-as', { form: form.toUpperCase() }) }}</a
          >
        </p>
      </div>
    </div>
    <div class="mt-5 grid grid-cols-2 gap-3">
      <div>
        <MomentField v-model="until" :label="t('door.until')" />
        <AppButton
          v-if="until !== door.until"
          class="mt-2"
          @click="change({ until }, 'door.end-set')"
          >{{ t('common.save') }}</AppButton
        >
      </div>
      <div>
        <label class="block">
          <span class="block text-meta text-soft">{{
            t(door.hasWord ? 'door.other-word' : 'door.word')
          }}</span>
          <input
            v-model="word"
            maxlength="100"
            autocomplete="off"
            class="mt-0.5 h-10 w-full rounded-edge border border-line bg-raised px-2.5"
          />
        </label>
        <div class="mt-2 flex gap-2">
          <AppButton
            v-if="word.trim() !== ''"
            @click="change({ word }, 'door.word-set').then((done) => done && (word = ''))"
            >{{ t('common.save') }}</AppButton
          >
          <AppButton v-else-if="door.hasWord" @click="change({ word: '' }, 'door.word-gone')">{{
            t('door.no-word')
          }}</AppButton>
        </div>
      </div>
    </div>
    <div class="mt-5">
      <label class="block">
        <span class="block text-meta text-soft">{{ t('door.cover-text') }}</span>
        <textarea
          v-model="coverText"
          rows="2"
          maxlength="2000"
          class="mt-0.5 w-full rounded-edge border border-line bg-raised p-2.5"
        />
      </label>
      <AppButton
        v-if="coverText.trim() !== door.coverText"
        class="mt-1"
        @click="change({ coverText }, 'door.cover-set')"
        >{{ t('common.save') }}</AppButton
      >
    </div>
    <label
      v-if="door.kind === 'public'"
      class="mt-3 flex min-h-9 items-center gap-2.5 pointer-coarse:min-h-11"
    >
      <input
        type="checkbox"
        class="size-5 accent-(--action)"
        :checked="door.listed"
        @change="
          change(
            { listed: ($event.target as HTMLInputElement).checked },
            door.listed ? 'door.unlisted' : 'door.listed',
          )
        "
      />
      {{ t('door.may-list') }}
    </label>
    <section v-if="door.kind === 'public' && !door.hasWord" class="mt-5">
      <h3 class="text-[17px]">{{ t('door.embed') }}</h3>
      <div class="mt-1.5 flex gap-1.5" role="group" :aria-label="t('door.size')">
        <button
          v-for="(_, name) in SIZES"
          :key="name"
          type="button"
          class="min-h-9 rounded-edge border px-3 text-[15px]"
          :class="
            size === name ? 'border-petrol bg-petrol-pale font-semibold text-petrol' : 'border-line'
          "
          :aria-pressed="size === name"
          @click="size = name"
        >
          {{ t(`door.sizes.${name}`) }}
        </button>
      </div>
      <div class="mt-2 flex gap-2">
        <textarea
          :value="html"
          readonly
          rows="3"
          class="min-w-0 flex-1 rounded-edge border border-line bg-raised p-2 font-code text-[12px] text-soft"
          :aria-label="t('door.embed')"
          @focus="($event.target as HTMLTextAreaElement).select()"
        />
        <AppButton @click="copy(html)">{{
          t(wasCopied(html) ? 'audience.copied' : 'audience.copy')
        }}</AppButton>
      </div>
    </section>
    <div class="mt-6 flex flex-wrap gap-2">
      <AppButton @click="emit('close')">{{ t('common.close') }}</AppButton>
      <span class="flex-1" />
      <AppButton @click="renew">{{ t('door.renew') }}</AppButton>
    </div>
  </ModalSheet>
</template>
