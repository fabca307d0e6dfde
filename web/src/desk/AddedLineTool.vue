<script setup lang="ts">
// While lines are added: what form they have, and their kind of line.
import { FORMS } from './kinds/added_line'
import { LINES } from './lines'
import { usePickTool } from './pickTool'

const pick = usePickTool()
const NAMES: Record<string, string> = { line: 'Line', polyline: 'Polyline', circle: 'Circle', arc: 'Arc', tangent: 'Tangent circle' }
function choose(form: string) {
  pick.back()
  pick.settings = { ...pick.settings, form, other: false }
}
</script>

<template>
  <div data-test="added-line-tool">
    <h2>Added line</h2>
    <p class="quiet sub">What it is drawn on, it is tied to; nearly level or upright lines are held so.</p>
    <div class="choices forms">
      <el-button v-for="f in FORMS" :key="f" :class="{ on: pick.settings.form === f }" :aria-pressed="pick.settings.form === f" :data-test="`form-${f}`" @click="choose(f)">{{ NAMES[f] }}</el-button>
    </div>
    <div class="row">
      <label for="added-line-kind">Kind of line</label>
      <el-select id="added-line-kind" :model-value="String(pick.settings.line)" data-test="added-line-kind" @change="(v: string) => (pick.settings = { ...pick.settings, line: v })">
        <el-option v-for="l in LINES" :key="l" :value="l" />
      </el-select>
    </div>
  </div>
</template>

<style scoped>
.forms {
  margin-bottom: 10px;
}
</style>
