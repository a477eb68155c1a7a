<script setup lang="ts">
import type { Token } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { useClipboard } from '@vueuse/core';
import { computed, nextTick, ref, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { useAction } from '../../app/action.ts';
import { api } from '../../app/api/api.ts';
import { useFormat } from '../../app/format.ts';
import PageState from '../../app/PageState.vue';
import { useSession } from '../../app/session/session.ts';
import { say } from '../../app/shell/toast.ts';
import { useSubmit } from '../../app/submit.ts';
import AppButton from '../../ui/AppButton.vue';
import { FIELD } from '../../ui/field.ts';

/** How one’s folders become a drive of a computer: where they are, and the passwords by which programs get in. */
const { t } = useI18n();
const { day } = useFormat();
const session = useSession();
const teaches = computed(() => session.person?.kind === 'teacher');
const query = useQuery({ key: ['tokens'], query: () => api('GET /api/tokens'), staleTime: 0 });
const data = computed(() => query.data.value);
const { copy, copied, text: lastCopied } = useClipboard({ legacy: true, copiedDuring: 4000 });
const copyText = (what: string) =>
  t(copied.value && lastCopied.value === what ? 'feed.copied' : 'feed.copy');

const name = ref('');
const writes = ref(true);
/** The password that was just made: it is shown this once. */
const made = ref<(Token & { password: string }) | null>(null);
const { fault, busy, tried } = useSubmit();
const shown = useTemplateRef<HTMLElement>('shown');
const make = () =>
  tried(async () => {
    made.value = await api('POST /api/tokens', {
      body: { name: name.value, writes: teaches.value && writes.value },
    });
    name.value = '';
    await query.refetch();
    await nextTick();
    shown.value?.focus();
  });

const attempt = useAction(() => query.refetch());
const revoke = (token: Token) =>
  attempt(async () => {
    const params = { programToken: token.id };
    await api('DELETE /api/tokens/:programToken', { params });
    if (made.value?.id === token.id) made.value = null;
    say({
      text: t('programs.revoked', { name: token.name }),
      undo: async () => {
        await api('POST /api/tokens/:programToken/restore', { params });
        await query.refetch();
      },
    });
  });
</script>

<template>
  <div class="mx-auto w-full max-w-3xl px-5 py-7 sm:px-10">
    <h1 class="text-[28px]">{{ t('programs.title') }}</h1>
    <p class="mt-1 max-w-xl text-soft">
      {{ t(teaches ? 'programs.text' : 'programs.text-student') }}
    </p>
    <PageState v-if="!data" :error="query.error.value" @again="query.refetch()" />
    <template v-else>
      <dl class="mt-5 grid items-center gap-x-4 gap-y-1 sm:grid-cols-[7rem_1fr_auto]">
        <template
          v-for="[label, value] in [
            ['programs.address', data.address],
            ['programs.sign-in-name', data.signInName],
          ] as const"
          :key="label"
        >
          <dt class="text-meta text-soft">{{ t(label) }}</dt>
          <dd class="font-code text-[15px] wrap-anywhere">{{ value }}</dd>
          <dd class="max-sm:mb-2">
            <AppButton :aria-label="`${copyText(value)} ${t(label)}`" @click="copy(value)">{{
              copyText(value)
            }}</AppButton>
          </dd>
        </template>
      </dl>

      <section
        v-if="made"
        ref="shown"
        tabindex="-1"
        class="mt-6 rounded-lg border border-saffron bg-raised px-5 py-4"
        aria-labelledby="made-heading"
      >
        <h2 id="made-heading" class="text-[19px]">{{ t('programs.made', { name: made.name }) }}</h2>
        <p class="mt-2 font-code text-[17px] wrap-anywhere">{{ made.password }}</p>
        <p class="mt-1 text-meta text-soft">{{ t('programs.once') }}</p>
        <AppButton class="mt-3" @click="copy(made.password)">{{
          copyText(made.password)
        }}</AppButton>
      </section>

      <section class="mt-8" aria-labelledby="tokens-heading">
        <h2 id="tokens-heading" class="text-[22px]">{{ t('programs.passwords') }}</h2>
        <p v-if="data.tokens.length === 0" class="mt-1 text-soft">{{ t('programs.none') }}</p>
        <ul v-else class="mt-2 border-b border-line">
          <li
            v-for="token in data.tokens"
            :key="token.id"
            class="flex flex-wrap items-center gap-x-4 border-t border-line py-2"
          >
            <span class="min-w-0 flex-1 font-semibold wrap-anywhere">{{ token.name }}</span>
            <span v-if="teaches" class="text-meta text-soft">{{
              t(token.writes ? 'programs.writes' : 'programs.reads')
            }}</span>
            <span class="w-44 text-meta text-soft">{{
              token.usedAt
                ? t('programs.used', { day: day(token.usedAt) })
                : t('programs.unused', { day: day(token.createdAt) })
            }}</span>
            <button
              type="button"
              class="min-h-9 font-semibold text-brick-ink hover:underline pointer-coarse:min-h-11"
              :aria-label="t('programs.revoke-of', { name: token.name })"
              @click="revoke(token)"
            >
              {{ t('programs.revoke') }}
            </button>
          </li>
        </ul>
        <form class="mt-5 max-w-xl" @submit.prevent="make">
          <label class="block"
            ><span class="block text-meta text-soft">{{ t('programs.name') }}</span
            ><input
              v-model="name"
              maxlength="60"
              required
              :placeholder="t('programs.example')"
              :class="FIELD"
          /></label>
          <label
            v-if="teaches"
            class="mt-2 flex min-h-9 items-center gap-2.5 pointer-coarse:min-h-11"
          >
            <input v-model="writes" type="checkbox" class="size-4.5 accent-action" />{{
              t('programs.may-write')
            }}
          </label>
          <p v-if="fault" role="alert" class="mt-2 text-brick-ink">{{ fault }}</p>
          <AppButton tone="main" submits class="mt-3" :disabled="busy || name.trim() === ''">{{
            t('programs.make')
          }}</AppButton>
        </form>
      </section>

      <section class="mt-8" aria-labelledby="what-heading">
        <h2 id="what-heading" class="text-[22px]">{{ t('programs.what') }}</h2>
        <ul class="mt-2">
          <li
            v-for="place in teaches
              ? ['tray', 'classes', 'library']
              : ['new', 'my-classes', 'kept']"
            :key="place"
            class="grid gap-x-4 border-t border-line py-2 last:border-b sm:grid-cols-[9rem_1fr]"
          >
            <span class="font-code">{{ t(`programs.folder.${place}.name`) }}</span>
            <span class="text-soft">{{ t(`programs.folder.${place}.text`) }}</span>
          </li>
        </ul>
      </section>
    </template>
  </div>
</template>
