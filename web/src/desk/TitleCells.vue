<script setup lang="ts">
// The title block on the desk: pale words where a linked field has nothing behind it, and a cell filled in where it was double-clicked.
import { nextTick, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { Camera } from './camera'
import { useDesk } from './store'

const props = defineProps<{ camera: Camera; height: number }>()
const desk = useDesk()
const router = useRouter()
const editing = ref<{ field: string; label: string; left: number; bottom: number; width: number; height: number } | null>(null)
const text = ref('')
const input = ref<HTMLInputElement>()

/** Open the cell at a place of the sheet; whether there is one. */
function open(x: number, y: number): boolean {
  const c = desk.drawn?.cells.find((o) => x >= o.left && x <= o.left + o.width && y >= o.bottom && y <= o.bottom + o.height)
  if (!c) return false
  const fields = (desk.document?.fields ?? {}) as Record<string, string>
  if (c.field in fields && !desk.sheet?.subject) {
    editing.value = c
    text.value = fields[c.field] || (c.blank ? '' : c.value)
    void nextTick(() => input.value?.select())
  } else if (c.field === 'mass' || c.field.startsWith('own:') || (desk.sheet?.subject && c.field in fields)) {
    void router.push({ name: 'model', params: { id: desk.drawing!.model } })
  } else desk.problem = `${c.label} follows from the drawing; it is changed where it belongs.`
  return true
}
function done() {
  const c = editing.value
  editing.value = null
  if (!c) return
  const fields = (desk.document?.fields ?? {}) as Record<string, string>
  if (text.value.trim() !== fields[c.field]) void desk.edit({ command: 'change_fields', fields: { [c.field]: text.value.trim() } })
}
defineExpose({ open })
const px = (c: { left: number; bottom: number; width: number; height: number }) => ({
  left: `${props.camera.left + c.left * props.camera.zoom}px`,
  top: `${props.camera.top + (props.height - c.bottom - c.height) * props.camera.zoom}px`,
  width: `${c.width * props.camera.zoom}px`,
  height: `${c.height * props.camera.zoom}px`,
  fontSize: `${Math.max(3.2 * props.camera.zoom, 7)}px`,
})
</script>

<template>
  <template v-for="c in desk.drawn?.cells ?? []" :key="`${c.left} ${c.bottom}`">
    <span v-if="c.blank && !c.value && editing?.field !== c.field" class="blank" :style="px(c)" data-test="placeholder">{{ c.label.toLowerCase() }}</span>
  </template>
  <input v-if="editing" ref="input" v-model="text" class="fill" maxlength="400" :style="{ ...px(editing), fontSize: '13px' }" :aria-label="editing.label" data-test="fill-cell" @pointerdown.stop @dblclick.stop @keydown.stop @keydown.enter="done" @keydown.esc="editing = null" @blur="done" />
</template>

<style scoped>
.blank {
  position: absolute;
  display: grid;
  place-items: center;
  color: #b4aec2;
  pointer-events: none;
  overflow: hidden;
  white-space: nowrap;
}
.fill {
  position: absolute;
  min-width: 90px;
  min-height: 24px;
  font: inherit;
  border: 1px solid var(--accent);
  background: #fff;
  color: #23211f;
  padding: 0 4px;
}
</style>
