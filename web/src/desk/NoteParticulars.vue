<script setup lang="ts">
// A note: what is made from its data, and its leaders.
import { computed } from 'vue'
import KindParticulars from './KindParticulars.vue'
import { useDesk } from './store'
import { useTools } from './tools'

const props = defineProps<{ id: string }>()
const desk = useDesk()
const tools = useTools()
const leaders = computed(() => {
  const a = desk.annotation(props.id)
  return a?.kind === 'note' ? (a.tips?.length ?? 0) : 0
})
const fewer = () => desk.edit({ command: 'change', ids: [props.id], values: { leaders: leaders.value - 1 } })
</script>

<template>
  <KindParticulars :id="id">
    <div v-if="leaders" class="row">
      <label>Leaders</label>
      <span class="leaders">
        {{ leaders }}
        <el-button size="small" data-test="leader-more" @click="tools.take('further_leader')">Add</el-button>
        <el-button size="small" :disabled="leaders < 2" data-test="leader-fewer" @click="fewer">Less</el-button>
      </span>
    </div>
  </KindParticulars>
</template>

<style scoped>
.leaders {
  display: flex;
  align-items: center;
  gap: 8px;
}
.leaders .el-button + .el-button {
  margin-left: 0;
}
</style>
