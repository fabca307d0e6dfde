<script setup lang="ts">
// While an underlay is scaled: how far the two points are apart.
import { usePickTool } from './pickTool'

const pick = usePickTool()
</script>

<template>
  <div data-test="underlay-scale-tool">
    <h2>Scale by two points</h2>
    <p class="quiet sub">Say how far two points of the underlay are apart, then pick them; the first one stays where it is.</p>
    <div class="row">
      <label for="underlay-distance">Distance, mm</label>
      <el-input-number id="underlay-distance" :model-value="Number(pick.settings.distance) || undefined" :min="0.001" :max="1000000" controls-position="right" data-test="underlay-distance" @change="(v) => (pick.settings = { ...pick.settings, distance: v ?? 0 })" />
    </div>
  </div>
</template>
