<script setup lang="ts">
import { until } from '@vueuse/core';
import { computed, defineAsyncComponent, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import { RouterLink } from 'vue-router';
import { useSession } from '../../app/session/session.ts';
import AppButton from '../../ui/AppButton.vue';
import PageState from '../../app/PageState.vue';
import FirstSteps from '../../app/FirstSteps.vue';
import ChangeCourse from './ChangeCourse.vue';
import NewClass from './NewClass.vue';
import NewCourse from './NewCourse.vue';
import { freeColour, useCourses, useRoster } from './roster.ts';
import { address } from '../../app/api/addresses.ts';

/** The courses of the running year with their classes. */
const { t } = useI18n();
const courses = useCourses();
const { remove } = useRoster();
const session = useSession();
const JoinRequests = defineAsyncComponent(() => import('../../app/JoinRequests.vue'));
const SystemRoster = defineAsyncComponent(() => import('./SystemRoster.vue'));
const system = ref(false);
const adding = ref(false);
const data = computed(() => courses.data.value);
// A teacher who comes here before there is a course makes one.
void until(data)
  .toBeTruthy()
  .then((first) => {
    const none = first.courses.length === 0 && first.years.length > 0;
    if (none && session.person?.kind === 'teacher') adding.value = true;
  });
/** The course to which a class is added, or whose facts are changed. */
const open = ref<{ what: 'class' | 'course'; id: string } | null>(null);
const isOpen = (what: 'class' | 'course', id: string) =>
  open.value?.what === what && open.value.id === id;
const toggle = (what: 'class' | 'course', id: string) =>
  (open.value = isOpen(what, id) ? null : { what, id });
</script>

<template>
  <div class="mx-auto w-full max-w-5xl px-5 py-7 sm:px-10">
    <div class="flex flex-wrap items-end gap-3">
      <div class="flex-1 max-sm:basis-full">
        <h1 class="text-[28px]">{{ t('shell.roster') }}</h1>
        <p class="mt-0.5 text-meta text-soft">{{ t('roster.text') }}</p>
      </div>
      <a
        v-if="data && data.courses.length > 0"
        :href="address('GET /api/oneroster')"
        download
        class="inline-flex min-h-9 items-center rounded-edge border border-line bg-raised px-3.5 text-[15px] font-semibold hover:border-petrol hover:text-petrol pointer-coarse:min-h-11"
        :title="t('roster.system.save-text')"
        >{{ t('roster.system.save') }}</a
      >
      <AppButton v-if="session.person?.kind === 'office'" @click="system = true">{{
        t('roster.system.title')
      }}</AppButton>
      <SystemRoster v-if="system" @close="system = false" />
      <AppButton v-if="data && data.years.length > 0" @click="adding = !adding">{{
        t('roster.new-course')
      }}</AppButton>
    </div>
    <FirstSteps />
    <JoinRequests v-if="session.person?.kind === 'office'" office class="mt-6" />
    <PageState v-if="!data" :error="courses.error.value" @again="courses.refetch()" />
    <template v-else>
      <NewCourse
        v-if="adding"
        :years="data.years"
        :colour="freeColour(data.courses)"
        @done="adding = false"
      />
      <p v-if="data.courses.length === 0 && !adding" class="mt-6 border-t border-line py-8">
        <b class="block text-[17px] font-semibold">{{ t('roster.none') }}</b>
        <span v-if="data.years.length === 0" class="text-soft">{{ t('roster.no-year') }}</span>
      </p>
      <section v-for="course in data.courses" :key="course.id" class="mt-8">
        <div class="flex flex-wrap items-center gap-x-3 gap-y-1">
          <span
            class="size-3.5 rounded-[3px]"
            :style="{ background: `var(--${course.colour})` }"
            aria-hidden="true"
          />
          <h2 class="text-[20px]">{{ course.title }}</h2>
          <p class="flex-1 text-meta text-soft">
            {{ course.teachers.map((x) => x.name).join(', ') || t('roster.no-teacher') }}
          </p>
          <AppButton @click="toggle('class', course.id)">{{ t('roster.new-class') }}</AppButton>
          <AppButton
            :aria-expanded="isOpen('course', course.id)"
            @click="toggle('course', course.id)"
            >{{ t('roster.change') }}</AppButton
          >
        </div>
        <ChangeCourse
          v-if="isOpen('course', course.id)"
          :course="course"
          :teachers="data.teachers"
          @done="open = null"
          @remove="remove('courses', course.id, course.title)"
        />
        <NewClass v-if="isOpen('class', course.id)" :course="course" @done="open = null" />
        <ul class="mt-2 border-b border-line">
          <li v-for="c in course.classes" :key="c.id">
            <RouterLink
              :to="{ name: 'class', params: { class: c.id } }"
              class="group flex min-h-14 flex-wrap items-center gap-x-4 border-t border-line hover:bg-paper/60 max-sm:py-2"
            >
              <span
                class="inline-flex h-8 w-24 items-center justify-center rounded-r-[5px] font-code text-[14px] font-semibold text-white"
                :style="{ background: `var(--${c.colour})` }"
                >{{ c.code }}</span
              >
              <span class="w-32 font-semibold group-hover:text-petrol">{{
                t('count.students', c.students)
              }}</span>
              <span
                class="flex flex-1 flex-wrap justify-between gap-x-4 pr-3 text-meta max-sm:basis-full max-sm:justify-start max-sm:pr-0"
              >
                <span :class="c.ready < c.students ? 'text-saffron-ink' : 'text-soft'">
                  {{
                    c.students === 0
                      ? t('roster.empty')
                      : c.ready < c.students
                        ? t('roster.not-ready', c.students - c.ready)
                        : t('roster.all-ready')
                  }}
                </span>
                <span :class="c.folders === 0 ? 'text-saffron-ink' : 'text-soft'">
                  {{ t('roster.folders', c.folders) }}
                </span>
              </span>
            </RouterLink>
          </li>
          <li v-if="course.classes.length === 0" class="border-t border-line py-3 text-soft">
            {{ t('roster.no-class') }}
          </li>
        </ul>
      </section>
    </template>
  </div>
</template>
