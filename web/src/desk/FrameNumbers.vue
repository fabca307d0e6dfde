<script setup lang="ts">
// What a control frame comes to: boundaries, what a measured size adds, a part that was measured, missing basic sizes, fasteners.
import { computed, ref, watch } from 'vue'
import { api, data, type Annotation, type Schemas } from '@/api/client'
import { useDesk } from './store'

const props = defineProps<{ id: string }>()
const desk = useDesk()
const found = ref<Schemas['FrameMeaning'] | null>(null)
const measured = ref<{ size?: number; dx?: number; dy?: number }>({})
const plus = ref<{ plus_x?: number; plus_y?: number }>({})
const fastener = ref<Schemas['FasteningOut'] | null>(null)
const refusal = ref('')
const share = ref(50)
const projected = ref(true)
const greatest = ref<number>()
const isFixed = ref(false)
const path = () => ({ drawing_id: desk.drawing!.id, annotation_id: props.id })

async function load() {
  if (!desk.annotation(props.id)) return
  const query = Object.fromEntries(Object.entries({ ...measured.value, ...plus.value }).filter(([, v]) => typeof v === 'number'))
  found.value = await data(api.GET('/api/drawings/{drawing_id}/frames/{annotation_id}/meaning', { params: { path: path(), query } })).catch(() => null)
}
watch(() => [desk.drawing?.version, props.id], load, { immediate: true })
watch(() => props.id, () => {
  measured.value = {}
  plus.value = {}
  fastener.value = null
  refusal.value = ''
})
watch([measured, plus], load, { deep: true })

/** Size across and tolerance up, in a box of 200 by 60. */
const plot = computed(() => {
  const p = found.value?.points ?? []
  if (p.length < 2) return ''
  const [x0, x1] = [Math.min(...p.map((q) => q[0])), Math.max(...p.map((q) => q[0]))]
  const top = Math.max(...p.map((q) => q[1]))
  return p.map((q) => `${((q[0] - x0) / (x1 - x0 || 1)) * 200},${60 - (q[1] / (top || 1)) * 56}`).join(' ')
})
async function placeBasics() {
  try {
    const answer = await data(api.GET('/api/drawings/{drawing_id}/frames/{annotation_id}/basics', { params: { path: path() } }))
    const n = answer.sizes.length
    if (n && !(await desk.edit({ command: 'place', annotations: answer.sizes as Annotation[], sheet: '', known: 'refuse' }))) return
    desk.said = [n ? `${n} basic ${n === 1 ? 'size' : 'sizes'} placed` : 'No basic size could be placed', answer.left_over ? `${answer.left_over} are shown in no view of this sheet` : ''].filter(Boolean).join('; ')
  } catch (error) {
    desk.fail(error)
  }
}
async function askFastener() {
  refusal.value = ''
  try {
    const query = { share: share.value / 100, projected: projected.value, is_fixed: isFixed.value, ...(greatest.value ? { greatest: greatest.value } : {}) }
    fastener.value = await data(api.GET('/api/drawings/{drawing_id}/frames/{annotation_id}/fastening', { params: { path: path(), query } }))
  } catch (error) {
    fastener.value = null
    refusal.value = (error as Error).message
  }
}
async function write() {
  const made = (fastener.value?.holes ?? []).flatMap((h) => (h.frame ? [h.frame as Annotation] : []))
  if (made.length) await desk.edit({ command: 'place', annotations: made, sheet: '', known: 'replace' })
}
</script>

