<script setup lang="ts">
// A stack-up: the gap beside what it has to be, and each link with what it costs; a link under the pointer is lit on the sheet.
import { computed, onUnmounted, ref, watch } from 'vue'
import { api, data, type Schemas } from '@/api/client'
import TextField from '@/components/TextField.vue'
import { useDesk } from './store'

const props = defineProps<{ id: string }>()
const desk = useDesk()
const own = computed(() => {
  const a = desk.annotation(props.id)
  return a?.kind === 'stack_up' ? a : undefined
})
const found = ref<Schemas['StackOut'] | null>(null)
const problem = ref('')
async function load() {
  if (!own.value) return
  try {
    found.value = await data(api.GET('/api/drawings/{drawing_id}/stacks/{annotation_id}', { params: { path: { drawing_id: desk.drawing!.id, annotation_id: props.id } } }))
    problem.value = ''
    desk.chained = found.value.links.map((k) => k.annotation).filter((a) => a)
  } catch (error) {
    found.value = null
    problem.value = (error as Error).message
  }
}
watch(() => [desk.drawing?.version, props.id], load, { immediate: true })
onUnmounted(() => (desk.chained = []))
/** mm in the drawing's unit, as what is required is typed. */
const unit = computed(() => (desk.document?.profile.units === 'in' ? 25.4 : 1))
const typed = (mm: number | null | undefined) => (mm == null ? undefined : Math.round((mm / unit.value) * 1e6) / 1e6)
const mm = (v: number | undefined | null) => (v == null ? null : v * unit.value)
const set = (values: Partial<Schemas['StackUp']>) => desk.edit({ command: 'change', ids: [props.id], values })
const rows = computed(() => {
  const f = found.value
  if (!f) return []
  return [
    { name: 'Worst case', method: 'worst case', range: f.worst },
    { name: 'Root sum square', method: 'root sum square', range: f.squares },
    { name: 'By lots', method: 'by lots', range: f.lots },
  ]
})
const percent = (v: number) => `${(v * 100).toFixed(v > 0 && v < 0.1 ? 1 : 0)} %`
const sign = (v: number) => (v === 1 ? '+' : v === -1 ? '−' : `${v > 0 ? '+' : '−'}${Math.abs(v)} ×`)
const file = (kind: string) => `/api/drawings/${desk.drawing!.id}/stacks/${props.id}/table.${kind}`
</script>

<template>
  <div v-if="own" data-test="stack-particulars">
    <h2>Stack-up</h2>
    <p v-if="problem" class="fault-note" data-test="stack-problem">{{ problem }}</p>
    <p v-else-if="found" class="sub" :class="found.holds ? 'holds' : 'not'" data-test="stack-verdict">
      {{ own.least == null && own.most == null ? '' : found.holds ? 'holds, ' : 'does not hold, ' }}<span class="quiet">{{ found.nominal }} nominal</span>
    </p>
    <div class="row"><label for="stack-name">Called</label><TextField id="stack-name" :value="own.name ?? ''" data-test="stack-name" @change="(v) => set({ name: v })" /></div>
    <div class="row"><label for="stack-least">At least</label><el-input-number id="stack-least" :model-value="typed(own.least)" controls-position="right" placeholder="no bound" data-test="stack-least" @change="(v) => set({ least: mm(v) })" /></div>
    <div class="row"><label for="stack-most">At most</label><el-input-number id="stack-most" :model-value="typed(own.most)" controls-position="right" placeholder="no bound" data-test="stack-most" @change="(v) => set({ most: mm(v) })" /></div>
    <div class="row"><span class="label">Judged by</span>
      <el-select :model-value="own.method ?? 'worst case'" data-test="stack-method" @change="(v: 'worst case') => set({ method: v })"><el-option v-for="r in rows" :key="r.method" :value="r.method" :label="r.name.toLowerCase()" /></el-select></div>
    <template v-if="found">
      <table class="ranges" data-test="stack-ranges">
        <tbody>
          <tr v-for="r in rows" :key="r.method" :class="{ chosen: r.method === (own.method ?? 'worst case') }"><td>{{ r.name }}</td><td>{{ r.range[0] }}</td><td>to</td><td>{{ r.range[1] }}</td></tr>
        </tbody>
      </table>
      <p class="quiet small">Lots: middle {{ found.middle }}, deviation {{ found.deviation }}, {{ percent(found.share) }} within what is required.</p>
      <h3>Links</h3>
      <p v-for="(k, n) in found.links" :key="n" class="link" data-test="stack-link" @pointerenter="desk.pointed = k.annotation" @pointerleave="desk.pointed = ''">
        <span class="sign">{{ k.tolerance || k.annotation ? sign(k.sensitivity) : '' }}</span>
        <span class="says">{{ k.says }} <span class="quiet">{{ k.tolerance }}</span></span>
        <span class="bar"><i :style="{ width: `${k.share * 100}%` }" /></span>
        <span class="quiet">{{ k.share ? percent(k.share) : '' }}</span>
      </p>
      <p class="section quiet">Table: <a :href="file('xlsx')" download data-test="stack-xlsx">XLSX</a> <a :href="file('csv')" download>CSV</a></p>
    </template>
    <div class="section"><el-button data-test="remove" @click="desk.removeSelected()">Remove</el-button></div>
  </div>
</template>

<style scoped>
h3 {
  margin-top: 16px;
}
.holds {
  color: var(--good);
}
.not {
  color: var(--fault);
}
.ranges {
  width: 100%;
  margin: 10px 0 4px;
  border-collapse: collapse;
  font-size: 13px;
}
.ranges td {
  padding: 3px 4px;
  font-variant-numeric: tabular-nums;
}
.ranges td:not(:first-child) {
  text-align: right;
}
.ranges .chosen td {
  font-weight: 600;
}
.small {
  font-size: 12px;
}
.link {
  display: grid;
  grid-template-columns: 24px 1fr 44px 38px;
  gap: 6px;
  align-items: center;
  margin: 0;
  padding: 4px 0;
  border-top: 1px solid var(--line);
  font-size: 13px;
}
.link:hover {
  background: var(--accent-ground);
}
.says {
  overflow-wrap: anywhere;
}
.bar {
  height: 6px;
  background: var(--line);
}
.bar i {
  display: block;
  height: 100%;
  background: var(--accent);
}
</style>
