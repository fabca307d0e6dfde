<script setup lang="ts">
// A hatch pattern with its angle and spacing; more patterns come from a .pat file.
import { computed } from 'vue'
import { useDesk } from './store'

const pattern = defineModel<string>('pattern', { required: true })
const angle = defineModel<number>('angle', { default: 0 })
const spacing = defineModel<number>('spacing', { default: 1 })
const props = defineProps<{ byMaterial?: boolean; plain?: boolean }>()
const desk = useDesk()
const BUILT_IN = ['general', 'steel', 'iron', 'copper alloy', 'aluminium', 'plastic', 'wood', 'crossed', 'level', 'dashed']
const names = computed(() => [...BUILT_IN, ...Object.keys(desk.document?.patterns ?? {})])

async function bring(event: Event) {
  const input = event.target as HTMLInputElement
  const file = input.files?.[0]
  input.value = ''
  if (!file) return
  if (file.size > 400_000) return desk.fail(`${file.name} is larger than 400 kB, the most a pattern file may be.`)
  await desk.edit({ command: 'bring_patterns', text: await file.text() })
}
</script>

<template>
  <div>
    <div class="row">
      <label>Pattern</label>
      <el-select v-model="pattern" :placeholder="props.byMaterial ? 'by material' : ''" data-test="pattern">
        <el-option v-if="props.byMaterial && pattern" value="" label="by material" />
        <el-option v-for="n in names" :key="n" :value="n" />
      </el-select>
    </div>
    <template v-if="!props.plain">
      <div class="row"><label>Turned by</label><el-input-number v-model="angle" :step="15" :min="-180" :max="180" controls-position="right" /></div>
      <div class="row"><label>Spacing</label><el-input-number v-model="spacing" :step="0.25" :min="0.25" :max="8" controls-position="right" /></div>
    </template>
    <label class="bring quiet">Bring a .pat file … <input type="file" accept=".pat,text/plain" data-test="pat-file" @change="bring" /></label>
  </div>
</template>

<style scoped>
.bring {
  display: block;
  cursor: pointer;
  text-decoration: underline;
  margin: 6px 0;
}
.bring input {
  display: none;
}
</style>
