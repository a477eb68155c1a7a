<script setup lang="ts">
import type { OwnPasskey } from '@sammlung/contract';
import { computed, nextTick, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { useFormat } from '../../app/format.ts';
import { hasPasskeys, makePasskey } from '../../app/session/passkeys.ts';
import { say } from '../../app/shell/toast.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import { FIELD } from '../../ui/field.ts';
import { useRefresh } from './account.ts';
import OwnPassword from './OwnPassword.vue';

/** One’s own passkeys: added, and removed. */
const { passkeys } = defineProps<{ passkeys: readonly OwnPasskey[] }>();
const { t } = useI18n();
const { moment } = useFormat();
const refresh = useRefresh();
const { fault, busy, tried } = useSubmit();
/** What the password is asked for: a new passkey, or one that goes. */
const wanted = ref<'new' | OwnPasskey | null>(null);
const removing = computed(() => (wanted.value === 'new' ? null : wanted.value));
const name = ref('');
const password = ref('');

function close() {
  wanted.value = null;
  name.value = password.value = fault.value = '';
}
const form = useTemplateRef('form');
async function begin(what: 'new' | OwnPasskey) {
  close();
  wanted.value = what;
  await nextTick();
  form.value?.querySelector('input')?.focus();
}
async function add() {
  let why = '';
  const went = await tried(async () => {
    const body = { password: password.value };
    const made = await makePasskey(await api('POST /api/account/passkeys', { body }));
    if (made === null) why = t('account.passkey-none');
    else if (made === 'there') why = t('account.passkey-there');
    else await api('PUT /api/account/passkeys', { body: { name: name.value, passkey: made } });
  });
  password.value = '';
  if (why) fault.value = why;
  if (!went || why) return;
  say({ text: t('account.passkey-added', { name: name.value }) });
  close();
  await refresh();
}
async function remove({ id, name: called }: OwnPasskey) {
  const went = await tried(() =>
    api('POST /api/account/passkeys/:passkey/removal', {
      params: { passkey: id },
      body: { password: password.value },
    }),
  );
  password.value = '';
  if (!went) return;
  say({ text: t('account.passkey-removed', { name: called }) });
  close();
  await refresh();
}
const submit = () => (removing.value ? remove(removing.value) : add());
</script>

<template>
  <ul v-if="passkeys.length > 0" class="mb-3 border-b border-line">
    <li
      v-for="one in passkeys"
      :key="one.id"
      class="flex min-h-12 flex-wrap items-center gap-x-4 border-t border-line py-1.5"
    >
      <span class="min-w-0 flex-1"
        ><span class="font-semibold wrap-anywhere">{{ one.name }}</span>
        <span class="ml-2 text-meta text-soft">{{
          one.used
            ? t('account.passkey-used', { when: moment(one.used) })
            : t('account.since', { when: moment(one.since) })
        }}</span></span
      >
      <button
        type="button"
        class="min-h-9 font-semibold text-brick-ink hover:underline pointer-coarse:min-h-11"
        :aria-label="t('account.passkey-remove-of', { name: one.name })"
        @click="begin(one)"
      >
        {{ t('account.passkey-remove') }}
      </button>
    </li>
  </ul>
  <form v-if="wanted" ref="form" class="max-w-md space-y-3" @submit.prevent="submit">
    <p v-if="removing">{{ t('account.passkey-sure', { name: removing.name }) }}</p>
    <label v-else class="block"
      ><span class="block text-meta text-soft">{{ t('account.passkey-name') }}</span
      ><input
        v-model.trim="name"
        maxlength="60"
        required
        :placeholder="t('account.passkey-example')"
        :class="FIELD"
    /></label>
    <OwnPassword v-model="password" />
    <p role="alert" class="font-medium text-brick-ink empty:hidden">{{ fault }}</p>
    <div class="flex gap-2">
      <AppButton :tone="removing ? 'warn' : 'main'" submits :disabled="busy">{{
        t(removing ? 'account.passkey-remove' : 'account.step-next')
      }}</AppButton>
      <AppButton :disabled="busy" @click="close">{{ t('common.cancel') }}</AppButton>
    </div>
  </form>
  <AppButton v-else-if="hasPasskeys()" @click="begin('new')">{{
    t('account.passkey-add')
  }}</AppButton>
  <p v-else class="text-soft">{{ t('account.passkey-browser') }}</p>
</template>
