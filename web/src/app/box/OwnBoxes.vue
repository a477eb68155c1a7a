<script setup lang="ts">
import { computed, onMounted, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { useBoxes } from './boxes.ts';
import OwnBoxCards from './OwnBoxCards.vue';

/**
 * The hand-in boxes of a student: those of one class, or of all that still take something, of which those come first with new
 * remarks, and in which nothing has been handed in.
 */
const { classId = null } = defineProps<{ classId?: string | null }>();
const { t } = useI18n();
const boxes = useBoxes();
const FEW = 4;
const shown = computed(() =>
  (boxes.data.value?.own ?? [])
    .filter((box) =>
      classId === null ? box.mayAdd || box.goesAt !== null : box.classId === classId,
    )
    .sort(
      (a, b) =>
        Number(b.goesAt !== null) - Number(a.goesAt !== null) ||
        Number(b.remarks > 0) - Number(a.remarks > 0) ||
        Number(a.handedInAt !== null) - Number(b.handedInAt !== null),
    ),
);
/** The rest is there when it is asked for. */
const all = ref(false);
const few = computed(() =>
  classId === null
    ? shown.value
        .filter((box) => box.handedInAt === null || box.remarks > 0 || box.goesAt !== null)
        .slice(0, FEW)
    : shown.value,
);
onMounted(() => boxes.refresh());
</script>

<template>
  <section v-if="shown.length > 0" aria-labelledby="own-boxes">
    <h2 id="own-boxes" class="text-[19px]">{{ t('box.title') }}</h2>
    <OwnBoxCards class="mt-2" :boxes="all ? shown : few" :codes="classId === null" />
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
    <RouterLink
      v-if="classId === null"
      :to="{ name: 'handed-in' }"
      class="mt-1 ml-5 inline-flex min-h-9 items-center font-semibold text-petrol first:ml-0 hover:underline pointer-coarse:min-h-11"
      >{{ t('box.all-title') }}</RouterLink
    >
  </section>
</template>
