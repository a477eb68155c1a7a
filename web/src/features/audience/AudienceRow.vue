<script setup lang="ts">
import type { AudienceRow, Door, FolderView } from '@sammlung/contract';
import { SwitchDescription, SwitchGroup } from '@headlessui/vue';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { useSentences } from '../../app/sentence.ts';
import AppButton from '../../ui/AppButton.vue';
import IndexTab from '../../app/IndexTab.vue';
import OnOffSwitch from '../../ui/OnOffSwitch.vue';
import DoorAddress from './DoorAddress.vue';
import HandingTerms from './HandingTerms.vue';
import { hasIt, isDoor, keyOf, seenAs, useAudienceWords } from './rows.ts';

/** One audience beside a folder: whether it has the folder and whence, with the switch that changes it. */
const { folder, row, asking, flags } = defineProps<{
  folder: FolderView;
  row: AudienceRow;
  /** Whether the switch was pressed and wants an answer first. */
  asking: boolean;
  /** What looks as if it should not be open to this audience. */
  flags: readonly string[];
}>();
const editing = defineModel<boolean>('editing', { required: true });
const emit = defineEmits<{ toggle: []; answer: []; leave: []; door: [door: Door] }>();
const { t } = useI18n();
const { nameOf, peopleOf, termsOf } = useAudienceWords();
const { sentence, would } = useSentences();
const name = computed(() => nameOf(row));
const toSeen = computed(() => seenAs(row, folder.id));
const whence = computed(() => row.above.at(-1));
</script>

<template>
  <SwitchGroup
    as="li"
    class="col-span-3 grid grid-cols-subgrid border-t border-line py-2 *:col-span-3"
  >
    <div class="grid min-h-10 grid-cols-subgrid items-center">
      <RouterLink
        v-if="toSeen"
        :to="toSeen"
        class="justify-self-start hover:brightness-110"
        :title="t('audience.see-as', { name })"
      >
        <IndexTab :tab="row" /><span class="sr-only">{{ t('audience.see-as', { name }) }}</span>
      </RouterLink>
      <IndexTab v-else :tab="row" class="justify-self-start" />
      <div class="leading-snug">
        <p class="text-[15px]">{{ peopleOf(row) }}</p>
        <p class="text-meta text-soft">
          <template v-if="whence">
            {{ t('audience.from') }}
            <RouterLink
              v-if="whence.id"
              :to="{ name: 'folder', params: { folder: whence.id } }"
              class="underline underline-offset-2 hover:text-petrol"
              >{{ whence.title }}</RouterLink
            >
            <template v-else>{{ t('audience.unseen') }}</template>
          </template>
          <template v-else-if="row.here && isDoor(row)">{{ t('audience.here') }}</template>
          <button
            v-else-if="row.here"
            type="button"
            class="underline underline-offset-2 hover:text-petrol pointer-coarse:min-h-11"
            :aria-expanded="editing"
            @click="editing = !editing"
          >
            {{ termsOf(row) || t('audience.here') }}
          </button>
          <template v-else-if="row.byEntry">{{ t('audience.by-entry') }}</template>
          <template v-else>{{ would(row) }}</template>
        </p>
      </div>
      <OnOffSwitch
        v-if="row.here || !(whence || row.byEntry)"
        :id="`switch-${keyOf(row)}`"
        :model-value="hasIt(row)"
        :label="t('audience.switch', { name })"
        @update:model-value="emit('toggle')"
      />
    </div>
    <SwitchDescription class="sr-only">{{ sentence(row) }}</SwitchDescription>
    <div
      v-if="asking"
      class="mt-2 mb-1 rounded-lg border-l-4 border-brick bg-brick-pale px-3.5 py-3"
      @keydown.esc.stop="emit('leave')"
    >
      <p>{{ sentence(row) }}</p>
      <p v-for="flag in flags" :key="flag" class="mt-1.5 font-medium">{{ flag }}</p>
      <div class="mt-2.5 flex flex-wrap gap-2">
        <AppButton tone="warn" data-answer @click="emit('answer')">
          {{ t(row.here ? 'audience.take-back' : `audience.open-${row.kind}`) }}
        </AppButton>
        <AppButton @click="emit('leave')">{{ t('common.cancel') }}</AppButton>
      </div>
    </div>
    <HandingTerms
      v-if="editing && row.here"
      :key="row.here.id"
      :folder="folder"
      :row="row"
      :here="row.here"
      @done="editing = false"
    />
    <DoorAddress
      v-if="row.here?.door"
      :address="row.here.door.shortAddress ?? row.here.door.address"
      @more="row.here?.door && emit('door', row.here.door)"
    />
  </SwitchGroup>
</template>
