<script setup lang="ts">
// A note written where it stands, with the trade's symbols below it.
import { computed, nextTick, onMounted, ref, watch } from 'vue'
import { isSize } from './sizes'
import { useDesk } from './store'
import { useWriting } from './writing'

const props = defineProps<{ room: HTMLElement; zoom: number }>()
const desk = useDesk()
const writing = useWriting()
const SYMBOLS = [
  ['Ø', 'diameter'], ['°', 'degree'], ['±', 'plus/minus'], ['×', 'times'], ['↧', 'depth'], ['⌴', 'counterbore'], ['⌵', 'countersink'], ['□', 'square'],
  ['⌒', 'arc'], ['⌲', 'taper'], ['⌳', 'slope'], ['Ⓜ', 'maximum material'], ['Ⓛ', 'least material'], ['Ⓔ', 'envelope'],
] as const
const text = ref('')
const area = ref<HTMLTextAreaElement>()
const place = ref({ left: '0px', top: '0px' })
const size = ref(14)

async function begin() {
  const a = writing.note
  if (a?.kind !== 'note') return
  text.value = writing.pending ? '' : (a.text ?? '')
  size.value = Math.min(Math.max((a.height ?? desk.document!.profile.text_height!) * props.zoom * 1.4, 13), 40)
  await nextTick()
  const home = props.room.getBoundingClientRect()
  const drawn = [...props.room.querySelectorAll(writing.pending ? '[data-test=in-hand] text' : `[data-annotation='${writing.id}'] text`)].map((t) => t.getBoundingClientRect())
  const left = Math.min(...drawn.map((r) => r.left), Infinity)
  const top = Math.min(...drawn.map((r) => r.top), Infinity)
  const inside = (v: number, most: number) => `${Math.max(4, Math.min(v, most))}px`
  place.value = {
    left: inside(Number.isFinite(left) ? left - home.left - 8 : home.width / 2, home.width - 330),
    top: inside(Number.isFinite(top) ? top - home.top - 6 : home.height / 2, home.height - 170),
  }
  area.value?.focus()
  area.value?.select()
}
onMounted(begin)
watch(() => writing.id, begin)

function insert(symbol: string) {
  const at = area.value!
  text.value = text.value.slice(0, at.selectionStart) + symbol + text.value.slice(at.selectionEnd)
  const next = at.selectionStart + symbol.length
  void nextTick(() => {
    at.focus()
    at.setSelectionRange(next, next)
  })
}
/** The sizes of the sheet, which a note can quote. */
const sizes = computed(() => (desk.drawn?.annotations ?? []).filter((a) => a.text && isSize(desk.annotation(a.id))).map((a) => ({ id: a.id, text: a.text })))
const chosen = ref('')
function quote(size: string) {
  insert(`{size: ${size}}`)
  chosen.value = ''
}
/** What the quotes of sizes in the text say now. */
const quoted = computed(() => [...text.value.matchAll(/\{size: ([^}]+)\}/g)].map((m) => sizes.value.find((s) => s.id === m[1].trim())?.text ?? 'a size of another sheet'))
function key(event: KeyboardEvent) {
  if (event.key === 'Escape') void writing.done(null)
  else if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) void writing.done(text.value)
}
function leave(event: FocusEvent) {
  if (!(event.currentTarget as HTMLElement).contains(event.relatedTarget as Node | null)) void writing.done(text.value)
}
</script>

<template>
  <div class="writing" :style="place" data-test="note-writing" @pointerdown.stop @dblclick.stop @wheel.stop @focusout="leave">
    <textarea
      ref="area" v-model="text" :style="{ fontSize: `${size}px` }" rows="3" maxlength="4000" aria-label="Words of the note" placeholder="What it says" data-test="note-text"
      @keydown.stop="key"
    />
    <div class="symbols" role="group" aria-label="Symbols">
      <button v-for="[symbol, name] in SYMBOLS" :key="name" type="button" :title="`${name}, typed as {${name}}`" :aria-label="name" @click="insert(symbol)">{{ symbol }}</button>
    </div>
    <label v-if="sizes.length" class="sizes">
      <span class="quiet">Quote a size</span>
      <select v-model="chosen" data-test="note-size" @change="quote(chosen)">
        <option value="" disabled>choose …</option>
        <option v-for="s in sizes" :key="s.id" :value="s.id">{{ s.text }}</option>
      </select>
      <span v-if="quoted.length" class="quiet">now {{ quoted.join(', ') }}</span>
    </label>
    <p class="quiet">Ctrl+Enter or a click aside keeps it; Esc leaves it as it was. {material}, {title}, {sheet: A} follow the drawing.</p>
  </div>
</template>

<style scoped>
.writing {
  position: absolute;
  width: 324px;
  padding: 6px;
  border: 1px solid var(--accent);
  border-radius: 6px;
  background: var(--paper, #fff);
  box-shadow: var(--shadow);
  cursor: default;
}
textarea {
  width: 100%;
  border: 0;
  outline: none;
  resize: vertical;
  background: transparent;
  color: inherit;
  font-family: osifont, inherit;
  line-height: 1.35;
}
.symbols {
  display: flex;
  flex-wrap: wrap;
  gap: 2px;
}
.symbols button {
  width: 26px;
  height: 26px;
  border: 1px solid var(--line);
  border-radius: 6px;
  background: var(--field);
  color: inherit;
  font: 15px osifont, sans-serif;
  cursor: pointer;
}
.symbols button:hover,
.symbols button:focus-visible {
  background: var(--accent-ground);
}
.sizes {
  display: flex;
  align-items: center;
  gap: 8px;
  margin-top: 6px;
  font-size: 12px;
}
.sizes select {
  max-width: 130px;
  padding: 2px 4px;
  border: 1px solid var(--line);
  border-radius: 6px;
  background: var(--field);
  color: inherit;
  font: inherit;
}
p {
  margin: 6px 0 0;
  font-size: 12px;
}
</style>
