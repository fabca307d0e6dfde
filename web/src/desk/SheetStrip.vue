<script setup lang="ts">
// The sheets of the drawing as small live pictures: chosen by a click, put in order by dragging, renamed, copied and removed.
import { computed, nextTick, onBeforeUnmount, ref, shallowReactive, watch } from 'vue'
import { useSortable } from '@vueuse/integrations/useSortable'
import type { Sheet } from '@/api/client'
import { useDesk } from './store'
import { stampOf } from './stamps'

const desk = useDesk()
const pictures = shallowReactive(new Map<string, { stamp: string; url: string }>())
const naming = ref('')
const name = ref('')
const strip = ref<HTMLElement>()
const timers = new Map<string, number>()
const sheets = computed(() => desk.document?.sheets ?? [])
const assembly = computed(() => desk.drawing?.model_kind === 'assembly')

/** Fetch a sheet's picture where what it shows has changed, and again while views of it are being derived. */
async function picture(sheet: Sheet, again = false) {
  const stamp = stampOf(sheet, desk.document!)
  if (!again && pictures.get(sheet.id)?.stamp === stamp) return
  const old = pictures.get(sheet.id)
  pictures.set(sheet.id, { stamp, url: old?.url ?? '' })
  const answer = await fetch(`/api/drawings/${desk.drawing!.id}/thumbnail.svg?sheet=${encodeURIComponent(sheet.id)}`, { cache: 'no-store' }).catch(() => null)
  if (!answer?.ok || pictures.get(sheet.id)?.stamp !== stamp) return
  const url = URL.createObjectURL(await answer.blob())
  if (old?.url) URL.revokeObjectURL(old.url)
  pictures.set(sheet.id, { stamp, url })
  window.clearTimeout(timers.get(sheet.id))
  if (Number(answer.headers.get('X-Waiting'))) timers.set(sheet.id, window.setTimeout(() => void picture(sheet, true), 1200))
}
watch(
  () => [desk.drawing?.version, desk.drawing?.id],
  () => sheets.value.forEach((s) => void picture(s)),
  { immediate: true },
)
onBeforeUnmount(() => {
  timers.forEach((t) => window.clearTimeout(t))
  pictures.forEach((p) => p.url && URL.revokeObjectURL(p.url))
})

async function rename(sheet: Sheet) {
  naming.value = sheet.id
  name.value = sheet.name
  await nextTick()
  strip.value?.querySelector('input')?.select()
}
function named(sheet: Sheet) {
  const text = name.value.trim()
  naming.value = ''
  if (text && text !== sheet.name) void desk.edit({ command: 'change_sheet', sheet: sheet.id, name: text })
}
async function add() {
  if (await desk.edit({ command: 'add_sheet', after: desk.sheet!.id })) {
    const at = sheets.value.findIndex((s) => s.id === desk.sheet!.id)
    await desk.showSheet(sheets.value[at + 1].id)
  }
}
function remove(sheet: Sheet) {
  void desk.edit({ command: 'remove_sheet', sheet: sheet.id })
}

// ---- putting in order -------------------------------------------------------------------------------------------
useSortable(strip, sheets, {
  draggable: '.sheet',
  filter: 'input, button',
  preventOnFilter: false,
  forceFallback: true,
  fallbackTolerance: 6,
  animation: 120,
  ghostClass: 'held',
  onUpdate: ({ item, oldDraggableIndex: from, newDraggableIndex: to }) => {
    // the sheet goes back where it was: its new place comes with the drawing, once that is kept
    const others = [...strip.value!.querySelectorAll('.sheet')].filter((e) => e !== item)
    strip.value!.insertBefore(item, others[from!] ?? strip.value!.querySelector('.adding'))
    void desk.edit({ command: 'move_sheet', sheet: item.dataset.stripSheet!, place: to! })
  },
})
function key(event: KeyboardEvent, i: number) {
  const step = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
  if (event.key === 'Enter') void desk.showSheet(sheets.value[i].id)
  else if (event.key === 'F2') void rename(sheets.value[i])
  else if (step && event.altKey) void desk.edit({ command: 'move_sheet', sheet: sheets.value[i].id, place: Math.max(i + step, 0) })
  else if (step) (strip.value?.querySelectorAll<HTMLElement>('.sheet')[i + step] ?? null)?.focus()
  else return
  event.preventDefault()
  event.stopPropagation()
}
</script>

