<script setup lang="ts">
// The parts of an assembly in one view: shown or left out, and in a section cut or left whole.
import { computed } from 'vue'
import { useDesk } from './store'

const props = defineProps<{ id: string }>()
const desk = useDesk()
const view = computed(() => desk.view(props.id))
const parts = computed(() => desk.hitOf(props.id)?.geometry.instances ?? [])
const section = computed(() => (view.value?.kind === 'section' ? view.value.section : null))

const states = computed(() => desk.drawn?.states ?? [])
/** One edit after another: each builds on what the one before it left. */
let turn: Promise<unknown> = Promise.resolve()
const inTurn = (edit: () => Promise<unknown>) => (turn = turn.then(edit))
const toggled = (list: string[], path: string, on: boolean) => (on ? [...list.filter((p) => p !== path), path] : list.filter((p) => p !== path))
const trail = (path: string, on: boolean) => inTurn(() => desk.edit({ command: 'change_view', view: props.id, trails_off: toggled(view.value?.trails_off ?? [], path, !on) }))
const show = (path: string, on: boolean) => inTurn(() => desk.edit({ command: 'change_view', view: props.id, without: toggled(view.value?.without ?? [], path, !on) }))
function mark(path: string, how: string) {
  const s = section.value
  if (!s) return
  void desk.edit({
    command: 'change_section', view: props.id,
    whole: [...s.whole.filter((p) => p !== path), ...(how === 'whole' ? [path] : [])],
    cut: [...s.cut.filter((p) => p !== path), ...(how === 'cut' ? [path] : [])],
  })
}
const how = (path: string) => (section.value?.whole.includes(path) ? 'whole' : section.value?.cut.includes(path) ? 'cut' : 'by kind')
</script>

<template>
  <div v-if="view && parts.length > 1" class="section">
    <div v-if="states.length && view.kind !== 'detail'" class="row"><span class="label">Exploded</span>
      <el-select :model-value="view.exploded || ''" data-test="exploded-state" @change="(v: string) => desk.edit({ command: 'change_view', view: id, exploded: v })"><el-option value="" label="together" /><el-option v-for="s in states" :key="s" :value="s" :label="s" /></el-select></div>
    <p class="quiet sub">Parts in this view{{ view.exploded ? ', and their trail lines' : '' }}</p>
    <div v-for="p in parts" :key="p" class="part">
      <el-checkbox :model-value="!view.without.includes(p)" :data-test="`part-${p}`" @change="(v) => show(p, Boolean(v))"><span class="path" :title="p">{{ p }}</span></el-checkbox>
      <el-checkbox v-if="view.exploded" :model-value="!view.trails_off?.includes(p)" :aria-label="`Trail line of ${p}`" @change="(v) => trail(p, Boolean(v))">trail</el-checkbox>
      <el-select v-if="section" :model-value="how(p)" size="small" class="how" @change="(v: string) => mark(p, v)"><el-option v-for="h in ['by kind', 'cut', 'whole']" :key="h" :value="h" /></el-select>
    </div>
  </div>
</template>

<style scoped>
.part {
  display: flex;
  align-items: center;
  justify-content: space-between;
  min-height: 28px;
}
.path {
  display: inline-block;
  max-width: 130px;
  overflow: hidden;
  text-overflow: ellipsis;
  vertical-align: bottom;
}
.how {
  width: 84px;
}
</style>
