<script setup lang="ts">
import type { TrayRules } from '@sammlung/contract';
import { fillTitle, GOES_OUT_RULES, THING_KINDS } from '@sammlung/core';
import { useQueryCache } from '@pinia/colada';
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { say } from '../../app/shell/toast.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import ModalSheet from '../../ui/ModalSheet.vue';

/** When things of each kind go out, and how lessons are titled. */
const { rules } = defineProps<{ rules: TrayRules }>();
const emit = defineEmits<{ close: [] }>();
const cache = useQueryCache();
const { t } = useI18n();
const { fault, busy, tried } = useSubmit();
const goesOut = ref({ ...rules.goesOut });
const titlePattern = ref(rules.titlePattern);
const example = computed(() =>
  fillTitle(titlePattern.value, {
    ...{ class: 'SO1A', course: t('tray.rules.course'), n: 15 },
    about: t('tray.rules.about'),
  }),
);

const save = () =>
  tried(async () => {
    const before = rules;
    const set = async (body: TrayRules) => {
      await api('PUT /api/tray/rules', { body });
      await cache.invalidateQueries({ key: ['tray'] });
    };
    await set({ goesOut: goesOut.value, titlePattern: titlePattern.value });
    say({
      text: t('tray.rules.saved'),
      undo: () => set(before),
    });
    emit('close');
  });
</script>

<template>
  <ModalSheet :title="t('tray.rules.title')" @close="emit('close')">
    <form class="mt-4 space-y-5" @submit.prevent="save">
      <fieldset class="space-y-2">
        <legend class="sr-only">{{ t('tray.rules.title') }}</legend>
        <label
          v-for="kind in THING_KINDS"
          :key="kind"
          class="grid grid-cols-[1fr_13rem] items-center gap-3 max-sm:grid-cols-2"
        >
          <span>{{ t(`tray.kind.${kind}`) }}</span>
          <select
            v-model="goesOut[kind]"
            class="h-10 rounded-edge border border-line bg-raised px-2 text-[15px] pointer-coarse:h-11"
          >
            <option v-for="rule in GOES_OUT_RULES" :key="rule" :value="rule">
              {{ t(`tray.goes-out.${rule}`) }}
            </option>
          </select>
        </label>
        <p class="text-meta text-soft">{{ t('tray.rules.text') }}</p>
      </fieldset>
      <label class="block">
        <span class="block text-meta text-soft">{{ t('tray.rules.pattern') }}</span>
        <input
          v-model="titlePattern"
          maxlength="120"
          class="mt-0.5 h-10 w-full rounded-edge border border-line bg-raised px-2.5 font-code text-[15px]"
          :aria-invalid="fault ? true : undefined"
        />
        <span class="mt-1 block text-meta text-soft">{{
          t('tray.rules.example', { title: example })
        }}</span>
        <span class="block text-meta text-soft">{{
          t('tray.rules.tokens', { tokens: '{class} {course} {n} {about}' })
        }}</span>
      </label>
      <p v-if="fault" role="alert" class="text-brick-ink">{{ fault }}</p>
      <p class="flex gap-2">
        <AppButton tone="main" submits :disabled="busy">{{ t('common.save') }}</AppButton>
        <AppButton @click="emit('close')">{{ t('common.cancel') }}</AppButton>
      </p>
    </form>
  </ModalSheet>
</template>
