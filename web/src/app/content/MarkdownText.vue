<script setup lang="ts">
import { useQuery } from '@pinia/colada';
import MarkdownIt from 'markdown-it';
import { computed } from 'vue';
import { useI18n } from 'vue-i18n';
import PageState from '../PageState.vue';
import { fetchText } from './text.ts';

/** A Markdown file as it is meant. HTML in it stays text, pictures from elsewhere are not fetched. */
const { address } = defineProps<{ address: string }>();
const { t } = useI18n();
const text = useQuery({ key: () => ['text', address], query: () => fetchText(address) });
const markdown = new MarkdownIt({ html: false, linkify: true }).disable('image');
markdown.renderer.rules.link_open = (tokens, at, options, _env, self) => {
  tokens[at]?.attrSet('target', '_blank');
  tokens[at]?.attrSet('rel', 'noopener noreferrer');
  return self.renderToken(tokens, at, options);
};
const html = computed(() => markdown.render(text.data.value?.text ?? ''));
</script>

<template>
  <div class="mx-auto w-full max-w-3xl flex-1 p-5 sm:p-8">
    <PageState v-if="text.error.value" :error="text.error.value" @again="text.refetch()" />
    <!-- eslint-disable vue/no-v-html -- markdown-it escapes all HTML of the file -->
    <div
      v-else-if="text.data.value"
      class="markdown border border-line bg-raised p-6 shadow-sm"
      v-html="html"
    />
    <!-- eslint-enable vue/no-v-html -->
    <PageState v-else />
    <p v-if="text.data.value?.cut" class="mt-3 text-soft">{{ t('viewer.cut') }}</p>
  </div>
</template>

<style scoped>
.markdown :deep(h1) {
  font-size: 26px;
}
.markdown :deep(h2) {
  margin-top: 1.2em;
  font-size: 20px;
}
.markdown :deep(p),
.markdown :deep(ul),
.markdown :deep(ol),
.markdown :deep(table) {
  margin-top: 0.7em;
}
.markdown :deep(ul) {
  padding-left: 1.3em;
  list-style: disc;
}
.markdown :deep(ol) {
  padding-left: 1.5em;
  list-style: decimal;
}
.markdown :deep(a) {
  color: var(--petrol);
  text-decoration: underline;
}
.markdown :deep(th),
.markdown :deep(td) {
  border: 1px solid var(--line);
  padding: 4px 10px;
}
.markdown :deep(code) {
  font-family: var(--font-code);
  font-size: 0.92em;
}
.markdown :deep(blockquote) {
  border-left: 3px solid var(--line);
  padding-left: 1em;
}
</style>
