<script setup lang="ts">
// A stack-up in hand: those that the drawing has.
import { computed } from 'vue'
import { useDesk } from './store'
import { useTools } from './tools'

const desk = useDesk()
const tools = useTools()
const all = computed(() => (desk.sheet?.annotations ?? []).flatMap((a) => (a.kind === 'stack_up' ? [{ id: a.id, text: desk.drawn?.annotations.find((i) => i.id === a.id) }] : [])))
function choose(id: string) {
  tools.start('select')
  desk.selected = [{ kind: 'annotation', id }]
}
</script>

<template>
  <div data-test="stack-tool">
    <h2>Stack-up</h2>
    <p class="quiet sub">how large the gap between two surfaces can be</p>
    <template v-if="all.length">
      <h3>On this sheet</h3>
      <p v-for="s in all" :key="s.id"><el-button class="wide" :class="{ lost: s.text?.lost }" @click="choose(s.id)">{{ s.text?.text || s.text?.lost }}</el-button></p>
    </template>
    <p class="section quiet">The chain goes along the sizes that are drawn, and across parts that touch; a shaft may shift in its bore. Basic sizes count with the position or profile of what they locate.</p>
  </div>
</template>

<style scoped>
.wide {
  width: 100%;
  height: auto;
  padding: 6px 10px;
  white-space: normal;
  text-align: left;
}
.lost {
  color: var(--fault);
}
</style>
