<script setup lang="ts">
import type { Remark } from '@sammlung/contract';
import { computed, ref } from 'vue';
import { useI18n } from 'vue-i18n';
import RowMenu from '../../ui/RowMenu.vue';
import { useFormat } from '../format.ts';
import { useSession } from '../session/session.ts';
import RemarkForm from './RemarkForm.vue';
import type { RemarksAbout } from './remarks.ts';

/** The words of a remark or an answer, behind its number where there is one (the slot); its writer changes and removes it. */
const { remark, remarks } = defineProps<{ remark: Remark; remarks: RemarksAbout }>();
defineSlots<{ default?(): unknown }>();
const { t } = useI18n();
const { moment } = useFormat();
const session = useSession();
const mine = computed(() => remark.by.id === session.person?.id);
const changing = ref(false);
const actions = () => [
  { name: 'change', text: t('remark.change') },
  { name: 'remove', text: t('remark.remove') },
];
function act(name: string) {
  if (name === 'change') changing.value = true;
  if (name === 'remove') void remarks.remove(remark);
}
function change(body: string) {
  changing.value = false;
  void remarks.change(remark, body);
}
const about = computed(() =>
  [
    mine.value ? t('remark.you') : remark.by.name,
    moment(remark.at),
    remark.edited ? t('remark.edited') : '',
  ]
    .filter(Boolean)
    .join(', '),
);
</script>

<template>
  <RemarkForm
    v-if="changing"
    begins
    :was="remark.body"
    :label="t('remark.change')"
    :yes="t('common.save')"
    @write="change"
    @leave="changing = false"
  />
  <div v-else class="flex items-start gap-1">
    <p class="min-w-0 flex-1 leading-snug wrap-anywhere whitespace-pre-wrap">
      <slot /><span v-if="remark.fresh" class="mr-1.5 inline-block size-[9px] bg-saffron"
        ><span class="sr-only">{{ t('receive.unopened') }}</span></span
      >{{ remark.body }}
      <span class="block text-meta text-soft">{{ about }}</span>
    </p>
    <RowMenu v-if="mine" :label="t('remark.actions')" :actions="actions" @act="act" />
  </div>
</template>