<template>
  <div v-if="found" data-test="frame-numbers">
    <div v-if="found.missing?.length" class="section" data-test="frame-missing">
      <h3>Basic sizes missing</h3>
      <p v-for="m in found.missing" :key="m" class="attention">{{ m }}</p>
      <el-button data-test="place-basics" @click="placeBasics">Place them</el-button>
    </div>
    <p v-if="found.why" class="section quiet" data-test="frame-why">{{ found.why }}</p>
    <div v-else class="section">
      <h3>In numbers</h3>
      <table class="numbers" data-test="frame-boundaries">
        <tbody>
          <tr><td>Size</td><td>{{ found.least }} to {{ found.most }}</td></tr>
          <tr v-if="found.virtual != null"><td>Virtual condition</td><td data-test="frame-virtual">{{ found.virtual }}</td></tr>
          <tr><td>Inner boundary</td><td>{{ found.inner }}</td></tr>
          <tr><td>Outer boundary</td><td>{{ found.outer }}</td></tr>
          <tr v-if="found.square != null"><td>As plus/minus</td><td>±{{ found.square }}</td></tr>
        </tbody>
      </table>
      <template v-if="found.bonus?.length">
        <h3>Tolerance by measured size</h3>
        <svg class="plot" viewBox="0 0 200 60" preserveAspectRatio="none" aria-hidden="true"><polyline :points="plot" /></svg>
        <table class="numbers" data-test="frame-bonus"><tbody><tr v-for="b in found.bonus" :key="b[0]"><td>{{ b[0] }}</td><td>{{ b[1] }}</td></tr></tbody></table>
      </template>
      <h3>A part that was measured</h3>
      <div class="row"><label for="m-size">Size</label><el-input-number id="m-size" v-model="measured.size" :controls="false" data-test="measured-size" /></div>
      <div class="row"><label for="m-dx">Off in x</label><el-input-number id="m-dx" v-model="measured.dx" :controls="false" data-test="measured-dx" /></div>
      <div class="row"><label for="m-dy">Off in y</label><el-input-number id="m-dy" v-model="measured.dy" :controls="false" data-test="measured-dy" /></div>
      <p v-if="found.problem" class="attention">{{ found.problem }}</p>
      <p v-else-if="found.allowed" data-test="measured-verdict" :class="{ good: found.passes === true, bad: found.passes === false }">
        {{ found.off == null ? '' : `Off by ${found.off}; ` }}{{ found.allowed }} is allowed{{ found.passes == null ? '' : found.passes ? ': it passes' : ': it does not pass' }}.
      </p>
      <h3>From plus/minus</h3>
      <div class="row"><label for="p-x">± in x</label><el-input-number id="p-x" v-model="plus.plus_x" :controls="false" data-test="plus-x" /></div>
      <div class="row"><label for="p-y">± in y</label><el-input-number id="p-y" v-model="plus.plus_y" :controls="false" data-test="plus-y" /></div>
      <p v-if="found.zone" data-test="plus-zone">Ø{{ found.zone }} has the same extremes, and {{ found.gained }} % more room than the square. <el-button size="small" data-test="plus-use" @click="desk.edit({ command: 'change', ids: [id], values: { says: found.zone_says } })">Use it</el-button></p>
      <h3>Fastener</h3>
      <div class="row"><label for="f-greatest">Greatest Ø</label><el-input-number id="f-greatest" v-model="greatest" :controls="false" placeholder="as in the assembly" data-test="fastener-greatest" /></div>
      <div v-if="greatest" class="row"><label for="f-fixed">Held by a part</label><el-switch id="f-fixed" v-model="isFixed" /></div>
      <el-button data-test="fastener-ask" @click="askFastener">Figure the zones</el-button>
      <p v-if="refusal" class="attention" data-test="fastener-refusal">{{ refusal }}</p>
      <template v-if="fastener">
        <p class="quiet">{{ fastener.called || 'Fastener' }} Ø{{ fastener.greatest }}, {{ fastener.is_fixed ? 'held in a part' : 'free in all parts' }}</p>
        <template v-if="fastener.is_fixed">
          <div class="row"><span class="label">For the clearance</span><el-slider v-model="share" :min="5" :max="95" :format-tooltip="(v: number) => `${v} %`" @change="askFastener" /></div>
          <div class="row"><label for="f-projected">Projected zone</label><el-switch id="f-projected" v-model="projected" @change="askFastener" /></div>
        </template>
        <p v-for="(h, n) in fastener.holes" :key="n" data-test="fastener-hole">{{ h.called }}: Ø{{ h.zone }}<span class="quiet">{{ h.is_held ? ', holds it' : `, hole ${h.least} at least` }}{{ h.frame ? '' : ', no position frame' }}</span></p>
        <el-button v-if="fastener.holes.some((h) => h.frame)" type="primary" data-test="fastener-write" @click="write">Write into the frames</el-button>
      </template>
    </div>
  </div>
</template>

<style scoped>
h3 {
  margin-top: 16px;
}
.section > h3:first-child {
  margin-top: 0;
}
.numbers {
  width: 100%;
  border-collapse: collapse;
  font-size: 13px;
}
.numbers td {
  padding: 3px 0;
  border-top: 1px solid var(--line);
}
.numbers td:last-child {
  text-align: right;
  font-variant-numeric: tabular-nums;
}
.plot {
  width: 100%;
  height: 60px;
  border-left: 1px solid var(--quiet);
  border-bottom: 1px solid var(--quiet);
}
.plot polyline {
  fill: none;
  stroke: var(--accent);
  stroke-width: 2;
  vector-effect: non-scaling-stroke;
}
.attention {
  color: var(--attention);
}
.good {
  color: var(--good);
}
.bad {
  color: var(--fault);
}
</style>
