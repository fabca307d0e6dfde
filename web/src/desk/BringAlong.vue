<script setup lang="ts">
// Bringing the drawing along to another version of its model, shown before it happens: the sheet over itself, and what would change, be asked or be lost.
import { computed, onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { api, data, Problem, type Schemas } from '@/api/client'
import OverlaySheet from './OverlaySheet.vue'
import OverPanel from './OverPanel.vue'
import { useDesk } from './store'

const props = defineProps<{ to: number }>()
const emit = defineEmits<{ close: [] }>()
const desk = useDesk()
const told = ref<Schemas['BroughtAlong']>()
const over = ref<Schemas['OverlayInk']>()
const waiting = ref('')
const problem = ref('')
const busy = ref(false)
const number = ref(props.to)
const sheet = ref(desk.sheet?.id ?? '')
/** Annotations whose likely home was agreed to. */
const agreed = ref<string[]>([])
let timer = 0

const likely = computed(() => told.value?.hanging.filter((h) => h.held === 'likely') ?? [])
const lost = computed(() => told.value?.hanging.filter((h) => h.held === 'lost') ?? [])
const path = computed(() => ({ drawing_id: desk.drawing!.id, number: number.value }))
const sheetName = (id: string) => desk.document?.sheets.find((s) => s.id === id)?.name || 'the sheet'
const nameOf = (n: number) => desk.drawing?.versions.find((v) => v.number === n)?.name ?? String(n)

async function ask() {
  told.value = over.value = undefined
  problem.value = ''
  agreed.value = []
  try {
    told.value = await data(api.GET('/api/drawings/{drawing_id}/along/{number}', { params: { path: path.value } }))
    await look()
  } catch (error) {
    problem.value = (error as Error).message
  }
}
async function look() {
  window.clearTimeout(timer)
  const asked = `${number.value} ${sheet.value}`
  try {
    const found = await data(api.GET('/api/drawings/{drawing_id}/along/{number}/sheets/{sheet_id}', { params: { path: { ...path.value, sheet_id: sheet.value } } }))
    if (asked !== `${number.value} ${sheet.value}`) return
    over.value = found
    waiting.value = ''
  } catch (error) {
    if (!(error instanceof Problem) || error.status !== 425) throw error
    waiting.value = error.message
    timer = window.setTimeout(() => look().catch((e: Error) => (problem.value = e.message)), 300)
  }
}
function show(id: string) {
  if (id && id !== sheet.value) sheet.value = id
}
watch(sheet, () => {
  over.value = undefined
  look().catch((e: Error) => (problem.value = e.message))
})
watch(number, ask)

async function bring() {
  busy.value = true
  const replaced = likely.value.filter((h) => agreed.value.includes(h.annotation)).flatMap((h) => h.replaced)
  const once = [...new Map(replaced.map((r) => [JSON.stringify(r), r])).values()]
  const isDone = await desk.edit({ command: 'bring_along', to: number.value, replaced: once })
  busy.value = false
  if (isDone) emit('close')
  else problem.value = desk.problem
}
onMounted(ask)
onBeforeUnmount(() => window.clearTimeout(timer))
</script>

<template>
  <OverPanel data-test="bring-along" @close="emit('close')">
    <template #sheet><OverlaySheet :ink="over" :waiting="waiting" before="as it is" after="as it would be" /></template>
      <h2>Bring along</h2>
      <p class="quiet sub">from version {{ nameOf(desk.document!.shows) }} of {{ desk.drawing!.model_number || desk.drawing!.model_name }} to</p>
      <el-select v-model="number" class="wide" aria-label="Version" data-test="along-to">
        <el-option v-for="v in desk.drawing!.versions.filter((o) => o.number !== desk.document!.shows)" :key="v.number" :value="v.number" :label="`version ${v.name}`" />
      </el-select>
      <el-select v-if="(told?.sheets.length ?? 0) > 1" v-model="sheet" class="wide" aria-label="Sheet" data-test="along-sheet">
        <el-option v-for="s in told!.sheets" :key="s" :value="s" :label="sheetName(s)" />
      </el-select>
      <p v-if="problem" class="fault-note" role="alert" data-test="along-problem">{{ problem }}</p>
      <p v-if="!told && !problem" class="quiet">Looking at what would change …</p>
      <template v-if="told">
        <p v-if="told.warning" class="attention-note">{{ told.warning }}</p>
        <p v-for="(s, n) in told.said.slice(0, 6)" :key="n" class="quiet said">{{ s }}</p>
        <template v-if="lost.length">
          <h3>Lost: {{ lost.length }}</h3>
          <p v-for="h in lost" :key="h.annotation" class="line bad" :title="h.why" data-test="along-lost" @click="show(h.sheet)">{{ h.what }} <b>{{ h.before }}</b></p>
          <p class="quiet">They keep their places, in rowan, until they are hung on again.</p>
        </template>
        <template v-if="likely.length">
          <h3>Likely the same: {{ likely.length }}</h3>
          <label v-for="h in likely" :key="h.annotation" class="line" data-test="along-likely" @click="show(h.sheet)">
            <input v-model="agreed" type="checkbox" :value="h.annotation" /> {{ h.what }} <b>{{ h.before }}</b><template v-if="h.after !== h.before"> → <b>{{ h.after }}</b></template>
          </label>
          <button v-if="agreed.length < likely.length" class="link" data-test="agree-all" @click="agreed = likely.map((h) => h.annotation)">All of them are the same</button>
        </template>
        <h3>Says otherwise: {{ told.differences.length }}</h3>
        <p v-for="(d, n) in told.differences" :key="n" class="line" data-test="along-changed" @click="show(d.sheet)">{{ d.what }} <b>{{ d.before || 'none' }}</b> → <b>{{ d.after || 'none' }}</b></p>
        <p class="quiet">{{ told.follows }} follow by themselves.</p>
      </template>
      <div class="foot">
        <el-button type="primary" :loading="busy" :disabled="!told" data-test="along-do" @click="bring">Bring along</el-button>
        <el-button data-test="along-stay" @click="emit('close')">Stay</el-button>
      </div>
  </OverPanel>
</template>

<style scoped>
.said {
  font-size: 12px;
}
.bad {
  color: var(--fault);
}
.foot {
  display: flex;
  gap: 8px;
  margin-top: 16px;
}
</style>
