<script setup lang="ts">
import { computed, onMounted, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { useBoxes, useBoxWords } from './boxes.ts';

/**
 * The hand-in boxes of a student: those of one class, or of all that still take something, of which those come first with new
 * remarks, and in which nothing has been handed in.
 */
const { classId = null } = defineProps<{ classId?: string | null }>();
const { t } = useI18n();
const boxes = useBoxes();
const { until, standing } = useBoxWords();
const FEW = 4;
const shown = computed(() =>
  (boxes.data.value?.own ?? [])
    .filter((box) => (classId === null ? box.mayAdd : box.classId === classId))
    .sort(
      (a, b) =>
        Number(b.remarks > 0) - Number(a.remarks > 0) ||
        Number(a.handedInAt !== null) - Number(b.handedInAt !== null),
    ),
);
/** The rest is there when it is asked for. */
const all = ref(false);
const few = computed(() =>
  classId === null
    ? shown.value.filter((box) => box.handedInAt === null || box.remarks > 0).slice(0, FEW)
    : shown.value,
);
onMounted(() => boxes.refresh());
</script>

<template>
  <section v-if="shown.length > 0" aria-labelledby="own-boxes">
    <h2 id="own-boxes" class="text-[19px]">{{ t('box.title') }}</h2>
    <ul class="mt-2 grid gap-2 sm:grid-cols-2">
      <li v-for="box in all ? shown : few" :key="box.id" class="min-w-0">
        <RouterLink
          :to="{ name: 'box', params: { box: box.id } }"
          class="group flex h-full min-h-16 items-stretch overflow-hidden rounded-edge border border-line bg-raised hover:border-petrol"
        >
          <span
            v-if="classId === null"
            class="grid w-[62px] shrink-0 place-items-center px-1 font-code text-[12px] font-semibold text-white"
            :style="{ background: `var(--${box.colour})` }"
            >{{ box.code }}</span
          >
          <span class="min-w-0 flex-1 px-3.5 py-2">
            <span class="block font-semibold wrap-anywhere group-hover:text-petrol">{{
              box.title
            }}</span>
            <span
              class="block text-meta"
              :class="box.handedInAt ? 'text-soft' : 'text-saffron-ink'"
              >{{ standing(box) }}</span
            >
            <span v-if="box.remarks > 0" class="block text-meta font-semibold text-saffron-ink">{{
              t('remark.fresh', box.remarks)
            }}</span>
            <span class="block text-meta text-soft">{{ until(box) }}</span>
          </span>
        </RouterLink>
      </li>
    </ul>
    <button
      v-if="!all && shown.length > few.length"
      type="button"
      class="mt-1 min-h-9 font-semibold text-petrol hover:underline pointer-coarse:min-h-11"
      @click="all = true"
    >
      {{
        few.length > 0
          ? t('box.more', shown.length - few.length)
          : t('box.handed-boxes', shown.length)
      }}
    </button>
  </section>
</template>
