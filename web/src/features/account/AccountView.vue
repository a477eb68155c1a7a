<script setup lang="ts">
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { useAction } from '../../app/action.ts';
import { address } from '../../app/api/addresses.ts';
import { api } from '../../app/api/api.ts';
import PageState from '../../app/PageState.vue';
import { useSession } from '../../app/session/session.ts';
import LanguageChoice from '../../app/shell/LanguageChoice.vue';
import AccountPart from './AccountPart.vue';
import { useAccount } from './account.ts';
import EmailForm from './EmailForm.vue';
import NameForm from './NameForm.vue';
import OwnPasskeys from './OwnPasskeys.vue';
import OwnSessions from './OwnSessions.vue';
import PasswordForm from './PasswordForm.vue';
import SecondStep from './SecondStep.vue';
import ThemeChoice from './ThemeChoice.vue';

/** One’s own account. */
const { t } = useI18n();
const session = useSession();
const query = useAccount();
const attempt = useAction(() => query.refetch());
const chooseDigest = (digest: boolean) =>
  attempt(() => api('PUT /api/new/digest', { body: { digest } }));
const LINK =
  'inline-flex min-h-9 items-center font-semibold text-petrol hover:underline pointer-coarse:min-h-11';
</script>

<template>
  <div class="mx-auto w-full max-w-4xl px-5 py-7 sm:px-10">
    <h1 class="mb-5 text-[28px]">{{ t('account.title') }}</h1>
    <PageState v-if="!query.data.value" :error="query.error.value" @again="query.refetch()" />
    <template v-else>
      <AccountPart :title="t('account.name')">
        <NameForm :account="query.data.value" />
      </AccountPart>
      <AccountPart :title="t('account.email')">
        <EmailForm :account="query.data.value" />
      </AccountPart>
      <AccountPart :title="t('account.password')" :text="t('account.password-text')">
        <PasswordForm />
      </AccountPart>
      <AccountPart
        v-if="query.data.value.secondStep"
        :title="t('account.step')"
        :text="t('account.step-text')"
      >
        <SecondStep :step="query.data.value.secondStep" />
      </AccountPart>
      <AccountPart
        v-if="query.data.value.passkeys"
        :title="t('account.passkeys')"
        :text="t('account.passkeys-text')"
      >
        <OwnPasskeys :passkeys="query.data.value.passkeys" />
      </AccountPart>
      <AccountPart :title="t('account.sessions')">
        <OwnSessions :sessions="query.data.value.sessions" />
      </AccountPart>
      <AccountPart :title="t('account.look')">
        <LanguageChoice />
        <ThemeChoice class="mt-3" />
        <label
          v-if="session.person?.kind === 'student' && query.data.value.email"
          class="mt-3 flex min-h-9 items-center gap-2.5 pointer-coarse:min-h-11"
        >
          <input
            type="checkbox"
            class="size-4.5 accent-action"
            :checked="query.data.value.digest"
            @change="chooseDigest(($event.target as HTMLInputElement).checked)"
          />{{ t('account.digest') }}
        </label>
      </AccountPart>
      <AccountPart :title="t('account.more')">
        <RouterLink
          v-if="session.person?.kind !== 'office'"
          :to="{ name: 'programs' }"
          :class="LINK"
          >{{ t('shell.programs') }}</RouterLink
        >
        <br v-if="session.person?.kind !== 'office'" />
        <a :href="address('GET /api/account/held')" :class="LINK" download>{{
          t('account.held')
        }}</a>
        <p class="mb-2 max-w-xl text-meta text-soft">{{ t('account.held-text') }}</p>
        <RouterLink :to="{ name: 'recorded' }" :class="LINK">{{ t('shell.recorded') }}</RouterLink>
      </AccountPart>
    </template>
  </div>
</template>
