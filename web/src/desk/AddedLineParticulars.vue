<script setup lang="ts">
// An added line: its kind of line, the sizes that drive it, and what it is tied to.
import { computed } from 'vue'
import type { Annotation } from '@/api/client'
import { LINES } from './lines'
import LostNote from './LostNote.vue'
import { useDesk } from './store'

type AddedLine = Extract<Annotation, { kind: 'added_line' }>
type Tie = NonNullable<AddedLine['ties']>[number]
const props = defineProps<{ id: string }>()
const desk = useDesk()
const a = computed(() => {
  const found = desk.annotation(props.id)
  return found?.kind === 'added_line' ? (found as AddedLine) : undefined
})
const ink = computed(() => desk.drawn?.annotations.find((o) => o.id === props.id))
const NAMES = { line: 'Added line', polyline: 'Added polyline', circle: 'Added circle', arc: 'Added arc' }
const WORDS: Record<string, string> = {
  horizontal: 'held level', vertical: 'held upright', coincident: 'joined to', on: 'on', through: 'through', parallel: 'parallel to', perpendicular: 'perpendicular to',
  tangent: 'tangent to', concentric: 'concentric with', equal: 'equal to', distance: 'away from', length: 'long', radius: 'radius', angle: 'turned',
}
/** A tie in words: which point of it, how, and to what. */
function words(t: Tie): string {
  const number = t.value === null || t.value === undefined ? '' : `${Math.round(t.value * 1e4) / 1e4}${t.relation === 'angle' ? '°' : ''} `
  const to = t.to ? (t.to.role === 'added' ? 'an added line' : t.to.point ? `${t.to.point} of an edge` : 'an edge') : ''
  return `${t.point ? `${t.point} ` : ''}${t.relation === 'radius' ? `radius ${number}` : number + WORDS[t.relation]} ${to}`.trim()
}
const held = (relation: string) => a.value?.ties?.find((t) => t.relation === relation && !t.to)?.value ?? undefined
const set = (values: Record<string, unknown>) => desk.edit({ command: 'change', ids: [props.id], values })
const drop = (n: number) => set({ ties: a.value!.ties!.filter((_, k) => k !== n) })
const hold = (relation: 'horizontal' | 'vertical') => set({ ties: [...(a.value!.ties ?? []), { relation, part: 0, point: '' }] })
const has = (relation: string) => a.value?.ties?.some((t) => t.relation === relation)
const isStraight = computed(() => a.value?.form === 'line')
const isRound = computed(() => a.value?.form === 'circle' || a.value?.form === 'arc')
</script>

<template>
  <div v-if="a" data-test="added-line">
    <h2>{{ NAMES[a.form ?? 'line'] }}</h2>
    <p class="quiet sub" data-test="added-line-told">{{ ink?.text }}</p>
    <LostNote :id="id" />
    <div class="row">
      <label for="line-kind">Kind of line</label>
      <el-select id="line-kind" :model-value="a.line ?? 'visible'" data-test="line-kind" @change="(v: string) => set({ line: v })">
        <el-option v-for="l in LINES" :key="l" :value="l" />
      </el-select>
    </div>
    <template v-for="size in isStraight ? (['length', 'angle'] as const) : isRound ? (['radius'] as const) : []" :key="size">
      <div class="row">
        <label :for="`hold-${size}`">{{ size === 'length' ? 'Length, mm' : size === 'angle' ? 'Angle, °' : 'Radius, mm' }}</label>
        <el-input-number :id="`hold-${size}`" :model-value="held(size)" placeholder="free" controls-position="right" :data-test="`hold-${size}`" @change="(v) => set({ [size]: v ?? null })" />
      </div>
    </template>
    <div class="section">
      <p v-if="!a.ties?.length" class="quiet">Tied to nothing: it keeps its place in the view.</p>
      <ul v-else class="ties" data-test="ties">
        <li v-for="(t, n) in a.ties" :key="n">
          <span>{{ words(t) }}</span>
          <button type="button" :aria-label="`Let go: ${words(t)}`" title="let go" @click="drop(n)">×</button>
        </li>
      </ul>
      <div class="choices">
        <template v-if="isStraight">
          <el-button v-if="!has('horizontal')" size="small" @click="hold('horizontal')">Hold level</el-button>
          <el-button v-if="!has('vertical')" size="small" @click="hold('vertical')">Hold upright</el-button>
        </template>
      </div>
    </div>
    <div class="section"><el-button data-test="remove" @click="desk.removeSelected()">Remove</el-button></div>
  </div>
</template>

<style scoped>
.ties {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
.ties li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  min-height: 28px;
}
.ties button {
  border: 0;
  background: none;
  color: var(--quiet);
  font-size: 16px;
  padding: 0 6px;
}
.ties button:hover {
  color: var(--ink);
}
</style>
