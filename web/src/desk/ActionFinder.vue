<script setup lang="ts">
// Find an action: type a few letters, Enter does the first.
import { computed, nextTick, onMounted, ref } from 'vue'
import PaperIcon from '@/components/PaperIcon.vue'
import { STAGES, type Action } from './actions'

const props = defineProps<{ actions: Action[] }>()
const emit = defineEmits<{ close: [] }>()
const text = ref('')
const at = ref(0)
const field = ref<HTMLInputElement>()
const found = computed(() => {
  const words = text.value.toLowerCase().split(/\s+/).filter(Boolean)
  const found = props.actions.filter((a) => words.every((w) => `${a.name} ${a.about}`.toLowerCase().includes(w)))
  return found.map((a) => ({ a, rank: rank(a, words) })).sort((x, y) => x.rank - y.rank).map(({ a }) => a)
})
/** Starts of words first: of the name's first word, of any in the name, of any in what it is for; then what only holds the letters. */
function rank(a: Action, words: string[]): number {
  const name = a.name.toLowerCase()
  const starts = (text: string, w: string) => text.split(/[\s,]+/).some((t) => t.startsWith(w))
  const of = (w: string) => (name.startsWith(w) ? 0 : starts(name, w) ? 1 : starts(a.about.toLowerCase(), w) ? 2 : name.includes(w) ? 3 : 4)
  return words.reduce((sum, w) => sum + of(w), 0)
}
const stageName = (n: number) => STAGES.find((s) => s.number === n)?.name ?? ''

function run(a: Action | undefined) {
  if (!a) return
  emit('close')
  void nextTick(a.run)
}
function key(event: KeyboardEvent) {
  event.stopPropagation()
  if (event.key === 'Escape') emit('close')
  else if (event.key === 'Enter') run(found.value[at.value])
  else if (event.key === 'ArrowDown') at.value = Math.min(at.value + 1, found.value.length - 1)
  else if (event.key === 'ArrowUp') at.value = Math.max(at.value - 1, 0)
  else return
  event.preventDefault()
}
onMounted(() => field.value?.focus())
</script>

<template>
  <div class="veil" @pointerdown.self="emit('close')">
    <div class="finder" role="dialog" aria-label="Find an action">
      <input ref="field" v-model="text" placeholder="Find an action" data-test="finder" @keydown="key" @input="at = 0" />
      <button v-for="(a, i) in found" :key="a.id" class="row" :class="{ on: i === at }" @click="run(a)">
        <PaperIcon :name="a.icon" /><span>{{ a.name }} <span class="quiet">{{ a.about }}</span></span>
        <span class="quiet">{{ stageName(a.stage) }}</span><kbd v-if="a.key">{{ a.key }}</kbd>
      </button>
      <p v-if="!found.length" class="quiet none">No action is called that.</p>
    </div>
  </div>
</template>

<style scoped>
.veil {
  position: fixed;
  inset: 0;
  z-index: 10;
  display: flex;
  justify-content: center;
  align-items: flex-start;
  padding-top: 96px;
}
.finder {
  width: 440px;
  background: var(--panel);
  border-radius: 6px;
  box-shadow: var(--shadow);
  padding: 8px;
}
input {
  width: 100%;
  font: 15px/20px 'Source Sans 3', 'osifont', sans-serif;
  color: inherit;
  padding: 8px 10px;
  border: 1px solid var(--line);
  border-radius: 6px;
  background: var(--field);
  margin-bottom: 4px;
}
.row {
  width: 100%;
  display: grid;
  grid-template-columns: 26px 1fr auto 24px;
  gap: 8px;
  align-items: center;
  padding: 6px 8px;
  border-radius: 6px;
  text-align: left;
}
.row.on,
.row:hover {
  background: var(--accent-ground);
}
kbd {
  font: 11px/16px 'Source Sans 3', 'osifont', sans-serif;
  color: var(--quiet);
  border: 1px solid var(--line);
  border-radius: 4px;
  text-align: center;
  background: var(--field);
}
.none {
  margin: 8px;
}
</style>
