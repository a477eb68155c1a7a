<script setup lang="ts">
import { defineAsyncComponent, shallowRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterView, useRouter } from 'vue-router';
import AppButton from '../ui/AppButton.vue';
import { ApiError, OfflineError } from './api.ts';
import { explain } from './problems.ts';
import { useSession } from './session.ts';
import ToastArea from './ToastArea.vue';

const session = useSession();
const { t, te } = useI18n();
const router = useRouter();

/** A page that could not be had: its parts did not come, or the server did not say who asks. */
const lost = shallowRef<{ error: unknown; path: string } | null>(null);
router.onError((error: unknown, to) => (lost.value = { error, path: to.fullPath }));
router.afterEach((_to, _from, failure) => failure || (lost.value = null));
const why = (error: unknown) =>
  error instanceof ApiError || error instanceof OfflineError
    ? explain(t, error)
    : t('problem.parts');
const again = (path: string) => location.assign(path);

const SignInAgain = defineAsyncComponent(() => import('../features/session/SignInAgain.vue'));
</script>

<template>
  <main
    v-if="lost && te('problem.parts')"
    class="mx-auto w-full max-w-4xl px-5 py-16 sm:px-10"
    role="alert"
  >
    <p class="text-[17px]">{{ why(lost.error) }}</p>
    <AppButton class="mt-4" @click="again(lost.path)">{{ t('common.again') }}</AppButton>
  </main>
  <RouterView v-else />
  <ToastArea v-if="router.currentRoute.value.matched.length > 0" />
  <SignInAgain v-if="session.ended" />
</template>
