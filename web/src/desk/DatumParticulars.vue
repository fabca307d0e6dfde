<script setup lang="ts">
// A datum: its letter, what refers to it, and all datums of the drawing.
import { computed } from 'vue'
import TextField from '@/components/TextField.vue'
import LostNote from './LostNote.vue'
import { useDesk } from './store'

const props = defineProps<{ id: string }>()
const desk = useDesk()
const everything = computed(() => desk.document?.sheets.flatMap((s) => s.annotations) ?? [])
const own = computed(() => {
  const a = desk.annotation(props.id)
  return a?.kind === 'datum_feature' ? a : undefined
})
const ink = computed(() => desk.drawn?.annotations.find((a) => a.id === props.id))
const frames = computed(() => everything.value.flatMap((a) => (a.kind === 'control_frame' ? [a] : [])))
const uses = (letter: string) => frames.value.filter((f) => f.rows.some((r) => [...(r.datums ?? []), ...(r.indicators ?? [])].some((d) => d.letters.split('-').includes(letter)))).length
const datums = computed(() =>
  everything.value
    .flatMap((a) => (a.kind === 'datum_feature' ? [{ id: a.id, letter: a.letter ?? 'A', uses: uses(a.letter ?? 'A') }] : []))
    .sort((a, b) => a.letter.length - b.letter.length || a.letter.localeCompare(b.letter)),
)
const rename = (letter: string) => desk.edit({ command: 'rename_datum', id: props.id, letter })
const choose = (id: string) => (desk.selected = [{ kind: 'annotation', id }])
</script>

<template>
  <div v-if="own" data-test="datum-particulars">
    <h2>Datum {{ own.letter }}</h2>
    <p class="quiet sub">{{ ink?.text }}; drag it to move it</p>
    <LostNote :id="id" />
    <div class="row">
      <label for="datum-letter">Letter</label>
      <TextField id="datum-letter" :value="own.letter ?? 'A'" data-test="datum-letter" @change="rename" />
    </div>
    <div class="section">
      <h3>Datums of the drawing</h3>
      <p v-for="d in datums" :key="d.id" class="datum" :class="{ chosen: d.id === id }">
        <button type="button" class="plain" :data-test="`datum-${d.letter}`" @click="choose(d.id)">{{ d.letter }}</button>
        <span class="quiet">{{ d.uses === 1 ? 'in one frame' : d.uses ? `in ${d.uses} frames` : 'in no frame' }}</span>
      </p>
    </div>
    <div class="section"><el-button data-test="remove" @click="desk.removeSelected()">Remove</el-button></div>
  </div>
</template>

<style scoped>
.datum {
  display: flex;
  gap: 10px;
  align-items: center;
  margin: 4px 0;
}
.plain {
  min-width: 30px;
  height: 26px;
  border: 1px solid var(--text);
  border-radius: 2px;
  background: var(--field);
  color: inherit;
  font: 14px osifont, sans-serif;
  cursor: pointer;
}
.chosen .plain {
  border-color: var(--accent);
  color: var(--accent);
}
</style>
