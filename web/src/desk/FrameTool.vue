<script setup lang="ts">
// A control frame in hand: what it says, chosen among what makes sense there, or typed.
import { computed } from 'vue'
import TextField from '@/components/TextField.vue'
import { usePickTool } from './pickTool'

const pick = usePickTool()
const options = computed(() => pick.preview?.options ?? [])
function choose(characteristic: string) {
  pick.settings = { ...pick.settings, line: '', datums: '', characteristic }
  pick.again()
}
function type(line: string) {
  pick.settings = { ...pick.settings, line }
  pick.again()
}
</script>

<template>
  <div data-test="frame-tool">
    <h2>Control frame</h2>
    <p class="quiet sub">{{ pick.preview?.texts[0] ?? 'point at what is toleranced' }}</p>
    <div class="row">
      <label for="frame-line">As typed</label>
      <TextField id="frame-line" :value="String(pick.settings.line ?? '')" placeholder="pos d0.1m a b c" data-test="frame-line" @change="type" />
    </div>
    <div class="row">
      <label for="frame-characteristic">Or choose</label>
      <el-select id="frame-characteristic" :model-value="pick.preview?.option ?? ''" :disabled="!options.length" data-test="frame-characteristic" @change="choose">
        <el-option v-for="o in options" :key="o" :value="o" :label="o" />
      </el-select>
    </div>
    <p v-if="pick.preview?.note" class="note-of" data-test="frame-note">{{ pick.preview.note }}</p>
    <p class="section quiet">A characteristic in a few letters, d for Ø, the value, then m, l, f, t, (p 20), (u 0.05), /100, cz; then datums: a b(m) c, a-b, or click their symbols; {int par a} beside it. Rows are parted by ;</p>
  </div>
</template>

<style scoped>
.note-of {
  color: var(--attention);
}
</style>
