<script setup lang="ts">
import { useMounted } from '@vueuse/core';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import { api } from '../../app/api/api.ts';
import { askForPasskey, hasPasskeys } from '../../app/session/passkeys.ts';
import { useSession } from '../../app/session/session.ts';
import { useSubmit } from '../../app/submit.ts';

/** Signing in by a passkey, where the browser has them. */
const emit = defineEmits<{ done: [] }>();
const { t } = useI18n();
const session = useSession();
const { fault, busy, tried } = useSubmit();
const mounted = useMounted();
const offered = computed(() => mounted.value && hasPasskeys());

async function enter() {
  let given = false;
  const went = await tried(async () => {
    const answer = await askForPasskey(await api('POST /api/session/passkey'));
    given = answer !== null;
    if (answer) await session.givePasskey(answer);
  });
  if (given && went) emit('done');
  else if (went) fault.value = t('session.passkey-none');
}
</script>

<template>
  <div v-if="offered">
    <button
      type="button"
      class="min-h-9 text-petrol underline underline-offset-2 pointer-coarse:min-h-11"
      :disabled="busy"
      @click="enter"
    >
      {{ t('session.passkey') }}
    </button>
    <p role="alert" class="font-medium text-brick-ink empty:hidden">{{ fault }}</p>
  </div>
</template>
