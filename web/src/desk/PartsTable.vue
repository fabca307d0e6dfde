<script setup lang="ts">
// The rows of a parts list, edited in place: kept with the part for every drawing, or said on this drawing alone.
import { computed, ref, watch } from 'vue'
import { api, data, type Schemas } from '@/api/client'
import TextField from '@/components/TextField.vue'
import { useDesk } from './store'

const emit = defineEmits<{ close: [] }>()
const desk = useDesk()
type Row = Schemas['ListRow']
const list = computed(() => {
  const chosen = new Set(desk.selected.flatMap((s) => (s.kind === 'annotation' ? [s.id] : [])))
  const lists = desk.document?.sheets.flatMap((s) => s.annotations.filter((a) => a.kind === 'parts_list')) ?? []
  return lists.find((p) => chosen.has(p.id)) ?? lists[0]
})
const found = ref<Schemas['ListRows'] | null>(null)
const where = ref<'part' | 'drawing'>('part')
const wrong = ref<{ at: string; text: string } | null>(null)
const WITH_PART = ['number', 'description', 'material', 'finish', 'supplier', 'make', 'unit_cost']

async function load() {
  if (!list.value) {
    found.value = null
    return
  }
  try {
    found.value = await data(api.GET('/api/drawings/{drawing_id}/parts-lists/{list_id}', { params: { path: { drawing_id: desk.drawing!.id, list_id: list.value.id } } }))
  } catch (error) {
    desk.fail(error)
  }
}
watch(() => [desk.drawing?.version, list.value?.id], load, { immediate: true })
const text = (r: Row, field: string) => r.cells[field]?.text ?? ''
const canEdit = (r: Row, field: string) => !r.gone && !!found.value?.writable.includes(field)
const name = (r: Row, field: string) => `${found.value?.fields[field] ?? field} of item ${r.item}`

async function say(r: Row, field: string, words: string | null) {
  wrong.value = null
  const at = `${r.key} ${field}`
  const own = field.startsWith('own:')
  try {
    if (words !== null && where.value === 'part' && !r.group && (own || WITH_PART.includes(field))) {
      const kept = Object.fromEntries(Object.entries(r.cells).flatMap(([f, c]) => (f.startsWith('own:') && c.model ? [[f.slice(4), c.model]] : [])))
      const body = { part: r.key, ...(own ? { own: { ...kept, [field.slice(4)]: words } } : { [field]: words }) }
      await data(api.POST('/api/models/{model_id}/properties', { params: { path: { model_id: desk.drawing!.model } }, body }))
      await desk.draw()
    } else if (!(await desk.edit({ command: 'say_cell', key: r.key, field, text: words })) && desk.problem) {
      wrong.value = { at, text: desk.problem }
      desk.problem = ''
    }
  } catch (error) {
    wrong.value = { at, text: (error as Error).message }
  }
  await load()
}
async function number(r: Row, typed: string) {
  wrong.value = null
  const n = Number(typed)
  if (!Number.isInteger(n) || n < 1) wrong.value = { at: `${r.key} item`, text: 'An item number is a whole number from 1 on.' }
  else await desk.edit({ command: 'number_item', key: r.key, number: n })
  await load()
}
const inOrder = () => found.value && desk.edit({ command: 'number_in_order', keys: [...new Set(found.value.rows.filter((r) => !r.gone).map((r) => r.key))] })
const file = (kind: string) => `/api/drawings/${desk.drawing!.id}/parts-lists/${list.value!.id}.${kind}`
</script>

<template>
  <section class="parts-table" aria-label="Parts list rows" data-test="parts-table">
    <header>
      <b>Parts list</b>
      <span v-if="found" class="quiet">{{ found.rows.length }} items</span>
      <el-radio-group v-model="where" size="small" aria-label="Where changes are kept">
        <el-radio-button value="part" data-test="keep-part">keep with the part</el-radio-button><el-radio-button value="drawing" data-test="keep-drawing">only on this drawing</el-radio-button>
      </el-radio-group>
      <span class="space" />
      <button v-if="found" class="quiet" data-test="in-order" @click="inOrder">number in this order</button>
      <template v-if="list"><a :href="file('xlsx')" download data-test="parts-xlsx">XLSX</a><a :href="file('csv')" download data-test="parts-csv">CSV</a></template>
      <button class="quiet" aria-label="Close the parts list rows" @click="emit('close')">close</button>
    </header>
    <div class="rows">
      <table v-if="found && list">
        <thead><tr><th v-for="c in found.columns" :key="c.field">{{ c.title }}</th></tr></thead>
        <tbody>
          <tr v-for="(r, i) in found.rows" :key="`${r.key}-${i}`" :class="{ gone: r.gone }" :data-item="r.item">
            <td v-for="c in found.columns" :key="c.field" :class="{ changed: r.cells[c.field]?.changed }">
              <TextField v-if="c.field === 'item' && !r.gone" class="item" :value="text(r, 'item')" :aria-label="name(r, 'item')" @change="(v) => number(r, v)" />
              <span v-else-if="canEdit(r, c.field)" class="cell" :style="c.field === 'name' ? { paddingLeft: `${r.depth * 14}px` } : {}">
                <TextField :value="text(r, c.field)" :aria-label="name(r, c.field)" :disabled="c.field === 'name' && where === 'part'" :title="c.field === 'name' && where === 'part' ? 'The name comes from the model; it can be said otherwise on this drawing.' : ''" @change="(v) => say(r, c.field, v)" />
                <button v-if="r.cells[c.field]?.changed" class="reset" :title="`The model says: ${r.cells[c.field].model || 'nothing'}`" :aria-label="`Reset ${name(r, c.field)}`" @click="say(r, c.field, null)">reset</button>
              </span>
              <span v-else class="plain">{{ text(r, c.field) }}</span>
              <span v-if="wrong?.at === `${r.key} ${c.field}`" class="bad" role="alert">{{ wrong.text }}</span>
            </td>
          </tr>
        </tbody>
      </table>
      <p v-if="!list" class="quiet empty">No parts list yet. Press ⇧P to put one on the title block.</p>
      <p v-else-if="found && !found.rows.length" class="quiet empty">The model has no parts to list.</p>
    </div>
  </section>
</template>

<style scoped>
.parts-table {
  height: 248px;
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
.rows {
  overflow: auto;
  flex: 1;
}
table {
  border-collapse: collapse;
  width: 100%;
}
th {
  position: sticky;
  top: 0;
  background: var(--panel);
  text-align: left;
  font-weight: 600;
  padding: 5px 10px;
  z-index: 1;
}
td {
  padding: 2px 6px;
  border-top: 1px solid var(--line);
}
.cell {
  display: flex;
  gap: 4px;
  align-items: center;
}
.item {
  width: 56px;
}
.plain {
  padding: 0 8px;
}
.changed {
  background: color-mix(in srgb, var(--attention, #c78a12) 14%, transparent);
}
.reset {
  color: var(--accent);
  padding: 0 4px;
}
.gone td {
  text-decoration: line-through;
  color: var(--quiet);
}
.bad {
  color: var(--fault);
  display: block;
}
.empty {
  padding: 16px;
}
</style>