<template>
  <div ref="strip" class="strip" data-test="strip" aria-label="Sheets of the drawing">
    <div
      v-for="(s, i) in sheets" :key="s.id" class="sheet" :class="{ on: s.id === desk.sheet?.id }" tabindex="0"
      role="button" :aria-label="`Sheet ${i + 1}, ${s.name}`" :data-strip-sheet="s.id" @click="desk.showSheet(s.id)" @dblclick="rename(s)" @keydown="key($event, i)"
    >
      <span class="paper" :style="{ aspectRatio: s.landscape ? '1.414' : '0.707' }"><img v-if="pictures.get(s.id)?.url" :src="pictures.get(s.id)!.url" alt="" draggable="false" /></span>
      <input v-if="naming === s.id" v-model="name" maxlength="80" :aria-label="`Name of sheet ${i + 1}`" @click.stop @pointerdown.stop @keydown.stop @keydown.enter="named(s)" @keydown.esc="naming = ''" @blur="naming === s.id && named(s)" />
      <span v-else class="name" :title="s.name">{{ i + 1 }} · {{ s.name || 'unnamed' }}</span>
      <el-dropdown trigger="click" class="more" @click.stop @pointerdown.stop>
        <button :aria-label="`What can be done with sheet ${i + 1}`" :data-test="`sheet-menu-${i + 1}`" @pointerdown.stop @keydown.stop>⋯</button>
        <template #dropdown>
          <el-dropdown-menu>
            <el-dropdown-item @click="rename(s)">Rename</el-dropdown-item>
            <el-dropdown-item @click="desk.edit({ command: 'copy_sheet', sheet: s.id })">Copy</el-dropdown-item>
            <el-dropdown-item :disabled="i === 0" @click="desk.edit({ command: 'move_sheet', sheet: s.id, place: i - 1 })">Move before sheet {{ i }}</el-dropdown-item>
            <el-dropdown-item divided :disabled="sheets.length === 1" @click="remove(s)">Remove</el-dropdown-item>
          </el-dropdown-menu>
        </template>
      </el-dropdown>
    </div>
    <div class="adding">
      <button data-test="strip-add" @click="add">Add a sheet</button>
      <button v-if="assembly" data-test="part-sheets" @click="desk.edit({ command: 'add_part_sheets' })">One for each part</button>
    </div>
  </div>
</template>

<style scoped>
.strip {
  flex: none;
  height: 124px;
  display: flex;
  gap: 8px;
  padding: 8px 16px;
  overflow-x: auto;
  background: var(--panel);
  border-top: 1px solid var(--line);
}
.sheet {
  position: relative;
  flex: none;
  width: 124px;
  display: grid;
  grid-template-rows: 1fr 22px;
  justify-items: center;
  border: 1px solid transparent;
  border-radius: 6px;
  padding: 4px;
  cursor: pointer;
  touch-action: none;
  user-select: none;
}
.sheet.on {
  border-color: var(--light);
  background: var(--accent-ground);
}
.sheet.held {
  opacity: 0.5;
}
.paper {
  height: 76px;
  max-width: 114px;
  background: var(--paper);
  border: 1px solid var(--line);
  display: grid;
  place-items: center;
  overflow: hidden;
}
.paper img {
  width: 100%;
  height: 100%;
  object-fit: contain;
  pointer-events: none;
}
.name,
input {
  width: 100%;
  text-align: center;
  font-size: 12px;
  line-height: 22px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
input {
  font: inherit;
  font-size: 12px;
  border: 1px solid var(--accent);
  border-radius: 4px;
  background: var(--field);
  color: inherit;
}
.more {
  position: absolute;
  right: 4px;
  top: 2px;
}
.more button {
  width: 22px;
  height: 20px;
  border-radius: 4px;
  color: var(--quiet);
  background: var(--panel);
  opacity: 0;
}
.sheet:hover .more button,
.sheet.on .more button,
.more button:focus-visible {
  opacity: 1;
}
.adding {
  display: grid;
  align-content: center;
  gap: 6px;
  flex: none;
  position: sticky;
  right: -16px;
  padding: 0 16px 0 8px;
  background: var(--panel);
}
.adding button {
  padding: 5px 12px;
  border: 1px solid var(--line);
  border-radius: 6px;
  text-align: left;
}
.adding button:hover {
  background: var(--accent-ground);
}
</style>
