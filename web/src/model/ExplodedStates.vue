<script setup lang="ts">
// Exploded states of an assembly: steps in order, edited in place, proposed from how the parts touch, and played in the preview.
import { useEventListener } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { api, data, type ModelPage, type Schemas } from '@/api/client'
import TextField from '@/components/TextField.vue'

type State = Schemas['ExplodedState']
type Step = Schemas['Step']
const props = defineProps<{ id: string; model: ModelPage; lit: string[] }>()
const emit = defineEmits<{ changed: [page: ModelPage]; moves: [moves: Record<string, number[]>]; dragging: [on: boolean] }>()
const chosen = ref(0)
const share = ref(0)
const problem = ref('')
const busy = ref(false)
const states = computed(() => props.model.exploded)
const state = computed<State | undefined>(() => states.value[chosen.value])
const AXES: [string, number[]][] = [['right', [1, 0, 0]], ['left', [-1, 0, 0]], ['back', [0, 1, 0]], ['front', [0, -1, 0]], ['up', [0, 0, 1]], ['down', [0, 0, -1]]]
const wayOf = (s: Step) => AXES.find(([, d]) => d.every((v, n) => Math.abs(v - s.direction[n]) < 1e-6))?.[0] ?? 'slanting'
const nameOf = (path: string) => props.model.instances.find((i) => i.path === path)?.name ?? path

/** How far each part is moved: the steps one after another, the last one only as far as the slider says. */
const moves = computed(() => {
  const out: Record<string, number[]> = {}
  const done = (share.value / 100) * (state.value?.steps?.length ?? 0)
  state.value?.steps?.forEach((s, n) => {
    const part = Math.min(Math.max(done - n, 0), 1)
    const size = Math.hypot(...s.direction) || 1
    for (const path of s.instances) out[path] = (out[path] ?? [0, 0, 0]).map((v, k) => v + (s.direction[k] / size) * s.distance * part)
  })
  return out
})
/** Parts under an arrow being dragged: not yet a step. */
const hand = ref<Step | null>(null)
watch([moves, hand], () => {
  const h = hand.value
  if (!h) return emit('moves', moves.value)
  const out = { ...moves.value }
  for (const path of h.instances) out[path] = (out[path] ?? [0, 0, 0]).map((v, k) => v + h.direction[k] * h.distance)
  emit('moves', out)
})
const byHand = ref(false)
watch([byHand, state], () => emit('dragging', byHand.value && !!state.value))
watch(byHand, (on) => on && (share.value = 100))

/** The chosen parts dragged along an axis: shown while it goes on, then kept as a step; again along the same axis, the step grows. */
async function dragged(direction: number[], distance: number, done: boolean) {
  const rounded = Math.round(distance)
  if (!done) {
    hand.value = { instances: props.lit, direction, distance: rounded }
    return
  }
  if (rounded) {
    const parts = [...props.lit]
    await withSteps((all) => {
      const last = all.at(-1)
      const same = last && [...last.instances].sort().join() === [...parts].sort().join()
      const dot = last ? last.direction.reduce((sum, v, k) => sum + v * direction[k], 0) / (Math.hypot(...last.direction) || 1) : 0
      if (same && Math.abs(Math.abs(dot) - 1) < 1e-6) all[all.length - 1] = { ...last, distance: last.distance + Math.sign(dot) * rounded }
      else all.push({ instances: parts, direction, distance: rounded })
      return all.filter((s) => s.distance)
    })
  }
  hand.value = null
}
defineExpose({ dragged })

/** States as they were before each change made here, the latest last. */
const past = ref<State[][]>([])
let turn: Promise<unknown> = Promise.resolve()
/** Changes wait for each other: each one starts from what the one before it left. */
function keep(change: (now: State[]) => State[] | null, back = false) {
  const kept = turn.then(async () => {
    const before = states.value
    const next = change(before)
    if (!next) return
    problem.value = ''
    busy.value = true
    try {
      emit('changed', await data(api.POST('/api/models/{model_id}/exploded', { params: { path: { model_id: props.id } }, body: { states: next } })))
      await nextTick()
      past.value = back ? past.value.slice(0, -1) : [...past.value, before]
    } catch (error) {
      problem.value = (error as Error).message
    } finally {
      busy.value = false
    }
  })
  turn = kept
  return kept
}
async function takeBack() {
  await keep(() => past.value.at(-1) ?? null, true)
  chosen.value = Math.min(chosen.value, Math.max(states.value.length - 1, 0))
}
function undoKey(event: KeyboardEvent) {
  const typing = event.target instanceof HTMLElement && event.target.closest('input:not([type=checkbox], [type=radio]), textarea')
  if (typing || event.key.toLowerCase() !== 'z' || !(event.ctrlKey || event.metaKey) || event.shiftKey) return
  event.preventDefault()
  void takeBack()
}
useEventListener(window, 'keydown', undoKey)
/** The chosen state changed; it is the same one when this change's turn comes, also if another has been chosen since. */
function withState(change: (s: State) => Partial<State>) {
  const which = chosen.value
  return keep((now) => now.map((s, n) => (n === which ? { ...s, ...change(s) } : s)))
}
const withSteps = (change: (steps: Step[]) => Step[]) => withState((s) => ({ steps: change([...(s.steps ?? [])]) }))
const setStep = (n: number, change: Partial<Step>) => withSteps((all) => all.map((s, m) => (m === n ? { ...s, ...change } : s)))
const swap = (n: number, by: number) => withSteps((all) => all.map((s, m) => (m === n ? all[n + by] : m === n + by ? all[n] : s)))
async function add(proposal: boolean) {
  problem.value = ''
  try {
    const made = proposal ? await data(api.GET('/api/models/{model_id}/exploded/proposal', { params: { path: { model_id: props.id } } })) : { steps: [] }
    await keep((now) => {
      let name = 'Exploded'
      for (let n = 2; now.some((s) => s.name === name); n++) name = `Exploded ${n}`
      return [...now, { ...made, name }]
    })
    if (problem.value) return
    chosen.value = states.value.length - 1
    share.value = 100
  } catch (error) {
    problem.value = (error as Error).message
  }
}
async function drop() {
  const which = chosen.value
  await keep((now) => now.filter((_, n) => n !== which))
  chosen.value = 0
  share.value = 0
}
const addStep = () => withSteps((all) => [...all, { instances: props.lit.length ? [...props.lit] : [props.model.instances[0].path], direction: [0, 0, 1], distance: 50 }])
</script>

