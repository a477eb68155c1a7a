<script setup lang="ts">
import { defineAsyncComponent, shallowRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterView, useRouter } from 'vue-router';
import AppButton from '../../ui/AppButton.vue';
import { ApiError, OfflineError } from '../api/api.ts';
import { explain } from '../api/problems.ts';
import { useSession } from '../session/session.ts';
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

const SignInAgain = defineAsyncComponent(() => import('../../features/session/SignInAgain.vue'));
</script>

<template>
  <div
    v-if="lost && te('problem.parts')"
    class="sticky top-0 z-50 flex flex-wrap items-center gap-3 border-b border-line bg-brick-pale px-5 py-3 sm:px-10"
    role="alert"
  >
    <p>{{ why(lost.error) }}</p>
    <AppButton @click="again(lost.path)">{{ t('common.again') }}</AppButton>
  </div>
  <RouterView />
  <ToastArea v-if="router.currentRoute.value.matched.length > 0" />
  <SignInAgain v-if="session.ended" />
</template>
