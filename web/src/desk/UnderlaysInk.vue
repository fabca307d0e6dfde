<!-- Drawings of old beneath the sheet's own lines, faded: as lines where few enough are in sight, else as a picture. -->
<script setup lang="ts">
import { computed } from 'vue'
import { pathOf } from './curves'
import { useDesk } from './store'
import { useUnderlays } from './underlays'

const props = defineProps<{ height: number; zoom: number; at: (view: string) => string; moved: { id: string; x: number; y: number } | null }>()
const desk = useDesk()
const underlays = useUnderlays()
const chosen = computed(() => new Set(desk.selected.flatMap((s) => (s.kind === 'annotation' ? [s.id] : []))))
const shown = computed(() =>
  underlays.all().flatMap((a) => {
    const page = underlays.pages.get(a.file)
    if (!page) return []
    const view = a.anchor.on === 'view' ? a.anchor.view : ''
    const v = view ? desk.view(view) : undefined
    const k = v ? desk.scaleOf(v) : 1
    const by = props.moved?.id === a.id ? `translate(${props.moved.x} ${-props.moved.y}) ` : ''
    const now = underlays.current(a)
    const off = (a.off ?? []).map((n) => `off=${encodeURIComponent(n)}`).join('&')
    return [{
      id: a.id, at: by + (view ? props.at(view) : `translate(0 ${props.height})`), on: chosen.value.has(a.id), path: now && !now.isMuch ? pathOf(now.curves, k) : '',
      words: now?.words.map((t) => ({ ...t, x: t.x * k, y: -t.y * k, size: t.size * k })) ?? [],
      picture: `/api/drawings/${desk.drawing!.id}/underlays/${a.file}/picture${off ? `?${off}` : ''}`, wide: page.wide, high: page.high,
      lies: `translate(${a.position.x * k} ${-a.position.y * k}) rotate(${-(a.angle ?? 0)}) scale(${(a.unit ?? 1) * k})`,
    }]
  }),
)
</script>

<template>
  <g v-for="u in shown" :key="u.id" class="underlay" :class="{ on: u.on }" :transform="u.at" :data-annotation="u.id" data-test="underlay">
    <path v-if="u.path" :d="u.path" :stroke-width="1.1 / zoom" />
    <image v-else :href="u.picture" :transform="u.lies" x="0" :y="-u.high" :width="u.wide" :height="u.high" preserveAspectRatio="none" />
    <text v-for="(t, n) in u.words" :key="n" :x="t.x" :y="t.y" :font-size="t.size" :transform="`rotate(${-t.angle} ${t.x} ${t.y})`">{{ t.text }}</text>
  </g>
</template>

<style scoped>
.underlay path {
  fill: none;
  stroke: #8a9aa8;
  pointer-events: stroke;
  cursor: pointer;
}
.underlay text {
  fill: #8a9aa8;
  pointer-events: none;
}
.underlay image {
  opacity: 0.45;
}
.underlay.on path {
  stroke: #6a4c93;
}
</style>
