<script setup lang="ts">
// The general notes of a drawing: in order, left out one by one, typed or taken from the library.
import { computed, ref, watch } from 'vue'
import TextField from '@/components/TextField.vue'
import { api, data, type Schemas } from '@/api/client'
import { useDesk } from './store'

const desk = useDesk()
const notes = computed(() => desk.document?.notes ?? [])
const off = computed(() => desk.document?.notes_off ?? [])
const standard = computed(() => (desk.document?.profile.standard === 'ASME' ? 'ASME' : 'ISO') as 'ISO' | 'ASME')
const library = ref<Schemas['LibraryNote'][]>([])
const wanted = ref('')
const sign = computed(() => (desk.document?.profile.decimal_sign === ',' ? ',' : '.') as '.' | ',')
watch(
  [standard, sign],
  async () => (library.value = await data(api.GET('/api/reference/notes', { params: { query: { standard: standard.value, sign: sign.value } } })).catch(() => [])),
  { immediate: true },
)
/** What the drawing does not say yet, by what it is about. */
const groups = computed(() => {
  const rest = library.value.filter((n) => !notes.value.includes(n.text))
  return [...new Set(rest.map((n) => n.group))].map((name) => ({ name, notes: rest.filter((n) => n.group === name) }))
})
/** The number a note has among those that are shown. */
const numbered = computed(() => notes.value.map((_, n) => (off.value.includes(n) ? '' : String(notes.value.slice(0, n + 1).filter((_, k) => !off.value.includes(k)).length))))

const set = (list: { text: string; off: boolean }[]) =>
  desk.edit({ command: 'change_notes', notes: list.map((n) => n.text), off: list.flatMap((n, k) => (n.off ? [k] : [])) })
const now = () => notes.value.map((text, n) => ({ text, off: off.value.includes(n) }))
function change(n: number, text: string) {
  const list = now()
  list[n].text = text
  void set(list)
}
function move(n: number, by: number) {
  const list = now()
  const [one] = list.splice(n, 1)
  list.splice(n + by, 0, one)
  void set(list)
}
function toggle(n: number) {
  const list = now()
  list[n].off = !list[n].off
  void set(list)
}
/** One after another: each note goes after those that the one before it left. */
let adding: Promise<unknown> = Promise.resolve()
async function add(text: string) {
  if (text.trim()) await (adding = adding.then(() => set([...now(), { text: text.trim(), off: false }])))
  wanted.value = ''
}
/** Grows with each note of one's own: the field is empty then, and only then, whatever else is added meanwhile. */
const typed = ref(0)
function own(text: string) {
  typed.value++
  void add(text)
}
</script>

<template>
  <p v-if="!notes.length" class="quiet sub">None yet.</p>
  <ol class="notes" data-test="general-notes">
    <li v-for="(text, n) in notes" :key="n" :class="{ off: off.includes(n) }">
      <span class="number">{{ numbered[n] }}</span>
      <TextField :value="text" :title="text" :aria-label="`General note ${n + 1}`" maxlength="400" @change="(t: string) => change(n, t)" />
      <span class="buttons">
        <button type="button" :disabled="n === 0" :aria-label="`Note ${n + 1} up`" title="up" @click="move(n, -1)">↑</button>
        <button type="button" :disabled="n === notes.length - 1" :aria-label="`Note ${n + 1} down`" title="down" @click="move(n, 1)">↓</button>
        <button type="button" :aria-label="`Note ${n + 1} ${off.includes(n) ? 'on' : 'off'}`" :title="off.includes(n) ? 'show it' : 'leave it out'" :data-test="`note-off-${n}`" @click="toggle(n)">{{ off.includes(n) ? '○' : '●' }}</button>
        <button type="button" :aria-label="`Remove note ${n + 1}`" title="remove" @click="change(n, '')">×</button>
      </span>
    </li>
  </ol>
  <TextField :key="typed" class="typed" value="" placeholder="A note of your own" maxlength="400" aria-label="A general note of your own" data-test="note-typed" @change="own" />
  <el-select v-model="wanted" filterable :fit-input-width="false" placement="top-end" placeholder="From the library" aria-label="General note from the library" data-test="note-library" @change="add">
    <el-option-group v-for="g in groups" :key="g.name" :label="g.name">
      <el-option v-for="n in g.notes" :key="n.text" :label="n.text" :value="n.text" :title="n.cites" />
    </el-option-group>
  </el-select>
</template>

<style scoped>
.notes {
  list-style: none;
  margin: 0 0 8px;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 16px 1fr auto;
  align-items: center;
  gap: 4px;
  margin-bottom: 4px;
}
li.off :deep(input) {
  color: var(--quiet);
  text-decoration: line-through;
}
.number {
  color: var(--quiet);
  text-align: right;
}
.buttons button {
  width: 18px;
  height: 24px;
  padding: 0;
  border: 0;
  background: none;
  color: var(--quiet);
  cursor: pointer;
}
.buttons button:hover:not(:disabled),
.buttons button:focus-visible {
  color: var(--accent);
}
.buttons button:disabled {
  opacity: 0.3;
  cursor: default;
}
.typed {
  margin-bottom: 8px;
}
</style>
