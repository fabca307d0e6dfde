<script setup lang="ts">
// The Size sheet: all sizes of the drawing as a table that is sorted, filtered, edited in place, and leads to each size.
import { computed, ref, watch } from 'vue'
import { useVirtualList } from '@vueuse/core'
import { api, data, type Schemas } from '@/api/client'
import TextField from '@/components/TextField.vue'
import { useDesk } from './store'

defineEmits<{ close: [] }>()
const desk = useDesk()
type Row = Schemas['SizeRow']
const rows = ref<Row[]>([])
const filter = ref('')
const order = ref<{ key: keyof Row; down: boolean }>({ key: 'sheet_name', down: false })
const wrong = ref<{ id: string; text: string } | null>(null)
const loaded = ref(false)
const HEAD: [keyof Row, string][] = [
  ['sheet_name', 'Sheet'], ['zone', 'Zone'], ['view', 'View'], ['kind', 'Kind'], ['text', 'Reads'], ['nominal', 'Nominal'], ['says', 'Tolerance'],
  ['lower', 'Lower'], ['upper', 'Upper'], ['lower_in', 'Lower in'], ['upper_in', 'Upper in'], ['state', 'Remarks'],
]

const NUMBERS: (keyof Row)[] = ['nominal', 'lower', 'upper', 'lower_in', 'upper_in']

async function load() {
  try {
    rows.value = await data(api.GET('/api/drawings/{drawing_id}/sizes', { params: { path: { drawing_id: desk.drawing!.id } } }))
    loaded.value = true
  } catch (error) {
    desk.fail(error)
  }
}
watch(() => desk.drawing?.version, load, { immediate: true })

const remark = (r: Row) => r.lost || [r.state, ['reference', 'basic'].includes(r.tolerance) ? r.tolerance : ''].filter(Boolean).join(', ')
const shown = computed(() => {
  const words = filter.value.toLowerCase().split(/\s+/).filter(Boolean)
  const text = (r: Row) => [r.sheet_name, r.zone, r.view, r.kind, r.text, r.says, r.tolerance, remark(r)].join(' ').toLowerCase()
  const found = rows.value.filter((r) => words.every((w) => text(r).includes(w)))
  const { key, down } = order.value
  const sorted = [...found].sort((a, b) => {
    const [x, y] = [a[key] ?? '', b[key] ?? '']
    return typeof x === 'number' && typeof y === 'number' ? x - y : String(x).localeCompare(String(y), 'en', { numeric: true })
  })
  return down ? sorted.reverse() : sorted
})
/** Only the rows in sight are in the page, so that thousands scroll like ten. */
const { list: seen, containerProps, wrapperProps, scrollTo } = useVirtualList(shown, { itemHeight: 35, overscan: 4 })
watch([filter, order], () => scrollTo(0))
const sort = (key: keyof Row) => (order.value = { key, down: order.value.key === key && !order.value.down })
const number = (v: number | null | undefined, places: number) => (v === null || v === undefined ? '' : String(Number(v.toFixed(places))).replace('.', desk.document?.profile.decimal_sign ?? '.'))
const chosen = (id: string) => desk.selected.some((s) => s.kind === 'annotation' && s.id === id)

async function jump(r: Row) {
  if (desk.sheet?.id !== r.sheet) await desk.showSheet(r.sheet)
  desk.selected = [{ kind: 'annotation', id: r.id }]
}
async function say(r: Row, says: string) {
  wrong.value = null
  if (!(await desk.edit({ command: 'change', ids: [r.id], values: { says } })) && desk.problem) {
    wrong.value = { id: r.id, text: desk.problem }
    desk.problem = ''
    await load()
  }
}
const file = (kind: string) => `/api/drawings/${desk.drawing!.id}/sizes.${kind}`
</script>

