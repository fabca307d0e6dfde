<script setup lang="ts">
// Checking: the finding that is chosen with its thread, else all of them and how far the sizes are ticked.
import { computed, nextTick, ref, watch } from 'vue'
import { when } from '@/words'
import { usePencil } from './pencil'
import FoundList from './FoundList.vue'
import SaidList from './SaidList.vue'
import { useDesk } from './store'

const desk = useDesk()
const pencil = usePencil()
const text = ref('')
const field = ref<HTMLTextAreaElement>()
const STATES: Record<string, string> = { open: 'open', answered: 'answered', closed: 'closed' }
const mark = computed(() => pencil.mark)
const listed = computed(() => pencil.page?.marks ?? [])
const first = (n: number) => listed.value.find((m) => m.number === n)?.words.find((w) => w.text)?.text ?? 'nothing said yet'
const sheetOf = (id: string) => {
  const n = desk.document?.sheets.findIndex((s) => s.id === id) ?? -1
  return (desk.document?.sheets.length ?? 0) > 1 ? `, sheet ${n + 1}` : ''
}
watch(() => pencil.chosen, async (n) => {
  text.value = ''
  if (!n) return
  await nextTick()
  if (mark.value?.mine && !mark.value.words.some((w) => w.text)) field.value?.focus()
})
async function say(state: '' | 'open' | 'answered' | 'closed') {
  if (mark.value && (await pencil.answer(mark.value.number, text.value, state))) text.value = ''
}
async function choose(n: number, sheet: string) {
  if (sheet !== desk.sheet?.id) await desk.showSheet(sheet)
  pencil.chosen = n
}
</script>

<template>
  <div data-test="pencil-panel">
    <template v-if="mark">
      <h2>Finding {{ mark.number }}</h2>
      <p class="quiet sub">{{ STATES[mark.state] }}{{ mark.revision ? `, revision ${mark.revision}` : '' }}{{ sheetOf(mark.sheet) }}</p>
      <div v-for="(w, n) in mark.words" :key="n" class="word">
        <template v-if="w.text || w.state">
          <p class="quiet">{{ w.by }}, {{ when(w.at) }}<template v-if="n && w.state">: {{ STATES[w.state] }}</template></p>
          <p v-if="w.text">{{ w.text }}</p>
        </template>
      </div>
      <textarea ref="field" v-model="text" class="field" rows="3" maxlength="2000" aria-label="What you say of it" placeholder="Say what you find, or answer" data-test="pencil-text" @keydown.ctrl.enter="say('')" @keydown.esc.stop="pencil.chosen = 0" />
      <div class="choices">
        <el-button type="primary" :disabled="!text.trim()" data-test="pencil-say" @click="say('')">Say it</el-button>
        <el-button v-if="mark.state === 'open' && !mark.mine" data-test="pencil-answered" @click="say('answered')">Answered</el-button>
        <el-button v-if="mark.state !== 'closed' && pencil.page?.may" data-test="pencil-close" @click="say('closed')">Close it</el-button>
        <el-button v-if="mark.state !== 'open'" data-test="pencil-open" @click="say('open')">Open again</el-button>
        <el-button v-if="mark.mine && mark.words.length === 1" data-test="pencil-rub" @click="pencil.rubOut(mark.number).then((ok) => ok && (pencil.chosen = 0))">Rub it out</el-button>
      </div>
      <button class="link" @click="pencil.chosen = 0">All findings</button>
    </template>
    <template v-else>
      <h2>Check</h2>
      <SaidList />
      <FoundList />
      <h3>Red pencil</h3>
      <p v-if="pencil.page?.sizes" class="sub" data-test="ticked">{{ pencil.page.ticked }} of {{ pencil.page.sizes }} sizes ticked</p>
      <p v-if="!listed.length" class="quiet">Nothing is marked yet.</p>
      <button v-for="m in listed" :key="m.number" class="finding" :class="m.state" :data-test="`finding-${m.number}`" @click="choose(m.number, m.sheet)"><b>{{ m.number }}</b> {{ first(m.number) }} <span class="quiet">{{ m.by }}, {{ STATES[m.state] }}{{ sheetOf(m.sheet) }}</span></button>
    </template>
    <p v-if="pencil.refusal" class="fault-note" role="alert">{{ pencil.refusal }}</p>
  </div>
</template>

<style scoped>
h3 {
  margin: 16px 0 2px;
}
.word {
  border-top: 1px solid var(--line);
  padding: 4px 0;
}
.word p {
  margin: 2px 0;
  overflow-wrap: anywhere;
}
.field {
  font: inherit;
  color: inherit;
  width: 100%;
  box-sizing: border-box;
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 4px 8px;
  background: var(--field);
  resize: vertical;
}
.finding {
  display: block;
  width: 100%;
  text-align: left;
  padding: 4px;
  border-radius: 4px;
}
.finding:hover {
  background: var(--accent-ground);
}
.finding.closed {
  opacity: 0.6;
}
.link {
  color: var(--accent);
  text-decoration: underline;
  margin-top: 10px;
}
</style>
