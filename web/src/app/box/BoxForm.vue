<script setup lang="ts">
import type { TaughtBox } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { computed, onMounted, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import AppButton from '../../ui/AppButton.vue';
import { api } from '../api/api.ts';
import ClassChoice from '../ClassChoice.vue';
import MomentField from '../MomentField.vue';
import { say } from '../shell/toast.ts';
import { useSubmit } from '../submit.ts';

/** A hand-in box: its words, for which classes a new one is, and until when it takes something. */
const {
  box = null,
  classes: forClasses = [],
  name = '',
  bare = false,
} = defineProps<{
  /** The one that is changed; none for a new one. */
  box?: TaughtBox | null;
  /** The classes for which a new one is to begin with, and how it is called. */
  classes?: readonly string[];
  name?: string;
  /** Whether it is on a sheet of its own. */
  bare?: boolean;
}>();
const emit = defineEmits<{ done: []; close: [] }>();
const { t } = useI18n();
const title = ref(box?.title ?? name);
const text = ref(box?.text ?? '');
const endsAt = ref(box?.endsAt ?? null);
const takesLate = ref(box?.takesLate ?? true);
const classIds = ref<string[]>([...forClasses]);
const classes = useQuery({
  key: ['timetable'],
  query: () => api('GET /api/timetable'),
  enabled: () => box === null,
});
const first = useTemplateRef('first');
onMounted(() => first.value?.focus());
const { fault, busy, tried } = useSubmit();
const ready = computed(
  () => title.value.trim() !== '' && (box !== null || classIds.value.length > 0) && !busy.value,
);
async function save() {
  if (!ready.value) return;
  const facts = {
    ...{ title: title.value, text: text.value },
    ...{ endsAt: endsAt.value, takesLate: takesLate.value },
  };
  const saved = await tried(async () => {
    if (box) {
      const params = { box: box.id };
      await api('PATCH /api/boxes/:box', { params, body: facts });
      const { title: was, text: said, endsAt: ended, takesLate: took } = box;
      say({
        text: t('taught-box.saved', { title: facts.title }),
        undo: async () => {
          const body = { title: was, text: said, endsAt: ended, takesLate: took };
          await api('PATCH /api/boxes/:box', { params, body });
          emit('done');
        },
      });
    } else {
      const made = await api('POST /api/boxes', { body: { ...facts, classIds: classIds.value } });
      say({
        text: t('taught-box.made', { title: facts.title, n: made.students }, made.students),
        undo: async () => {
          for (const id of made.ids) await api('DELETE /api/boxes/:box', { params: { box: id } });
          emit('done');
        },
      });
    }
    emit('done');
  });
  if (saved) emit('close');
}
const FIELD = 'w-full rounded-edge border border-line bg-raised px-3';
</script>

<template>
  <form
    :class="bare ? 'mt-4' : 'border border-line bg-raised px-5 py-5 shadow-md sm:px-7'"
    :aria-label="t(box ? 'taught-box.change' : 'taught-box.new')"
    @submit.prevent="save"
    @keydown.esc="emit('close')"
  >
    <input
      ref="first"
      v-model="title"
      maxlength="60"
      :aria-label="t('taught-box.name')"
      :placeholder="t('taught-box.name')"
      :class="[FIELD, 'h-11 font-title text-[19px] font-semibold']"
    />
    <textarea
      v-model="text"
      maxlength="5000"
      rows="2"
      :aria-label="t('taught-box.text')"
      :placeholder="t('taught-box.text')"
      :class="[FIELD, 'mt-2 py-2']"
    />
    <ClassChoice
      v-if="!box"
      v-model="classIds"
      class="mt-3"
      :label="t('taught-box.classes')"
      :classes="classes.data.value?.classes ?? []"
    />
    <div class="mt-3 flex flex-wrap items-end gap-x-6 gap-y-2">
      <MomentField v-model="endsAt" :label="t('taught-box.ends')" class="w-60" />
      <label
        v-if="endsAt !== null"
        class="flex min-h-10 items-center gap-2 text-[15px] pointer-coarse:min-h-11"
      >
        <input v-model="takesLate" type="checkbox" class="size-5 accent-(--action)" />{{
          t('taught-box.takes-late')
        }}
      </label>
      <p v-else class="min-h-10 text-meta leading-10 text-soft">{{ t('taught-box.no-end') }}</p>
    </div>
    <div class="mt-5 flex flex-wrap items-center gap-3">
      <AppButton tone="main" submits :disabled="!ready">{{
        t(box ? 'common.save' : 'taught-box.make')
      }}</AppButton>
      <AppButton @click="emit('close')">{{ t('common.cancel') }}</AppButton>
      <p v-if="fault" role="alert" class="min-w-40 flex-1 text-[15px] text-brick-ink">
        {{ fault }}
      </p>
      <p v-else class="min-w-40 flex-1 text-[15px] text-soft">{{ t('taught-box.private') }}</p>
    </div>
  </form>
</template>
