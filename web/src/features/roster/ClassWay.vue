<script setup lang="ts">
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import CrumbLine from '../../ui/CrumbLine.vue';

/** The way up from a class, or from something in it, to all classes. */
const { within } = defineProps<{ within?: { id: string; code: string } }>();
const { t } = useI18n();
</script>

<template>
  <CrumbLine
    :crumbs="within ? [{ id: within.id, title: within.code }] : []"
    :to="(id) => ({ name: 'class', params: { class: id } })"
  >
    <li>
      <RouterLink :to="{ name: 'classes' }" class="hover:text-petrol hover:underline">{{
        t('shell.roster')
      }}</RouterLink>
    </li>
  </CrumbLine>
</template>
