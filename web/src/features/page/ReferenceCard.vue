<script setup lang="ts">
import type { Reference } from '@sammlung/contract';
import type { Ref } from 'vue';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import IndexTab from '../../app/IndexTab.vue';
import KindMark from '../../ui/KindMark.vue';

/** The card of a thing on a page, while it is written: what the thing is, and which readers of the page do not see it. */
const { reference, gone } = defineProps<{
  reference: Ref<Reference | null>;
  /** There is no such thing for whoever writes. */
  gone: Ref<boolean>;
}>();
const emit = defineEmits<{ handOut: [reference: Reference] }>();
const { t } = useI18n();
const thing = computed(() => reference.value);
const unseen = computed(() => thing.value?.unseenBy ?? []);
/** To whom it could be handed out: what is held back needs another release, and doors are opened in the library. */
const wanting = computed(() =>
  unseen.value.filter(
    ({ kind, handedOut }) => !handedOut && kind !== 'public' && kind !== 'school-door',
  ),
);
</script>

<template>
  <div
    class="border border-line bg-sheet font-text text-[16px] leading-snug"
    contenteditable="false"
  >
    <p v-if="gone.value" class="px-3 py-3 text-soft">{{ t('page.reference.gone') }}</p>
    <p v-else-if="!thing" class="px-3 py-3 text-soft">{{ t('common.loading') }}</p>
    <template v-else>
      <p class="flex min-h-14 items-center gap-3 px-3 py-2">
        <KindMark
          :kind="thing.itemKind ?? 'folder'"
          :extension="thing.extension"
          :mark="thing.mark"
          :colour="thing.colour"
        />
        <span class="font-semibold wrap-anywhere">{{ thing.title }}</span>
      </p>
      <div
        v-if="unseen.length > 0"
        class="flex flex-wrap items-center gap-x-2 gap-y-1 border-t border-line bg-paper px-3 py-2 text-meta"
      >
        <span class="inline-block size-[9px] bg-saffron" aria-hidden="true" />
        <span>{{ t('page.reference.unseen') }}</span>
        <IndexTab
          v-for="audience in unseen"
          :key="audience.id"
          :tab="{ ...audience, state: audience.handedOut ? 'held' : 'none', from: null }"
        />
        <button
          v-if="wanting.length > 0 && thing.mayHandOut"
          type="button"
          class="min-h-9 font-semibold text-petrol underline pointer-coarse:min-h-11"
          @click="emit('handOut', { ...thing, unseenBy: wanting })"
        >
          {{ t('page.reference.hand-out') }}
        </button>
      </div>
    </template>
  </div>
</template>
