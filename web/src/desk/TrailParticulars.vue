<script setup lang="ts">
// One trail line of an exploded view: of which parts, and whether it runs beside its own line.
import { computed } from 'vue'
import { useDesk } from './store'

const props = defineProps<{ view: string; parts: string[] }>()
const desk = useDesk()
const shifts = computed(() => desk.view(props.view)?.trail_shifts ?? {})
const moved = computed(() => props.parts.some((p) => shifts.value[p]))
function back() {
  const kept = Object.fromEntries(Object.entries(shifts.value).filter(([p]) => !props.parts.includes(p)))
  void desk.edit({ command: 'change_view', view: props.view, trail_shifts: kept })
}
</script>

<template>
  <div data-test="trail-particulars">
    <h2>Trail line</h2>
    <p class="quiet sub">from where {{ parts.length === 1 ? 'the part belongs' : 'the parts belong' }} to where {{ parts.length === 1 ? 'it is' : 'they are' }} drawn; drag it to move it aside</p>
    <dl><dt>Of</dt><dd>{{ parts.join(', ') }}</dd></dl>
    <div class="choices">
      <el-button v-if="moved" data-test="trail-back" @click="back">Put it back in line</el-button>
      <el-button data-test="remove" @click="desk.removeSelected()">Leave it out</el-button>
    </div>
  </div>
</template>
