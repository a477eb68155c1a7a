<script setup lang="ts">
import type { Kept, KeptThing } from '@sammlung/contract';
import { Smartphone } from 'lucide-vue-next';
import { computed, useTemplateRef } from 'vue';
import { useI18n } from 'vue-i18n';
import { useQueryCache } from '@pinia/colada';
import { connected } from '../../app/api/api.ts';
import { useDevice } from '../../app/device/device.ts';
import { useFormat } from '../../app/format.ts';
import { useKeeping, useKept } from '../../app/keeping.ts';
import { useLive } from '../../app/live/live.ts';
import { useSession } from '../../app/session/session.ts';
import AppButton from '../../ui/AppButton.vue';
import ItemLink from '../../ui/ItemLink.vue';
import KindMark from '../../ui/KindMark.vue';
import OnOffSwitch from '../../ui/OnOffSwitch.vue';
import PageState from '../../app/PageState.vue';
import RowMenu from '../../ui/RowMenu.vue';
import { walkRows } from '../../ui/listKeys.ts';
import { address } from '../../app/api/addresses.ts';

/** What a student keeps at hand, in an order of their own. */
const { t } = useI18n();
const { moment } = useFormat();
const session = useSession();
const device = useDevice();
const kept = useKept();
const cache = useQueryCache();
const { stopKeeping, arrange } = useKeeping();
const things = computed(() => kept.data.value?.things ?? []);
const list = useTemplateRef('list');
const look = () => Promise.all([kept.refetch(), device.update()]);
useLive(() => address('GET /api/new/live'), { changed: look, counts: look });

const there = (thing: KeptThing) => (thing.folderId ?? thing.placementId ?? thing.classId) !== null;
/** The door it was kept at has another password since: that is asked for there. */
const locked = (thing: KeptThing) => !there(thing) && thing.token !== null;
const leads = (thing: KeptThing) => there(thing) || locked(thing);
function to(thing: KeptThing) {
  if (thing.classId) return { name: 'class-page', params: { class: thing.classId } };
  if (thing.token && locked(thing)) return { name: 'door', params: { token: thing.token } };
  if (thing.token)
    return thing.folderId
      ? { name: 'door-folder', params: { token: thing.token, folder: thing.folderId } }
      : { name: 'door-item', params: { token: thing.token, placement: thing.placementId! } };
  return thing.folderId
    ? { name: 'folder', params: { folder: thing.folderId } }
    : { name: 'item', params: { placement: thing.placementId! } };
}
const about = (thing: KeptThing) =>
  there(thing)
    ? [
        thing.kind === 'class' && t('keep.class-page'),
        thing.kind !== 'folder' && thing.kind !== 'class' && t(`kind.${thing.kind}`),
        thing.ownerName && t('reading.from', { name: thing.ownerName }),
        thing.token && t('keep.by-door'),
      ]
        .filter(Boolean)
        .join(' · ')
    : t(locked(thing) ? 'keep.locked' : 'keep.taken-back');

/** What there is of it on this device. */
function onDevice({ id }: KeptThing): string | null {
  const found = device.state?.things[id];
  if (!found || !device.on) return null;
  const { asOf, files, here, full } = found;
  if (full) return t('device.full', files - here);
  if (!asOf) return t('device.coming', { here, files });
  return t(here < files ? 'device.some' : 'device.here', { here, files, when: moment(asOf) });
}

const ids = computed(() => things.value.map((thing) => thing.id));
async function shift(thing: KeptThing, by: number) {
  const at = ids.value.indexOf(thing.id);
  const next = at + by;
  if (next < 0 || next >= things.value.length) return;
  const order = [...things.value];
  order.splice(next, 0, ...order.splice(at, 1));
  cache.setQueryData<Kept>(['kept'], { things: order });
  await arrange(order.map((one) => one.id));
}
function onKey(event: KeyboardEvent, thing: KeptThing) {
  const by = { ArrowUp: -1, ArrowDown: 1 }[event.key];
  if (!by || !event.altKey) return;
  event.preventDefault();
  void shift(thing, by);
}
const actions = (thing: KeptThing) => [
  ...(ids.value[0] === thing.id ? [] : [{ name: 'up', text: t('keep.up'), keys: 'Alt ↑' }]),
  ...(ids.value.at(-1) === thing.id ? [] : [{ name: 'down', text: t('keep.down'), keys: 'Alt ↓' }]),
  { name: 'let-go', text: t('keep.let-go') },
];
function act(name: string, thing: KeptThing) {
  if (name === 'let-go') void stopKeeping(thing, ids.value);
  else void shift(thing, name === 'up' ? -1 : 1);
}
</script>

