<script setup lang="ts">
/** A part of the page of one’s account: what it is about, and beside it what there is. */
defineProps<{ title: string; text?: string }>();
</script>

<template>
  <section class="grid gap-x-8 gap-y-2 border-t border-line py-6 md:grid-cols-[15rem_1fr]">
    <div>
      <h2 class="text-[19px]">{{ title }}</h2>
      <p v-if="text" class="mt-1 text-meta text-soft">{{ text }}</p>
    </div>
    <div class="min-w-0"><slot /></div>
  </section>
</template>
