<script setup lang="ts">
import type { SameName } from '@sammlung/contract';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { explain } from '../../app/problems.ts';
import { say } from '../../app/toast.ts';
import { useUploads, type Transfer } from '../../app/uploads.ts';
import AppButton from '../../ui/AppButton.vue';

/** One file on its way: how far it is, what became of it, and what can be done. */
const { transfer: x } = defineProps<{ transfer: Transfer }>();
const emit = defineEmits<{ instead: [choice: Exclude<SameName, 'version'>] }>();
const { t } = useI18n();
const uploads = useUploads();

const words = computed(() => {
  if (x.state === 'failed') return explain(t, x.error);
  if (x.state === 'sending')
    return `${x.size === 0 ? 0 : Math.floor((x.sent / x.size) * 100)} % · ${x.folder.title}`;
  if (x.state !== 'done' || !x.result) return t(`intake.${x.state}`);
  const { outcome, version, renamed, name, alsoIn } = x.result;
  const said = t(`intake.outcome.${outcome}`, {
    number: version,
    place: alsoIn.map((folder) => folder.title).join(', '),
  });
  return renamed && outcome !== 'skipped' ? `${said}. ${t('intake.renamed', { name })}` : said;
});

function foundAgain(event: Event) {
  const input = event.target as HTMLInputElement;
  const [file] = input.files ?? [];
  if (file && !uploads.found(x, file))
    say({ text: t('intake.other-file', { name: x.name }), tone: 'bad' });
  input.value = '';
}
</script>

<template>
  <li
    class="grid grid-cols-[1fr_auto] items-center gap-x-2 px-4 py-1.5 not-first:border-t not-first:border-line"
  >
    <span class="truncate" :title="x.name">{{ x.name }}</span>
    <AppButton v-if="x.state === 'waiting' || x.state === 'sending'" @click="uploads.stop(x)">
      {{ t('intake.stop') }}
    </AppButton>
    <span v-else-if="x.state === 'failed' || x.state === 'stopped'" class="flex gap-1.5">
      <AppButton @click="uploads.again(x)">{{ t('intake.again') }}</AppButton>
      <AppButton @click="uploads.forget(x)">{{ t('intake.forget') }}</AppButton>
    </span>
    <span v-else-if="x.state === 'lost'" class="flex gap-1.5">
      <label
        class="inline-flex min-h-9 cursor-pointer items-center rounded-edge border border-line bg-raised px-3.5 py-1.5 text-[15px] font-semibold hover:border-petrol hover:text-petrol has-focus-visible:outline-2 has-focus-visible:outline-saffron"
      >
        {{ t('intake.choose-again') }}
        <input type="file" class="sr-only" @change="foundAgain($event)" />
      </label>
      <AppButton @click="uploads.forget(x)">{{ t('intake.forget') }}</AppButton>
    </span>
    <span v-else class="text-good" aria-hidden="true">{{ x.state === 'done' ? '✓' : '' }}</span>
    <span
      class="col-span-2 text-meta"
      :class="x.state === 'failed' ? 'font-medium text-brick-ink' : 'text-soft'"
      :role="x.state === 'failed' ? 'alert' : undefined"
      >{{ words }}
      <span v-if="x.result?.outcome === 'version'" class="ml-1 inline-flex gap-2">
        <button class="text-petrol underline underline-offset-2" @click="emit('instead', 'both')">
          {{ t('intake.both') }}
        </button>
        <button class="text-petrol underline underline-offset-2" @click="emit('instead', 'skip')">
          {{ t('intake.skip') }}
        </button>
      </span>
    </span>
  </li>
</template>
