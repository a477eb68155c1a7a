<script setup lang="ts">
import type { AudienceChoice, CoverNote, Thing } from '@sammlung/contract';
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { useAudienceChoices } from '../../app/choosing.ts';
import { useChanging } from '../../app/changing.ts';
import { useChangePreview } from '../../app/change-preview.ts';
import { backwards } from '../../app/span.ts';
import { say } from '../../app/shell/toast.ts';
import AppButton from '../../ui/AppButton.vue';
import ChoiceName from '../../app/ChoiceName.vue';
import ModalSheet from '../../ui/ModalSheet.vue';
import { AT_ONCE, colleagues, useHandingOut } from '../../app/handing.ts';
import NoteFields from '../../app/NoteFields.vue';
import TermsFields from './TermsFields.vue';

/** Hands things out to several audiences at once, from a day and until another one. */
const { things, title } = defineProps<{
  things: readonly Thing[];
  /** What is handed out, in words. */
  title: string;
}>();
const emit = defineEmits<{ close: [] }>();
const { t } = useI18n();
const { attempt } = useChanging();
const { handOut } = useHandingOut();

const { words, choices } = useAudienceChoices();
const key = ({ kind, id }: AudienceChoice) => `${kind} ${id}`;
const chosen = ref<AudienceChoice[]>([]);
const isChosen = (choice: AudienceChoice) => chosen.value.some((c) => key(c) === key(choice));
/** What was chosen stays in sight, whatever is looked for; nothing moves under the pointer. */
const offered = computed(() => {
  const found = choices.data.value?.audiences ?? [];
  const beside = chosen.value.filter((c) => !found.some((f) => key(f) === key(c)));
  return [...beside, ...found];
});
function toggle(choice: AudienceChoice) {
  chosen.value = isChosen(choice)
    ? chosen.value.filter((c) => key(c) !== key(choice))
    : [...chosen.value, choice];
}
const name = (choice: AudienceChoice) => choice.label || t(`tab.${choice.kind}`);
const about = (choice: AudienceChoice) =>
  choice.kind === 'person'
    ? t(`people.${choice.about}`)
    : [
        choice.about,
        t(choice.kind === 'staff' ? 'count.colleagues' : 'count.people', choice.people),
      ]
        .filter(Boolean)
        .join(' · ');

const terms = ref(AT_ONCE);
const timed = ref(false);
const levels = computed(
  () =>
    chosen.value.length > 0 &&
    chosen.value.every(colleagues) &&
    things.every((thing) => thing.kind === 'folder'),
);
/** Whom a note could reach. */
const addressed = computed(
  () => chosen.value.length > 0 && chosen.value.every((choice) => choice.kind !== 'school'),
);
const note = ref<CoverNote | null>(null);
const valid = computed(() => !backwards(terms.value));
const change = computed(() => ({
  do: 'hand-out' as const,
  things: [...things],
  audiences: chosen.value.map(({ kind, id }) => ({ kind, id })),
  ...terms.value,
  level: levels.value ? terms.value.level : ('view' as const),
}));
const { sentence } = useChangePreview(() =>
  chosen.value.length > 0 && valid.value ? change.value : null,
);
const says = computed(() => {
  if (chosen.value.length === 0) return t('audience.choose-text');
  return sentence.value === undefined ? '' : sentence.value || t('consequence.none');
});

async function go() {
  const done = await attempt(async () => {
    const { things: what, audiences, level, from, until } = change.value;
    const { already, noted, undo } = await handOut(
      what,
      audiences,
      { level, from, until },
      addressed.value ? note.value : null,
    );
    const to = chosen.value.map(name).join(', ');
    say({
      text: [
        undo ? t('audience.handed', { title, name: to }) : '',
        noted > 0 ? t('note.on-its-way', noted) : '',
        already > 0 ? t('audience.already', already) : '',
      ]
        .filter(Boolean)
        .join('. '),
      undo,
    });
    return true;
  });
  if (done) emit('close');
}
</script>

<template>
  <ModalSheet
    :title="t('audience.hand-out-title', { title }, things.length)"
    @close="emit('close')"
  >
    <input
      v-model="words"
      type="search"
      class="mt-4 h-10 w-full rounded-edge border border-line bg-raised px-3"
      :placeholder="t('audience.find')"
      :aria-label="t('audience.find')"
    />
    <ul
      class="mt-2 max-h-[236px] overflow-y-auto border-y border-line"
      :aria-label="t('audience.whom')"
    >
      <li
        v-for="choice in offered"
        :key="key(choice)"
        class="border-t border-line first:border-t-0"
      >
        <label class="flex min-h-11 cursor-pointer items-center gap-3 px-1 hover:bg-paper/60">
          <input
            type="checkbox"
            class="size-5 accent-(--action)"
            :checked="isChosen(choice)"
            @change="toggle(choice)"
          />
          <ChoiceName :choice="choice" :about="about(choice)" />
        </label>
      </li>
      <li v-if="choices.data.value && offered.length === 0" class="px-1 py-2.5 text-soft">
        {{ t('audience.find-none') }}
      </li>
    </ul>
    <button
      v-if="!timed && !levels"
      type="button"
      class="mt-3 min-h-9 font-medium text-petrol underline underline-offset-2"
      @click="timed = true"
    >
      {{ t('audience.with-dates') }}
    </button>
    <TermsFields v-else v-model="terms" class="mt-3" :levels="levels" />
    <template v-if="addressed">
      <button
        v-if="note === null"
        type="button"
        class="mt-1 block min-h-9 font-medium text-petrol underline underline-offset-2"
        @click="note = { body: '', copyToSender: true }"
      >
        {{ t('note.add') }}
      </button>
      <NoteFields v-else v-model="note" class="mt-3" />
    </template>
    <p class="mt-3 min-h-[2.8em] text-soft" role="status">{{ says }}</p>
    <div class="mt-3 flex flex-wrap gap-2">
      <AppButton tone="main" :disabled="chosen.length === 0 || !valid" @click="go">
        {{ t('audience.hand-out') }}
      </AppButton>
      <AppButton @click="emit('close')">{{ t('common.cancel') }}</AppButton>
    </div>
  </ModalSheet>
</template>
