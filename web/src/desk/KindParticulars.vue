<script setup lang="ts">
// The particulars of any kind that has no panel of its own: its plain fields as rows, made from what the server says of the kind.
import { computed } from 'vue'
import TextField from '@/components/TextField.vue'
import { formOf } from './forms'
import { kindOnDesk } from './kinds'
import LostNote from './LostNote.vue'
import { useDesk } from './store'

const props = defineProps<{ id: string }>()
const desk = useDesk()
const annotation = computed(() => desk.annotation(props.id) as (Record<string, unknown> & { kind: string }) | undefined)
const ink = computed(() => desk.drawn?.annotations.find((a) => a.id === props.id))
const form = computed(() => formOf(annotation.value?.kind ?? ''))
const table = computed(() => kindOnDesk(annotation.value?.kind ?? '')?.table)
const file = (kind: string) => `/api/drawings/${desk.drawing!.id}/${table.value!.address}.${kind}`
const set = (name: string, value: unknown) => desk.edit({ command: 'change', ids: [props.id], values: { [name]: value } })
</script>

<template>
  <div v-if="annotation" data-test="kind-particulars">
    <h2>{{ form?.name ?? '' }}</h2>
    <p class="quiet sub">{{ ink?.text && ink.text !== form?.name ? `${ink.text}; ` : '' }}drag it to move it</p>
    <LostNote :id="id" />
    <div v-for="f in form?.fields ?? []" :key="f.name" class="row">
      <label :for="`kind-${f.name}`">{{ f.label }}</label>
      <el-switch v-if="f.form === 'switch'" :id="`kind-${f.name}`" :model-value="!!annotation[f.name]" :data-test="`kind-${f.name}`" @change="(v) => set(f.name, v)" />
      <el-select v-else-if="f.form === 'choice'" :id="`kind-${f.name}`" :model-value="annotation[f.name] as string" :data-test="`kind-${f.name}`" @change="(v: string) => set(f.name, v)">
        <el-option v-for="c in f.choices" :key="c" :value="c" :label="c || 'as it is'" />
      </el-select>
      <el-input-number
        v-else-if="f.form === 'number'" :id="`kind-${f.name}`" :model-value="(annotation[f.name] as number | null) ?? undefined" :min="f.least ?? -Infinity" :max="f.most ?? Infinity"
        :precision="f.whole ? 0 : undefined" :placeholder="f.optional ? f.empty : ''" controls-position="right" :data-test="`kind-${f.name}`" @change="(v) => set(f.name, v ?? null)"
      />
      <TextField v-else-if="f.form === 'lines'" :id="`kind-${f.name}`" :rows="3" :value="String(annotation[f.name] ?? '')" :data-test="`kind-${f.name}`" @change="(v) => set(f.name, v)" />
      <TextField v-else :id="`kind-${f.name}`" :value="String(annotation[f.name] ?? '')" :data-test="`kind-${f.name}`" @change="(v) => set(f.name, v)" />
    </div>
    <slot />
    <p v-if="table" class="section quiet">
      {{ table.name }}: <a :href="file('xlsx')" download :data-test="`${table.address}-xlsx`">XLSX</a> <a :href="file('csv')" download :data-test="`${table.address}-csv`">CSV</a>
    </p>
    <div class="section"><el-button data-test="remove" @click="desk.removeSelected()">Remove</el-button></div>
  </div>
</template>
