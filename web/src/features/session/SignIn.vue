<script setup lang="ts">
import type { SampleSignIns } from '@sammlung/contract';
import { useQuery } from '@pinia/colada';
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { useRoute, useRouter } from 'vue-router';
import { api } from '../../app/api/api.ts';
import LanguageChoice from '../../app/shell/LanguageChoice.vue';
import { useSubmit } from '../../app/submit.ts';
import { useSession } from '../../app/session/session.ts';
import ForgottenPassword from './ForgottenPassword.vue';
import OutsideWay from './OutsideWay.vue';
import PasskeyWay from './PasskeyWay.vue';
import SignInForm from './SignInForm.vue';

const { t } = useI18n();
const router = useRouter();
const route = useRoute();
const session = useSession();
const { fault, tried } = useSubmit();
const forgotten = ref(false);
const { data: sample } = useQuery({
  key: ['sample'],
  query: () => api('GET /api/sample'),
});

/** Where the person wanted to go; only addresses of ours. */
function wanted(): string {
  const { to } = route.query;
  return typeof to === 'string' && /^\/(?![/\\])/u.test(to) ? to : '/';
}
const goOn = () => router.replace(wanted());

/** What a provider, or better-auth, calls what was wrong: nobody of ours, nobody at all, or anything else. */
const REFUSED = new Map([
  ['unable_to_get_user_info', 'unknown'],
  ['signup_disabled', 'unknown'],
  ['account_not_linked', 'unknown'],
  ['access_denied', 'denied'],
]);
const refused = computed(() => {
  const { error } = route.query;
  return typeof error === 'string' ? t(`session.outside-${REFUSED.get(error) ?? 'failed'}`) : '';
});

async function signInAs({ email, password }: SampleSignIns['signIns'][number]) {
  await tried(async () => {
    await session.signIn(email, password);
    await goOn();
  });
}
</script>

<template>
  <main class="flex min-h-screen flex-col bg-frame">
    <h1 class="px-6 pt-10 pb-8 text-center text-[34px] font-[650] text-white sm:pt-16">
      {{ t('shell.name')
      }}<span class="ml-1.5 inline-block size-3.5 bg-saffron" aria-hidden="true" />
    </h1>
    <div
      class="mx-auto grid w-full max-w-4xl flex-1 content-start gap-10 bg-sheet px-6 py-10 sm:flex-none sm:px-12 md:rounded-lg"
      :class="{ 'md:grid-cols-2': sample?.signIns.length, 'max-w-md!': !sample?.signIns.length }"
    >
      <section>
        <h2 class="mb-5 text-[22px]">{{ t('session.title') }}</h2>
        <p v-if="route.query.to" class="mb-4 text-soft">{{ t('session.first') }}</p>
        <ForgottenPassword v-if="forgotten" @back="forgotten = false" />
        <template v-else>
          <p v-if="refused" role="alert" class="mb-4 font-medium text-brick-ink">{{ refused }}</p>
          <OutsideWay :to="wanted()" />
          <SignInForm @done="goOn" />
          <PasskeyWay class="mt-3" @done="goOn" />
          <button
            type="button"
            class="mt-1 min-h-9 text-petrol underline underline-offset-2"
            @click="forgotten = true"
          >
            {{ t('session.forgotten') }}
          </button>
        </template>
      </section>
      <section v-if="sample?.signIns.length" class="md:border-l md:border-line md:pl-10">
        <h2 class="mb-1 text-[22px]">{{ t('session.sample') }}</h2>
        <p class="mb-4 text-meta text-soft">{{ t('session.sample-text') }}</p>
        <ul>
          <li
            v-for="signIn in sample.signIns"
            :key="signIn.email"
            class="border-t border-line last:border-b"
          >
            <button
              class="group flex min-h-14 w-full items-center justify-between gap-3 py-2 text-left"
              @click="signInAs(signIn)"
            >
              <span>
                <span class="block font-semibold group-hover:text-petrol">{{ signIn.name }}</span>
                <span class="block text-meta text-soft">{{ signIn.about }}</span>
              </span>
              <span class="text-petrol" aria-hidden="true">→</span>
            </button>
          </li>
        </ul>
        <p role="alert" class="mt-3 font-medium text-brick-ink empty:hidden">{{ fault }}</p>
      </section>
    </div>
    <LanguageChoice class="mx-auto my-6 rounded-edge bg-sheet p-1.5" />
  </main>
</template>