<template>
  <div class="mx-auto w-full max-w-4xl px-5 py-7 sm:px-10">
    <h1 class="text-[28px]">{{ t('shell.kept') }}</h1>
    <p class="mt-0.5 text-soft">{{ t('keep.text') }}</p>
    <div class="mt-3 mb-4 flex min-h-11 items-center gap-3">
      <template v-if="device.able">
        <OnOffSwitch
          :model-value="device.on"
          :label="t('device.switch')"
          @update:model-value="(on) => (on ? device.begin(session.person!.id) : device.forget())"
        />
        <p>
          <span class="font-semibold">{{ t('device.switch') }}</span>
          <span class="block text-meta text-soft">{{ t('device.text') }}</span>
        </p>
      </template>
      <p v-else class="text-meta text-soft">{{ t('device.unable') }}</p>
    </div>
    <PageState v-if="!kept.data.value" :error="kept.error.value" @again="kept.refetch()" />
    <p v-else-if="things.length === 0" class="max-w-md border-t border-line py-8 text-soft">
      {{ t('keep.empty') }}
    </p>
    <ol
      v-else
      ref="list"
      class="border-b border-line"
      @keydown="(event) => event.altKey || (list && walkRows(list, event))"
    >
      <li
        v-for="thing in things"
        :key="thing.id"
        class="flex items-center gap-1 border-t border-line"
        @keydown="onKey($event, thing)"
      >
        <component
          :is="leads(thing) ? ItemLink : 'div'"
          v-bind="
            leads(thing)
              ? {
                  kind: thing.kind === 'class' ? 'folder' : thing.kind,
                  url: thing.url,
                  to: to(thing),
                }
              : {}
          "
          class="group flex min-h-16 min-w-0 flex-1 items-center gap-4 py-2"
        >
          <KindMark
            :kind="thing.kind === 'class' ? 'folder' : thing.kind"
            :extension="thing.extension"
            :mark="thing.mark"
            :colour="thing.kind === 'class' ? (thing.classes[0]?.colour ?? null) : null"
            large
          />
          <span class="min-w-0 flex-1">
            <span
              class="block text-[17px] font-semibold wrap-anywhere"
              :class="
                leads(thing) ? 'group-hover:text-petrol' : 'text-soft line-through decoration-1'
              "
              >{{ thing.title }}</span
            >
            <span class="block text-meta text-soft">{{ about(thing) }}</span>
            <span
              v-if="onDevice(thing)"
              class="flex items-start gap-1.5 text-meta"
              :class="device.state?.things[thing.id]?.full ? 'text-brick-ink' : 'text-soft'"
              ><Smartphone :size="13" class="mt-[3px] shrink-0" aria-hidden="true" />{{
                onDevice(thing)
              }}</span
            >
          </span>
          <span class="flex shrink-0 flex-wrap justify-end gap-1 max-sm:hidden">
            <span
              v-for="c in thing.classes"
              :key="c.id"
              class="rounded-[4px] px-2 py-0.5 font-code text-[12px] font-semibold text-white"
              :style="{ background: `var(--${c.colour})` }"
              >{{ c.code }}</span
            >
          </span>
        </component>
        <RowMenu
          v-if="leads(thing) && connected"
          :label="t('keep.actions', { title: thing.title })"
          :actions="() => actions(thing)"
          @act="act($event, thing)"
        />
        <AppButton v-else-if="connected" @click="stopKeeping(thing, ids)">{{
          t('keep.let-go')
        }}</AppButton>
      </li>
    </ol>
  </div>
</template>
