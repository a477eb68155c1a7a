<script setup lang="ts">
import type { AudienceChoice, Thing, WhyReason } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { api } from '../../app/api/api.ts';
import { useAudienceChoices } from '../../app/choosing.ts';
import { useFormat } from '../../app/format.ts';
import AppButton from '../../ui/AppButton.vue';
import ChoiceName from '../../app/ChoiceName.vue';
import ModalSheet from '../../ui/ModalSheet.vue';
import PageState from '../../app/PageState.vue';

/** Why a class, a person or a visitor sees a thing, or does not: the handing out, the way, and what stands in between. */
const { thing, title } = defineProps<{ thing: Thing; title: string }>();
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();
const { moment } = useFormat();

const { words, people } = useAudienceChoices();
const chosen = ref<AudienceChoice | 'visitor' | null>(null);
const as = computed(() => {
  const who = chosen.value;
  if (who === null) return null;
  return who === 'visitor' ? who : `${who.kind}.${who.id}`;
});
const name = computed(() =>
  chosen.value === 'visitor' ? t('see-as.visitor') : (chosen.value?.label ?? ''),
);
const why = useQuery({
  key: () => ['why', thing.id, as.value ?? ''],
  query: () => api('GET /api/why', { query: { ...thing, as: as.value! } }),
  enabled: () => as.value !== null,
  gcTime: 0,
});

const audience = ({ audience: to }: WhyReason) =>
  to.label || (to.kind === 'person' ? name.value : t(`tab.${to.kind}`));
const through = (reason: WhyReason) =>
  reason.through && reason.through.id !== thing.id
    ? t('why.through', {
        title: reason.through.title ?? t('audience.unseen'),
        name: audience(reason),
      })
    : t('why.itself', { name: audience(reason) });
function obstacle({ obstacle: found }: WhyReason): string {
  if (!found) return t('why.nothing-between');
  const what = found.folder
    ? found.folder.title === null
      ? t('why.folder-unseen')
      : t('why.folder', { title: found.folder.title })
    : t(`why.own.${found.kind}`);
  return t(`why.obstacle.${found.kind === 'year' ? 'year' : found.state}`, {
    what,
    when: found.from ? moment(found.from) : '',
  });
}
</script>

<template>
  <ModalSheet :title="t('why.title', { title })" @close="emit('close')">
    <template v-if="chosen === null">
      <p class="mt-1 text-soft">{{ t('why.text') }}</p>
      <input
        v-model="words"
        type="search"
        class="mt-3 h-10 w-full rounded-edge border border-line bg-raised px-3"
        :placeholder="t('see-as.find')"
        :aria-label="t('see-as.find')"
      />
      <ul class="mt-2 max-h-72 overflow-y-auto border-y border-line">
        <li v-for="choice in people" :key="choice.id" class="border-t border-line first:border-t-0">
          <button
            type="button"
            class="flex min-h-11 w-full items-center gap-3 px-1 text-left hover:bg-paper/60"
            @click="chosen = choice"
          >
            <ChoiceName
              :choice="choice"
              :about="choice.kind === 'class' ? choice.about : t(`people.${choice.about}`)"
            />
          </button>
        </li>
        <li v-if="words.trim() === ''" class="border-t border-line">
          <button
            type="button"
            class="min-h-11 w-full px-1 text-left hover:bg-paper/60"
            @click="chosen = 'visitor'"
          >
            {{ t('see-as.visitor') }}
          </button>
        </li>
      </ul>
    </template>
    <template v-else>
      <PageState v-if="!why.data.value" :error="why.error.value" @again="why.refetch()" />
      <div v-else role="status">
        <p class="mt-3 text-[18px] font-semibold" :class="why.data.value.sees ? 'text-good' : ''">
          {{ t(why.data.value.sees ? 'why.sees' : 'why.sees-not', { name }) }}
        </p>
        <ul class="mt-2">
          <li v-if="why.data.value.owns" class="mt-1.5">{{ t('why.owns') }}</li>
          <li
            v-for="(reason, n) in why.data.value.reasons"
            :key="n"
            class="mt-2 border-l-4 pl-3"
            :class="reason.obstacle ? 'border-mark' : 'border-good'"
          >
            {{ through(reason) }}
            <RouterLink
              v-if="reason.through?.id"
              :to="{ name: 'folder', params: { folder: reason.through.id } }"
              class="text-meta text-petrol underline underline-offset-2"
              @click="emit('close')"
              >{{ t('why.go') }}</RouterLink
            >
            <br />
            <span class="text-soft">{{ obstacle(reason) }}</span>
          </li>
          <li v-if="why.data.value.formerClasses.length > 0" class="mt-2">
            {{ t('why.former', { codes: why.data.value.formerClasses.join(', ') }) }}
          </li>
          <li
            v-if="!why.data.value.owns && why.data.value.reasons.length === 0"
            class="mt-1.5 text-soft"
          >
            {{ t('why.not-handed') }}
          </li>
        </ul>
      </div>
      <div class="mt-5 flex flex-wrap gap-2">
        <AppButton @click="chosen = null">{{ t('why.another') }}</AppButton>
        <RouterLink
          :to="{ name: 'see-as', params: { as: as ?? '' } }"
          class="inline-flex min-h-9 items-center rounded-edge border border-line bg-raised px-3.5 text-[15px] font-semibold hover:border-petrol hover:text-petrol"
          >{{ t('see-as.title') }}</RouterLink
        >
      </div>
    </template>
  </ModalSheet>
</template>
