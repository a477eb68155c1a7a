<script setup lang="ts">
import type { Account } from '@sammlung/contract';
import { ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useSession } from '../../app/session/session.ts';
import { say } from '../../app/shell/toast.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import { FIELD } from '../../ui/field.ts';
import { useRefresh } from './account.ts';

/** One’s own name; that of a student is the one of the class list. */
const { account } = defineProps<{ account: Account }>();
const { t } = useI18n();
const session = useSession();
const refresh = useRefresh();
const name = ref(account.name);
const { fault, busy, tried } = useSubmit();

async function write(wanted: string) {
  await api('PATCH /api/account', { body: { name: wanted } });
  session.rename(wanted);
  name.value = wanted;
  await refresh();
}
const save = () =>
  tried(async () => {
    const before = account.name;
    await write(name.value.trim());
    say({ text: t('account.renamed', { name: name.value }), undo: () => write(before) });
  });
</script>

<template>
  <template v-if="!account.mayRename">
    <p class="font-semibold">{{ account.name }}</p>
    <p class="mt-1 text-meta text-soft">{{ t('account.name-list') }}</p>
  </template>
  <form v-else class="flex max-w-md items-center gap-2" @submit.prevent="save">
    <label class="block flex-1"
      ><span class="sr-only">{{ t('account.name') }}</span
      ><input v-model="name" maxlength="120" required autocomplete="name" :class="FIELD"
    /></label>
    <AppButton submits :disabled="busy || name.trim() === '' || name.trim() === account.name">{{
      t('common.save')
    }}</AppButton>
  </form>
  <p role="alert" class="mt-2 font-medium text-brick-ink empty:hidden">{{ fault }}</p>
</template>
