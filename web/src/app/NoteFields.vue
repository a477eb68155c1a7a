<script setup lang="ts">
import type { CoverNote } from '@sammlung/contract';
import { useId } from 'vue';
import { useI18n } from 'vue-i18n';

/** The message that goes with a handing out; the link is put below it. */
const note = defineModel<CoverNote | null>({ required: true });
const { t } = useI18n();
const id = useId();
</script>

<template>
  <div v-if="note">
    <label :for="id" class="block text-meta text-soft">{{ t('note.label') }}</label>
    <textarea
      :id="id"
      v-model="note.body"
      rows="4"
      maxlength="4000"
      class="mt-0.5 w-full rounded-edge border border-line bg-raised px-3 py-2 text-[15px]"
      :placeholder="t('note.example')"
    />
    <div class="flex flex-wrap items-center justify-between gap-x-4">
      <label class="flex min-h-9 items-center gap-2 text-[15px] pointer-coarse:min-h-11">
        <input v-model="note.copyToSender" type="checkbox" class="size-5 accent-(--action)" />
        {{ t('note.copy') }}
      </label>
      <button
        type="button"
        class="min-h-9 text-[15px] text-petrol underline underline-offset-2"
        @click="note = null"
      >
        {{ t('note.none') }}
      </button>
    </div>
  </div>
</template>
