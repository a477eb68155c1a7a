<script setup lang="ts">
import { useQuery } from '@pinia/colada';
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { api } from '../../app/api/api.ts';
import { useFormat } from '../../app/format.ts';
import PageState from '../../app/PageState.vue';

/** Every mail that the stand-in mail server of the sample school has taken in; their links work. */
const { t } = useI18n();
const { moment } = useFormat();
const room = useQuery({
  key: ['post-room'],
  query: () => api('GET /api/post-room'),
  staleTime: 0,
});
const words = ref('');
const shown = computed(() => {
  const wanted = words.value.trim().toLowerCase();
  return (room.data.value?.letters ?? []).filter((l) =>
    `${l.recipient} ${l.subject}`.toLowerCase().includes(wanted),
  );
});
const openId = ref<string | null>(null);
const letter = computed(() => shown.value.find((l) => l.id === openId.value) ?? shown.value[0]);
/** Text and addresses in turn; an address of ours is a link within the application. */
const parts = computed(() =>
  (letter.value?.body ?? '').split(/(https?:\/\/\S+)/u).map((text) => {
    const url = /^https?:/u.test(text) && URL.canParse(text) ? new URL(text) : null;
    return { text, to: url?.origin === location.origin ? url.pathname + url.search : null };
  }),
);
</script>

<template>
  <div class="flex min-h-screen flex-col">
    <header class="flex h-16 items-center gap-4 bg-frame px-6 text-frame-ink">
      <RouterLink to="/" class="font-title text-[22px] font-[650] text-white">
        {{ t('shell.name')
        }}<span class="ml-1 inline-block size-2.5 bg-saffron" aria-hidden="true" />
      </RouterLink>
      <p>{{ t('post.title') }}</p>
    </header>
    <main class="grid flex-1 bg-sheet md:grid-cols-[minmax(300px,420px)_1fr]">
      <div class="border-line bg-paper px-5 py-6 md:border-r">
        <h1 class="text-[24px]">{{ t('post.title') }}</h1>
        <p class="mt-1 text-meta text-soft">{{ t('post.text') }}</p>
        <input
          v-model="words"
          type="search"
          :placeholder="t('post.find')"
          :aria-label="t('post.find')"
          class="mt-4 h-10 w-full rounded-edge border border-line bg-raised px-3"
        />
        <PageState v-if="!room.data.value" :error="room.error.value" @again="room.refetch()" />
        <ul v-else class="mt-3 border-b border-line">
          <li v-for="l in shown" :key="l.id" class="border-t border-line">
            <button
              type="button"
              class="block w-full px-2 py-2.5 text-left"
              :class="l.id === letter?.id ? 'bg-sheet shadow-[inset_3px_0_0_var(--petrol)]' : ''"
              :aria-current="l.id === letter?.id"
              @click="openId = l.id"
            >
              <span class="flex justify-between gap-3 text-meta text-soft">
                <span class="truncate">{{ l.recipient.replace(/"/g, '') }}</span>
                <span class="shrink-0">{{ moment(l.receivedAt) }}</span>
              </span>
              <span class="block truncate font-semibold">{{ l.subject }}</span>
            </button>
          </li>
        </ul>
        <p v-if="room.data.value && shown.length === 0" class="mt-4 text-soft">
          {{ t('post.none') }}
        </p>
      </div>
      <!-- In sight however long the list is. -->
      <article
        v-if="letter"
        class="px-6 py-8 max-md:order-first max-md:border-b max-md:border-line sm:px-12 md:sticky md:top-0 md:max-h-screen md:self-start md:overflow-y-auto"
      >
        <h2 class="text-[24px]">{{ letter.subject }}</h2>
        <dl class="mt-2 grid grid-cols-[auto_1fr] gap-x-3 text-meta text-soft">
          <dt>{{ t('post.from') }}</dt>
          <dd>{{ letter.sender }}</dd>
          <dt>{{ t('post.to') }}</dt>
          <dd>{{ letter.recipient }}</dd>
        </dl>
        <p class="mt-6 max-w-xl text-[17px] leading-relaxed whitespace-pre-line">
          <template v-for="(part, n) in parts" :key="n">
            <RouterLink
              v-if="part.to"
              :to="part.to"
              class="break-all text-petrol underline underline-offset-2"
              >{{ part.text }}</RouterLink
            >
            <template v-else>{{ part.text }}</template>
          </template>
        </p>
      </article>
    </main>
  </div>
</template>