<template>
  <section class="size-sheet" aria-label="Size sheet" data-test="size-sheet">
    <header>
      <b>Size sheet</b>
      <span class="quiet">{{ shown.length }} of {{ rows.length }}</span>
      <input v-model="filter" class="filter" placeholder="Filter: sheet, view, kind, H7 …" aria-label="Filter the sizes" data-test="size-filter" @keydown.esc.stop="filter = ''" />
      <span class="space" />
      <a :href="file('xlsx')" download data-test="sizes-xlsx">XLSX</a>
      <a :href="file('csv')" download data-test="sizes-csv">CSV</a>
      <button class="quiet" aria-label="Close the size sheet" @click="$emit('close')">close</button>
    </header>
    <div class="rows" v-bind="containerProps" data-test="size-rows">
      <div v-bind="wrapperProps">
      <table>
        <colgroup><col v-for="[key] in HEAD" :key="key" :class="key" /></colgroup>
        <thead>
          <tr>
            <th v-for="[key, name] in HEAD" :key="key" :class="{ n: NUMBERS.includes(key) }" :aria-sort="order.key === key ? (order.down ? 'descending' : 'ascending') : 'none'">
              <button @click="sort(key)">{{ name }}{{ order.key === key ? (order.down ? ' ↓' : ' ↑') : '' }}</button>
            </th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="{ data: r } in seen" :key="r.id" v-memo="[r, chosen(r.id), wrong, desk.document?.profile.decimal_sign]" :class="{ on: chosen(r.id) }" :data-size="r.id" @click="jump(r)">
            <td :title="r.sheet_name">{{ r.sheet_name }}</td><td>{{ r.zone }}</td><td :title="r.view">{{ r.view }}</td><td :title="r.kind">{{ r.kind }}</td><td class="reads">{{ r.text }}</td>
            <td class="n">{{ number(r.nominal, 4) }}{{ r.unit === 'deg' ? '°' : '' }}</td>
            <td class="edit" @click.stop>
              <TextField :value="r.says ?? ''" :placeholder="r.tolerance === 'none' ? 'none' : r.tolerance" :aria-label="`Tolerance of ${r.text}`" @change="(v) => say(r, v)" />
              <span v-if="wrong?.id === r.id" class="bad" role="alert">{{ wrong.text }}</span>
            </td>
            <td class="n">{{ number(r.lower, 4) }}</td><td class="n">{{ number(r.upper, 4) }}</td><td class="n">{{ number(r.lower_in, 5) }}</td><td class="n">{{ number(r.upper_in, 5) }}</td>
            <td :class="{ bad: r.lost }" :title="remark(r)">{{ remark(r) }}</td>
          </tr>
        </tbody>
      </table>
      </div>
      <p v-if="loaded && !rows.length" class="quiet empty">No sizes yet. Press S and pick an edge or a circle.</p>
      <p v-else-if="loaded && !shown.length" class="quiet empty">No size answers to this filter.</p>
    </div>
  </section>
</template>

<style scoped>
.size-sheet {
  height: 236px;
  flex: none;
  background: var(--panel);
  border-top: 1px solid var(--line);
  display: flex;
  flex-direction: column;
}
header {
  display: flex;
  align-items: center;
  gap: 16px;
  padding: 6px 16px;
  border-bottom: 1px solid var(--line);
}
.space {
  flex: 1;
}
.filter {
  width: 260px;
  font: inherit;
  color: inherit;
  background: var(--field);
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 3px 8px;
}
.rows {
  overflow: auto;
  flex: 1;
  contain: strict;
}
table {
  border-collapse: collapse;
  width: 100%;
  min-width: 1080px;
  table-layout: fixed;
}
tbody tr {
  height: 35px;
}
col.zone {
  width: 56px;
}
col.kind,
col.nominal,
col.lower,
col.upper,
col.lower_in,
col.upper_in {
  width: 84px;
}
col.text,
col.says {
  width: 150px;
}
th {
  position: sticky;
  top: 0;
  background: var(--panel);
  text-align: left;
  font-weight: 600;
  z-index: 1;
}
th button {
  font: inherit;
  padding: 5px 10px;
  white-space: nowrap;
}
td {
  padding: 2px 10px;
  border-top: 1px solid var(--line);
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
}
tr.on td {
  background: var(--accent-ground);
}
tbody tr {
  cursor: pointer;
}
.n,
th.n {
  text-align: right;
  font-variant-numeric: tabular-nums;
}
.edit {
  white-space: normal;
}
.reads {
  font: 15px 'osifont';
}
.bad {
  color: var(--fault);
}
.empty {
  padding: 16px;
}
</style>
