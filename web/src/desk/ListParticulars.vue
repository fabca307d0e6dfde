<script setup lang="ts">
// A parts list: what it lists, in which order and columns, and where it stands.
import { computed, ref } from 'vue'
import { api, data, type Schemas } from '@/api/client'
import TextField from '@/components/TextField.vue'
import { watch } from 'vue'
import { useDesk } from './store'

const props = defineProps<{ id: string }>()
const emit = defineEmits<{ rows: [] }>()
const desk = useDesk()
const list = computed(() => {
  const a = desk.annotation(props.id)
  return a?.kind === 'parts_list' ? a : undefined
})
const ink = computed(() => desk.drawn?.annotations.find((a) => a.id === props.id))
const box = computed(() => desk.drawn?.boxes.find((b) => b.id === props.id))
const found = ref<Schemas['ListRows'] | null>(null)
async function load() {
  if (!list.value) return
  try {
    found.value = await data(api.GET('/api/drawings/{drawing_id}/parts-lists/{list_id}', { params: { path: { drawing_id: desk.drawing!.id, list_id: props.id } } }))
  } catch (error) {
    desk.fail(error)
  }
}
watch(() => [desk.drawing?.version, props.id], load, { immediate: true })

const change = (values: Partial<Schemas['PartsList']>) => desk.edit({ command: 'change', ids: [props.id], values })
const others = computed(() => (desk.document?.sheets ?? []).flatMap((s) => s.annotations.filter((p) => p.kind === 'parts_list' && p.id !== props.id).map((p) => ({ id: p.id, name: s.name || 'another sheet' }))))
const columns = computed(() => found.value?.columns ?? [])
const missing = computed(() => Object.entries(found.value?.fields ?? {}).filter(([f]) => !columns.value.some((c) => c.field === f)))
const kept = () => columns.value.map((c) => ({ field: c.field, title: c.title, width: c.width }))
function swap(n: number, by: number) {
  const all = kept()
  ;[all[n], all[n + by]] = [all[n + by], all[n]]
  void change({ columns: all })
}
function set(n: number, what: Partial<{ title: string; width: number }>) {
  void change({ columns: kept().map((c, m) => (m === n ? { ...c, ...what } : c)) })
}
const goneCount = computed(() => found.value?.rows.filter((r) => r.gone).length ?? 0)
</script>

<template>
  <div v-if="list" data-test="list-particulars">
    <h2>Parts list</h2>
    <p class="quiet sub">{{ found ? `${found.rows.length} items` : '' }}{{ list.attached ? ', on the title block' : '; drag it to move it' }}</p>
    <p v-if="found && !found.rows.length" class="fault-note">The model has no parts to list.</p>
    <p v-if="goneCount" class="fault-note">{{ goneCount }} {{ goneCount === 1 ? 'item is' : 'items are' }} no longer in the model; number the items in order to drop them.</p>
    <p v-if="ink?.left_over" class="fault-note">{{ ink.left_over }} rows have no room here: allow more columns, or go on with a list on another sheet.</p>
    <div class="row"><span class="label">Lists</span>
      <el-select :model-value="list.levels ?? 'parts'" data-test="list-levels" @change="(v: 'top' | 'parts' | 'indented') => change({ levels: v })">
        <el-option value="parts" label="all parts" /><el-option value="top" label="top level" /><el-option value="indented" label="indented levels" />
      </el-select></div>
    <div class="row"><span class="label">Order</span>
      <el-select :model-value="list.sort ?? 'item'" :disabled="list.levels === 'indented'" @change="(v: 'item' | 'number' | 'name') => change({ sort: v })">
        <el-option value="item" label="by item" /><el-option value="number" label="by reference" /><el-option value="name" label="by name" />
      </el-select></div>
    <div class="row"><span class="label">Stands</span>
      <el-radio-group :model-value="list.attached ? 'block' : 'free'" size="small" @change="(v) => change({ attached: v === 'block', ...(box ? { position: { x: box.left, y: box.bottom } } : {}) })">
        <el-radio-button value="block">on the block</el-radio-button><el-radio-button value="free">free</el-radio-button>
      </el-radio-group></div>
    <div v-if="!list.attached" class="row"><span class="label">Grows</span>
      <el-radio-group :model-value="list.grow ?? 'up'" size="small" @change="(v) => change({ grow: v as 'up' | 'down' })"><el-radio-button value="up">up</el-radio-button><el-radio-button value="down">down</el-radio-button></el-radio-group></div>
    <div class="row"><label for="most-rows">Rows a column</label><el-input-number id="most-rows" :model-value="list.most_rows ?? undefined" :min="0" :max="500" placeholder="all" controls-position="right" @change="(v) => change({ most_rows: v ?? 0 })" /></div>
    <div class="row"><label for="blocks">Columns beside</label><el-input-number id="blocks" :model-value="list.blocks ?? 1" :min="1" :max="6" controls-position="right" @change="(v) => change({ blocks: v ?? 1 })" /></div>
    <div v-if="others.length" class="row"><span class="label">Goes on from</span>
      <el-select :model-value="list.rest_of || ''" @change="(v: string) => change({ rest_of: v })"><el-option value="" label="none" /><el-option v-for="o in others" :key="o.id" :value="o.id" :label="o.name" /></el-select></div>
    <div class="row"><span class="label">Totals</span><el-checkbox :model-value="!!list.totals" @change="(v) => change({ totals: !!v })">of mass and cost</el-checkbox></div>
    <div class="section">
      <div v-for="(c, n) in columns" :key="c.field" class="column" :data-column="c.field">
        <TextField :value="c.title" :aria-label="`Title of ${found?.fields[c.field] ?? c.field}`" @change="(title) => set(n, { title })" />
        <TextField class="width" type="number" min="5" max="300" :value="`${c.width}`" :aria-label="`Width of ${c.title}, mm`" @change="(width) => set(n, { width: Number(width) })" />
        <button :disabled="!n" :aria-label="`Move ${c.title} to the left`" @click="swap(n, -1)">‹</button>
        <button :disabled="n === columns.length - 1" :aria-label="`Move ${c.title} to the right`" @click="swap(n, 1)">›</button>
        <button :disabled="columns.length < 2" :aria-label="`Remove the column ${c.title}`" @click="change({ columns: kept().filter((_, m) => m !== n) })">×</button>
      </div>
      <el-select v-if="missing.length" :model-value="''" placeholder="Add a column" data-test="add-column" @change="(f: string) => change({ columns: [...kept(), { field: f }] })">
        <el-option v-for="[f, name] in missing" :key="f" :value="f" :label="name" />
      </el-select>
    </div>
    <div class="section choices">
      <el-button data-test="edit-rows" @click="emit('rows')">Edit its rows</el-button>
      <el-button data-test="remove" @click="desk.removeSelected()">Remove</el-button>
    </div>
  </div>
</template>

<style scoped>
.column {
  display: grid;
  grid-template-columns: 1fr 52px 20px 20px 20px;
  gap: 4px;
  align-items: center;
  margin-bottom: 4px;
}
.column button {
  border-radius: 4px;
  height: 24px;
  color: var(--quiet);
}
.column button:hover:enabled {
  background: var(--accent-ground);
}
.column button:disabled {
  opacity: 0.3;
}
</style>
