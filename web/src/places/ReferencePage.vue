<script setup lang="ts">
// The standards' tables, to look things up in, and limits and fits.
import { computed, onMounted, ref, watch } from 'vue'
import { api, data, type Schemas } from '@/api/client'
import HeadBar from '@/components/HeadBar.vue'

const tables = ref<Schemas['TableOf'][]>([])
const chosen = ref(0)
const wanted = ref('')
const size = ref<number | undefined>(25)
const designation = ref('H7/g6')
const found = ref<Schemas['Looked'] | null>(null)
const problem = ref('')
const copied = ref('')
const number = (v: number, places: number) => v.toFixed(places).replace(/\.?0+$/, '')
const signed = (v: number) => (v === 0 ? '0' : `${v > 0 ? '+' : '−'}${number(Math.abs(v), 4)}`)
const table = computed(() => tables.value[chosen.value])
/** A number that is typed finds rows with a figure near it, in any table. */
function finds(t: Schemas['TableOf']) {
  const plain = (t: string) => t.toLowerCase().replaceAll('×', 'x')
  const words = plain(wanted.value.trim()).replace(',', '.')
  const value = Number(words)
  const near = (c: string | number | null) => typeof c === 'number' && Math.abs(c - value) < (c < 3 ? 0.0016 : 0.051)
  return t.rows.filter((r) => (words && value ? r.some(near) : plain(String(r[0])).includes(words)))
}
const shown = computed(() => (table.value ? finds(table.value) : []))
/** Decimals of each column: as many as any of its figures has. */
const places = computed(() =>
  (table.value?.columns ?? []).map((_, n) => Math.max(0, ...table.value.rows.map((r) => (typeof r[n] === 'number' ? (number(r[n], 5).split('.')[1]?.length ?? 0) : 0)))),
)
/** How many rows of each table go by what is typed. */
const counts = computed(() => tables.value.map((t) => (wanted.value.trim() ? finds(t).length : 0)))

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
    tables.value = await data(api.GET('/api/reference/tables'))
  } catch (error) {
    problem.value = (error as Error).message
  }
})
</script>

<template>
  <div class="page">
    <HeadBar><span class="quiet"><RouterLink to="/">Shelf</RouterLink>&ensp;/</span><span>Tables</span></HeadBar>
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
        <div class="finding">
          <el-select v-model="chosen" class="which" aria-label="Table" data-test="table">
            <el-option v-for="(t, n) in tables" :key="t.name" :value="n" :label="t.name">{{ t.name }}<span v-if="counts[n]" class="quiet">&ensp;{{ counts[n] }}</span></el-option>
          </el-select>
          <input v-model="wanted" class="find" placeholder="M8, UNF, or a figure such as 6.6" aria-label="Find a row" data-test="find" />
          <span v-if="copied" class="quiet" role="status">{{ copied }} is copied.</span>
        </div>
        <table v-if="table">
          <thead>
            <tr><th v-for="(c, n) in table.columns" :key="c + n" :class="{ number: n }">{{ c }}</th><th /></tr>
          </thead>
          <tbody>
            <tr v-for="r in shown" :key="String(r[0])">
              <td v-for="(c, n) in r" :key="n" :class="{ number: n }">{{ typeof c === 'number' ? c.toFixed(places[n]) : c }}</td>
              <td><button class="act" :aria-label="`Copy ${r[0]}`" @click="copy(String(r[0]))">Copy</button></td>
            </tr>
          </tbody>
        </table>
        <p v-if="table && !shown.length" class="quiet">Nothing in this table goes by that{{ counts.some((c) => c) ? '; other tables have it' : '' }}.</p>
        <p v-if="table" class="quiet">{{ table.source }}.</p>
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
.finding {
  margin-bottom: 8px;
  display: flex;
  gap: 12px;
  align-items: center;
}
.finding .find {
  margin: 0;
}
.which {
  width: 220px;
}
dd {
  margin: 0;
  text-align: right;
  font-variant-numeric: tabular-nums;
}
</style>
