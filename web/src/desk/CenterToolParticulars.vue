<script setup lang="ts">
// While a center tool is in hand: which circles are worth a center, and all of them at once.
import { useCenterTools } from './centerTools'
import { useDesk } from './store'

const centers = useCenterTools()
const desk = useDesk()
const NAMES = { mark: 'Center mark', line: 'Center line', bolts: 'Bolt circle', axis: 'Symmetry axis' }
const inch = () => desk.document?.profile.units === 'in'
const MM = 25.4
</script>

<template>
  <div v-if="centers.tool">
    <h2>{{ NAMES[centers.tool] }}</h2>
    <p class="quiet sub">The prompt below says what comes next.</p>
    <div class="section">
      <p class="quiet">Or everything the views of this sheet lack. Circles smaller than this stay without:</p>
      <div class="row">
        <label>Smallest Ø, {{ inch() ? 'in' : 'mm' }}</label>
        <el-input-number :model-value="inch() ? centers.least / MM : centers.least" :min="0" :max="10000" :step="inch() ? 0.125 : 1" controls-position="right" data-test="least" @change="(v) => (centers.least = (v ?? 0) * (inch() ? MM : 1))" />
      </div>
      <el-button data-test="all-centers" @click="centers.everything()">Center everything</el-button>
    </div>
  </div>
</template>

<style scoped>
.row :deep(.el-input-number) {
  width: 100%;
}
</style>