<template>
  <section data-test="exploded">
    <h2>Exploded</h2>
    <p v-if="problem" class="fault-note" role="alert">{{ problem }}</p>
    <div class="bar">
      <el-select v-if="states.length" v-model="chosen" aria-label="Exploded state" class="which" @change="share = 100"><el-option v-for="(s, n) in states" :key="s.name" :value="n" :label="s.name" /></el-select>
      <el-button :loading="busy" data-test="propose-steps" @click="add(true)">Propose steps</el-button>
      <el-button text @click="add(false)">Empty state</el-button>
      <el-button v-if="past.length" text data-test="take-back" @click="takeBack">Undo</el-button>
    </div>
    <template v-if="state">
      <div class="play"><label for="apart" class="quiet">Together</label><el-slider id="apart" v-model="share" :show-tooltip="false" aria-label="How far apart" data-test="apart" /><span class="quiet">apart</span></div>
      <div class="bar"><label class="quiet">Name</label><TextField class="name" :value="state.name" maxlength="80" aria-label="Name of the state" @change="(name) => withState(() => ({ name }))" /><el-button text @click="drop">Remove state</el-button></div>
      <ol>
        <li v-for="(s, n) in state.steps" :key="n" :data-step="n">
          <el-select :model-value="s.instances" multiple collapse-tags :max-collapse-tags="1" filterable class="parts" :aria-label="`Parts of step ${n + 1}`" @change="(v: string[]) => v.length && setStep(n, { instances: v })">
            <el-option v-for="i in model.instances" :key="i.path" :value="i.path" :label="`${nameOf(i.path)} (${i.path})`" />
          </el-select>
          <el-select :model-value="wayOf(s)" class="way" :aria-label="`Direction of step ${n + 1}`" @change="(w: string) => setStep(n, { direction: AXES.find(([a]) => a === w)![1] })">
            <el-option v-for="[w] in AXES" :key="w" :value="w" :label="w" /><el-option v-if="wayOf(s) === 'slanting'" value="slanting" label="slanting" disabled />
          </el-select>
          <TextField class="far" type="number" step="5" :value="`${s.distance}`" :aria-label="`Distance of step ${n + 1}, mm`" @change="(far) => setStep(n, { distance: Number(far) })" />
          <button :disabled="!n" :aria-label="`Step ${n + 1} earlier`" @click="swap(n, -1)">↑</button>
          <button :disabled="n === (state.steps?.length ?? 0) - 1" :aria-label="`Step ${n + 1} later`" @click="swap(n, 1)">↓</button>
          <button :aria-label="`Remove step ${n + 1}`" @click="withSteps((all) => all.filter((_, m) => m !== n))">×</button>
        </li>
      </ol>
      <el-checkbox v-model="byHand" data-test="drag-parts">Drag parts in the preview</el-checkbox>
      <p v-if="byHand" class="quiet hint">{{ lit.length ? `${lit.length === 1 ? nameOf(lit[0]) : `${lit.length} parts`}: drag an arrow, or click other parts` : 'Click a part; Shift adds more' }}</p>
      <el-button text data-test="add-step" @click="addStep">Add a step{{ lit.length ? ` for ${lit.length === 1 ? nameOf(lit[0]) : `${lit.length} parts`}` : '' }}</el-button>
    </template>
    <p v-else class="quiet">No exploded state yet. Propose one from how the parts touch, or begin with an empty one.</p>
  </section>
</template>

<style scoped>
h2 {
  margin: 16px 0 6px;
  border-top: 1px solid var(--line);
  padding-top: 12px;
}
.bar,
.play {
  display: flex;
  gap: 8px;
  align-items: center;
  margin: 6px 0;
}
.bar .el-button + .el-button {
  margin-left: 0;
}
.bar {
  flex-wrap: wrap;
}
.hint {
  margin: 0 0 4px;
}
.bar .name {
  width: 140px;
}
.which {
  width: 100%;
}
.play .el-slider {
  flex: 1;
  margin: 0 8px;
}
ol {
  padding: 0;
  margin: 8px 0;
  list-style: none;
}
li {
  display: grid;
  grid-template-columns: 1fr 84px 20px 20px 20px;
  gap: 4px;
  align-items: center;
  margin-bottom: 4px;
}
.parts {
  grid-column: 1 / -1;
}
li + li {
  border-top: 1px solid var(--line);
  padding-top: 4px;
}
li button {
  height: 24px;
  border-radius: 4px;
  color: var(--quiet);
}
li button:hover:enabled {
  background: var(--accent-ground);
}
li button:disabled {
  opacity: 0.3;
}
</style>
