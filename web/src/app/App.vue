<script setup lang="ts">
import { defineAsyncComponent } from 'vue';
import { RouterView } from 'vue-router';
import { useSession } from './session.ts';
import ToastArea from './ToastArea.vue';

const session = useSession();
const SignInAgain = defineAsyncComponent(() => import('../features/session/SignInAgain.vue'));
</script>

<template>
  <RouterView />
  <ToastArea />
  <SignInAgain v-if="session.ended" />
</template>
