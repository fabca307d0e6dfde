<script setup lang="ts">
// What the office says of a part: number, description, material, finish and fields of its own; every drawing of the model sees it.
import { ref } from 'vue'
import { api, data, type MaterialRow, type ModelPage } from '@/api/client'
import TextField from '@/components/TextField.vue'
import { massText } from '@/words'

const props = defineProps<{ model: string; part: ModelPage['parts'][number]; materials: MaterialRow[]; assembly?: boolean }>()
const emit = defineEmits<{ changed: [page: ModelPage] }>()
const problem = ref('')
const newName = ref('')
const FIELDS = [
  ['number', 'Number', 60],
  ['description', 'Description', 400],
  ['finish', 'Finish', 120],
  ['supplier', 'Supplier', 120],
] as const

async function say(what: Record<string, unknown>) {
  problem.value = ''
  try {
    const page = await data(api.POST('/api/models/{model_id}/properties', { params: { path: { model_id: props.model } }, body: { part: props.part.key, ...what } }))
    emit('changed', page as ModelPage)
  } catch (error) {
    problem.value = (error as Error).message
  }
}
function addOwn() {
  const name = newName.value.trim()
  newName.value = ''
  if (name) void say({ own: { ...props.part.own, [name]: props.part.own[name] ?? '–' } })
}
</script>

<template>
  <div class="properties">
    <div v-for="[name, label, most] in FIELDS" :key="name" class="row">
      <label :for="`${name}-${part.key}`">{{ label }}</label>
      <TextField :id="`${name}-${part.key}`" :value="part[name]" :maxlength="most" :data-test="`part-${name}`" placeholder="none" @change="(v) => say({ [name]: v })" />
    </div>
    <div class="row">
      <label>Material</label>
      <el-select :model-value="part.material" filterable clearable placeholder="not stated" data-test="part-material" @change="(m: string) => say({ material: m ?? '' })">
        <el-option v-for="m in materials" :key="m.designation" :value="m.designation"><span>{{ m.designation }}</span><span class="density">{{ m.density.toFixed(2) }} g/cm³</span></el-option>
      </el-select>
    </div>
    <div class="row">
      <label>Made or bought</label>
      <el-select :model-value="part.make" placeholder="not stated" clearable data-test="part-make" @change="(m: string) => say({ make: m ?? '' })"><el-option value="make" label="made here" /><el-option value="buy" label="bought" /></el-select>
    </div>
    <div class="row"><label :for="`cost-${part.key}`">Unit cost</label><TextField :id="`cost-${part.key}`" :value="`${part.unit_cost ?? ''}`" maxlength="30" placeholder="none" data-test="part-unit_cost" @change="(v) => say({ unit_cost: v })" /></div>
    <div class="row"><label :for="`mass-${part.key}`">Mass</label>
      <span class="mass"><span data-test="part-mass">{{ part.awaited ? 'not measured yet' : massText(part.mass) }}</span><TextField :id="`mass-${part.key}`" :value="`${part.stated_mass ?? ''}`" maxlength="30" placeholder="or state kg" data-test="part-stated_mass" @change="(v) => say({ stated_mass: v })" /></span></div>
    <template v-if="assembly">
      <div class="row">
        <label>Listed by</label>
        <el-select :model-value="part.counted" placeholder="number of pieces" data-test="part-counted" @change="(c: string) => say({ counted: c })"><el-option value="" label="number of pieces" /><el-option value="length" label="length of stock" /></el-select>
      </div>
      <div class="row">
        <label>In sections</label>
        <el-select :model-value="part.sectioned" placeholder="by its kind" data-test="part-sectioned" @change="(c: string) => say({ sectioned: c })"><el-option value="" label="by its kind" /><el-option value="whole" label="left whole" /><el-option value="cut" label="always cut" /></el-select>
      </div>
    </template>
    <div v-for="(value, name) in part.own" :key="name" class="row">
      <label>{{ name }}</label>
      <TextField :value="value" maxlength="400" :aria-label="`${name}`" @change="(v) => say({ own: { ...part.own, [name]: v } })" />
    </div>
    <div class="row"><label :for="`own-${part.key}`" class="quiet">Own field</label><input :id="`own-${part.key}`" v-model="newName" maxlength="60" placeholder="its name, then Enter" @keydown.enter="addOwn" /></div>
    <p v-if="problem" class="fault-note" role="alert">{{ problem }}</p>
  </div>
</template>

<style scoped>
.row {
  display: grid;
  grid-template-columns: 112px 1fr;
  align-items: center;
  min-height: 36px;
  gap: 8px;
}
.row > label,
.label {
  color: var(--quiet);
}
input {
  font: inherit;
  color: inherit;
  width: 100%;
  height: 28px;
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 0 8px;
  background: var(--field);
}
.mass {
  display: grid;
  grid-template-columns: 1fr 92px;
  gap: 8px;
  align-items: center;
}
.density {
  float: right;
  color: var(--quiet);
  font-variant-numeric: tabular-nums;
  margin-left: 16px;
}
</style>
