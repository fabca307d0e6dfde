<script setup lang="ts">
// The standards' tables, to look things up in: threads with drills and clearance holes, limits and fits.
import { computed, onMounted, ref, watch } from 'vue'
import { api, data, type Schemas } from '@/api/client'
import HeadBar from '@/components/HeadBar.vue'

const rows = ref<Schemas['ThreadRow'][]>([])
const wanted = ref('')
const size = ref<number | undefined>(25)
const designation = ref('H7/g6')
const found = ref<Schemas['Looked'] | null>(null)
const problem = ref('')
const copied = ref('')
const number = (v: number, places: number) => v.toFixed(places).replace(/\.?0+$/, '')
const signed = (v: number) => (v === 0 ? '0' : `${v > 0 ? '+' : '−'}${number(Math.abs(v), 4)}`)
/** A number that is typed finds what is drilled or cleared by it. */
const shown = computed(() => {
  const words = wanted.value.trim().toLowerCase().replace(',', '.')
  const value = Number(words)
  const near = (v: number) => Math.abs(v - value) < 0.051
  return rows.value.filter((r) => (words && value ? [r.major, r.drill, ...r.clearance].some(near) : `${r.designation} ${r.series}`.toLowerCase().includes(words)))
})

let asked = 0
async function look() {
  const mine = ++asked
  problem.value = ''
  if (!size.value || !designation.value.trim()) return void (found.value = null)
  try {
    const answer = await data(api.GET('/api/reference/limits', { params: { query: { size: size.value, designation: designation.value } } }))
    if (mine === asked) found.value = answer
  } catch (error) {
    if (mine !== asked) return
    found.value = null
    problem.value = (error as Error).message
  }
}
watch([size, designation], look)
async function copy(text: string) {
  await navigator.clipboard?.writeText(text).catch(() => undefined)
  copied.value = text
}
onMounted(async () => {
  void look()
  try {
    rows.value = await data(api.GET('/api/reference/threads'))
  } catch (error) {
    problem.value = (error as Error).message
  }
})
</script>

<template>
  <div class="page">
    <HeadBar><span class="quiet"><RouterLink to="/">Shelf</RouterLink>&ensp;/</span><span>Threads and fits</span></HeadBar>
    <main>
      <form class="side" @submit.prevent="look">
        <h1>Limits and fits</h1>
        <label>Size, mm<input v-model.number="size" type="number" min="0" step="any" data-test="size" /></label>
        <label>Class or fit<input v-model="designation" maxlength="20" placeholder="H7, g6 or H7/g6" data-test="class" /></label>
        <p v-if="problem" class="fault-note" role="alert">{{ problem }}</p>
        <template v-if="found">
          <dl data-test="limits">
            <template v-for="s in found.sides" :key="s.designation">
              <dt>{{ number(found.size, 4) }} {{ s.designation }}</dt><dd>{{ signed(s.upper) }} / {{ signed(s.lower) }}</dd>
              <dt class="quiet">limits</dt><dd>{{ number(s.largest, 4) }} to {{ number(s.smallest, 4) }}</dd>
            </template>
            <template v-if="found.kind">
              <dt>{{ found.kind }}</dt><dd>{{ signed(found.clearance[1]) }} to {{ signed(found.clearance[0]) }}</dd>
            </template>
          </dl>
        </template>
        <p class="quiet">ISO 286-1 and -2, sizes to 3150 mm. A size on the desk takes the class as it stands here.</p>
      </form>
      <section>
        <input v-model="wanted" class="find" placeholder="M8, UNF, or a diameter such as 6.6" aria-label="Find a thread" data-test="find" />
        <span v-if="copied" class="quiet" role="status">&ensp;{{ copied }} is copied.</span>
        <table>
          <thead>
            <tr><th>Thread</th><th class="number">Major</th><th class="number">Pitch</th><th class="number">Tap drill</th><th class="number">Minor</th><th class="number">Clearance, fine</th><th class="number">medium</th><th class="number">coarse</th><th /></tr>
          </thead>
          <tbody>
            <tr v-for="r in shown" :key="r.designation">
              <td>{{ r.designation }}</td>
              <td class="number">{{ number(r.major, 3) }}</td>
              <td class="number">{{ r.per_inch ? `${r.per_inch} an inch` : number(r.pitch, 3) }}</td>
              <td class="number">{{ number(r.drill, 2) }}</td>
              <td class="number">{{ number(r.minor, 3) }}</td>
              <td v-for="n in 3" :key="n" class="number">{{ r.clearance[n - 1] ? number(r.clearance[n - 1], 1) : '' }}</td>
              <td><button class="act" :aria-label="`Copy ${r.designation}`" @click="copy(r.designation)">Copy</button></td>
            </tr>
          </tbody>
        </table>
        <p v-if="!shown.length" class="quiet">Nothing in the tables goes by that.</p>
        <p class="quiet">ISO 261, 262 and 68-1, ASME B1.1, drills of ISO 2306, clearance holes of ISO 273; lengths in mm.</p>
      </section>
    </main>
  </div>
</template>

<style scoped src="./ledger.css" />
<style scoped>
dl {
  display: grid;
  grid-template-columns: auto 1fr;
  gap: 4px 16px;
  margin: 0;
}
dd {
  margin: 0;
  text-align: right;
  font-variant-numeric: tabular-nums;
}
</style>
