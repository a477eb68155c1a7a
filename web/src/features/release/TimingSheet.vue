<script setup lang="ts">
import type { Release, Thing, Timing } from '@sammlung/contract';
import { computed, ref, watch } from 'vue';
import { useI18n } from 'vue-i18n';
import { useChanging } from '../../app/changing.ts';
import { useChangePreview } from '../../app/change-preview.ts';
import { backwards } from '../../app/span.ts';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import IndexTab from '../../app/IndexTab.vue';
import ModalSheet from '../../ui/ModalSheet.vue';
import PageState from '../../app/PageState.vue';
import ReleaseFields from '../../app/ReleaseFields.vue';
import { OUT, useReleasing, useTiming } from './timing.ts';

/** When a folder, or an item where it lies, is seen: for all, and otherwise for single classes. */
const { thing, title } = defineProps<{ thing: Thing; title: string }>();
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();
const { attempt } = useChanging();
const { release } = useReleasing();
const timing = useTiming(() => thing);

const general = ref<Release>(OUT);
const perClass = ref<Record<string, Release | null>>({});
watch(
  () => timing.data.value,
  (data: Timing | undefined) => {
    if (!data) return;
    general.value = data.general;
    perClass.value = Object.fromEntries(data.classes.map((c) => [c.id, c.release]));
  },
  { immediate: true },
);
const same = (a: Release | null, b: Release | null) => JSON.stringify(a) === JSON.stringify(b);
const valid = computed(
  () => ![general.value, ...Object.values(perClass.value)].some((r) => r && backwards(r)),
);
/** What is different from what the server has. */
const wanted = computed(() => {
  const data = timing.data.value;
  if (!data) return [];
  return [
    ...(same(general.value, data.general) ? [] : [{ classId: null, release: general.value }]),
    ...data.classes.flatMap(({ id, release: was }) => {
      const now = perClass.value[id] ?? null;
      return same(now, was) ? [] : [{ classId: id, release: now }];
    }),
  ];
});

const { sentence } = useChangePreview(() =>
  valid.value && wanted.value.length > 0
    ? { do: 'release', things: [thing], rules: wanted.value }
    : null,
);

async function save() {
  const done = await attempt(async () => {
    const made = await release([thing], wanted.value, t('common.save'));
    if (!made) return false;
    const text = [t('timing.saved', { title }), made.text].filter(Boolean).join('. ');
    say({ text, undo: made.undo });
    return true;
  });
  if (done) emit('close');
}
</script>

<template>
  <ModalSheet :title="t('timing.title', { title })" @close="emit('close')">
    <PageState v-if="!timing.data.value" :error="timing.error.value" @again="timing.refetch()" />
    <form v-else @submit.prevent="save">
      <p class="mt-1 mb-4 text-soft">
        {{ t(thing.kind === 'folder' ? 'timing.folder-text' : 'timing.item-text') }}
      </p>
      <ReleaseFields v-model="general" :label="t('timing.for-all')" />
      <template v-if="timing.data.value.classes.length > 0">
        <h3 class="mt-6 text-[17px]">{{ t('timing.per-class') }}</h3>
        <ul>
          <li
            v-for="c in timing.data.value.classes"
            :key="c.id"
            class="mt-2 border-t border-line pt-2.5"
          >
            <label class="mb-1.5 flex min-h-8 cursor-pointer items-center gap-3">
              <input
                type="checkbox"
                class="size-5 accent-(--action)"
                :checked="perClass[c.id] !== null"
                @change="perClass[c.id] = perClass[c.id] ? null : { ...general }"
              />
              <IndexTab
                :tab="{ kind: 'class', label: c.code, colour: c.colour, state: 'out', from: null }"
                plain
              />
              <span class="text-[15px]">{{
                t(perClass[c.id] ? 'timing.otherwise' : 'timing.as-all')
              }}</span>
            </label>
            <ReleaseFields
              v-if="perClass[c.id]"
              :model-value="perClass[c.id]!"
              :label="t('timing.for-class', { code: c.code })"
              @update:model-value="perClass[c.id] = $event"
            />
          </li>
        </ul>
      </template>
      <p v-if="wanted.length > 0 && valid" class="mt-5 min-h-[2.8em] text-soft" role="status">
        {{ sentence === '' ? t('consequence.none') : sentence }}
      </p>
      <div class="mt-4 flex gap-2">
        <AppButton tone="main" submits :disabled="wanted.length === 0 || !valid">{{
          t('common.save')
        }}</AppButton>
        <AppButton @click="emit('close')">{{ t('common.cancel') }}</AppButton>
      </div>
    </form>
  </ModalSheet>
</template>
