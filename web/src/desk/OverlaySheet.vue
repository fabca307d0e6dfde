<script setup lang="ts">
// Two states of a sheet, one over the other: what is gone in rowan, what is new in moss, what stayed in ink; a slider fades between them.
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'

const props = defineProps<{ ink?: Schemas['OverlayInk']; waiting: string; before: string; after: string }>()
/** 0 shows the earlier state, 100 the later one, 50 both. */
const share = ref(50)
const gone = computed(() => Math.min(1, (100 - share.value) / 50))
const made = computed(() => Math.min(1, share.value / 50))
const box = computed(() => (props.ink ? `-4 -4 ${props.ink.width + 8} ${props.ink.height + 8}` : '0 0 1 1'))
</script>

<template>
  <section class="over">
    <svg v-if="ink" :viewBox="box" data-test="overlay">
      <rect class="paper" :width="ink.width" :height="ink.height" />
      <g :transform="`translate(0 ${ink.height})`">
        <g class="same" v-html="ink.same" />
        <g class="gone" :opacity="gone" v-html="ink.gone" />
        <g class="new" :opacity="made" v-html="ink.new" />
      </g>
    </svg>
    <p v-else class="quiet wait">{{ waiting || 'Drawing both …' }}</p>
    <div class="slide">
      <span class="gone-word">{{ before }}</span>
      <el-slider v-model="share" :show-tooltip="false" aria-label="Before or after" />
      <span class="new-word">{{ after }}</span>
    </div>
  </section>
</template>

<style scoped>
.over {
  flex: 1;
  min-width: 0;
  display: flex;
  flex-direction: column;
  padding: 12px;
}
svg {
  flex: 1;
  min-height: 0;
}
.wait {
  flex: 1;
  display: grid;
  place-items: center;
}
.paper {
  fill: var(--paper);
}
.slide {
  display: flex;
  align-items: center;
  gap: 16px;
  width: 420px;
  margin: 6px auto 0;
  white-space: nowrap;
}
.gone-word {
  color: var(--fault);
}
.new-word {
  color: var(--good);
}
svg :deep(text) {
  font-family: 'osifont', 'DejaVu Sans';
  white-space: pre;
}
svg :deep(path.stroke) {
  fill: none;
  stroke-linecap: round;
  stroke-linejoin: round;
}
.same :deep(path.stroke) {
  stroke: var(--ink);
}
.same :deep(path.fill),
.same :deep(text) {
  fill: var(--ink);
}
.gone :deep(path.stroke) {
  stroke: #b3372f;
}
.gone :deep(path.fill),
.gone :deep(text) {
  fill: #b3372f;
}
.new :deep(path.stroke) {
  stroke: #4f7a3c;
}
.new :deep(path.fill),
.new :deep(text) {
  fill: #4f7a3c;
}
</style>
