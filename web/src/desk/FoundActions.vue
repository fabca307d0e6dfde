<script setup lang="ts">
// What can be done about a finding: its remedies, and that it is meant so, with the reason.
import { nextTick, ref } from 'vue'
import { when } from '@/words'
import { useFindings, type Found } from './findings'
import { useDesk } from './store'

const props = defineProps<{ found: Found | undefined }>()
const desk = useDesk()
const findings = useFindings()
const writing = ref(false)
const reason = ref('')
const field = ref<HTMLInputElement>()
const fixed = () => desk.drawing?.state !== 'work'
async function write() {
  writing.value = true
  await nextTick()
  field.value?.focus()
}
async function keep() {
  if (props.found && (await findings.mean(props.found, reason.value))) {
    writing.value = false
    reason.value = ''
  }
}
</script>

<template>
  <span v-if="found" class="can">
    <template v-if="found.meant">
      <span class="quiet">It is meant: {{ found.meant.reason }} <small>{{ found.meant.by }}, {{ when(found.meant.at) }}</small></span>
      <button class="link" data-test="found-open" @click="findings.reopen(found)">Open again</button>
    </template>
    <template v-else-if="writing">
      <input ref="field" v-model="reason" class="field" maxlength="400" placeholder="Why is it meant so?" aria-label="Why it is meant so" data-test="meant-reason" @keydown.enter="keep" @keydown.esc.stop="writing = false" />
      <el-button size="small" type="primary" :disabled="!reason.trim()" data-test="meant-keep" @click="keep">Keep</el-button>
    </template>
    <template v-else>
      <el-button v-for="r in fixed() ? [] : found.remedies" :key="r.label" size="small" :data-test="`mend-${r.label}`" @click="findings.mend(found, r)">{{ r.label }}</el-button>
      <button class="link quiet" data-test="meant" @click="write">It is meant</button>
    </template>
  </span>
</template>

<style scoped>
.can {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 2px 8px;
  padding: 0 4px 4px;
}
.can :deep(.el-button + .el-button) {
  margin-left: 0;
}
.field {
  font: inherit;
  color: inherit;
  flex: 1;
  min-width: 0;
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 2px 8px;
  background: var(--field);
}
.link {
  text-decoration: underline;
}
</style>
