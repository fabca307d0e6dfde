<script setup lang="ts">
// While a center tool is in hand: which circles are worth a center, and all of them at once.
import { centerEverything, leastCentered } from './centerActions'
import { usePickTool } from './pickTool'
import { useDesk } from './store'

const pick = usePickTool()
const desk = useDesk()
const inch = () => desk.document?.profile.units === 'in'
const MM = 25.4
</script>

<template>
  <div v-if="pick.steps">
    <h2>{{ pick.steps.action.name }}</h2>
    <p class="quiet sub">The prompt below says what comes next.</p>
    <div class="section">
      <p class="quiet">Or everything the views of this sheet lack. Circles smaller than this stay without:</p>
      <div class="row">
        <label>Smallest Ø, {{ inch() ? 'in' : 'mm' }}</label>
        <el-input-number :model-value="inch() ? leastCentered / MM : leastCentered" :min="0" :max="10000" :step="inch() ? 0.125 : 1" controls-position="right" data-test="least" @change="(v) => (leastCentered = (v ?? 0) * (inch() ? MM : 1))" />
      </div>
      <el-button data-test="all-centers" @click="centerEverything()">Center everything</el-button>
    </div>
  </div>
</template>
