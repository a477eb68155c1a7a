<script setup lang="ts">
import { useI18n } from 'vue-i18n';
import ModalSheet from '../../ui/ModalSheet.vue';
import OutsideWay from './OutsideWay.vue';
import PasskeyWay from './PasskeyWay.vue';
import SignInForm from './SignInForm.vue';

const { t } = useI18n();
</script>

<template>
  <ModalSheet :title="t('session.ended')">
    <p class="mt-2 mb-5 text-soft">{{ t('session.ended-text') }}</p>
    <OutsideWay apart />
    <SignInForm />
    <PasskeyWay class="mt-3" />
  </ModalSheet>
</template>
