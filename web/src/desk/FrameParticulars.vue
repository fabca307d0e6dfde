<script setup lang="ts">
// A control frame: the line it is typed as, what its datums leave free, and what is to be said of it.
import { computed } from 'vue'
import TextField from '@/components/TextField.vue'
import KindParticulars from './KindParticulars.vue'
import FrameNumbers from './FrameNumbers.vue'
import { useDesk } from './store'

const props = defineProps<{ id: string }>()
const desk = useDesk()
const ink = computed(() => desk.drawn?.annotations.find((a) => a.id === props.id))
const warnings = computed(() => (desk.drawn?.warnings ?? []).filter((w) => w.views.includes(props.id)).map((w) => w.text).filter((t) => !t.startsWith('No basic size'))) // these are listed below
const says = (line: string) => desk.edit({ command: 'change', ids: [props.id], values: { says: line } })
</script>

<template>
  <KindParticulars :id="id">
    <div class="row">
      <label for="frame-says">As typed</label>
      <TextField id="frame-says" :value="ink?.says ?? ''" data-test="frame-says" @change="says" />
    </div>
    <p v-if="ink?.applies" class="quiet" data-test="frame-free">Its datums hold {{ ink.applies }}.</p>
    <p v-for="w in warnings" :key="w" class="remark">{{ w }}</p>
    <FrameNumbers :id="id" />
  </KindParticulars>
</template>

<style scoped>
.remark {
  color: var(--attention);
}
</style>
