<script setup lang="ts">
// A size set on the model: its recipe is changed, the model gets its next version, and the drawing can be brought along.
import { computed, ref } from 'vue'
import { api, data, ended, Problem } from '@/api/client'
import { useAttempt } from '@/api/attempt'
import TextField from '@/components/TextField.vue'
import { useDesk } from './store'

const props = defineProps<{ id: string; angular: boolean }>()
const desk = useDesk()
const done = ref('')
const { busy, problem, attempt } = useAttempt()
const unit = computed(() => (props.angular ? '°' : (desk.document?.profile.units ?? 'mm')))

const set = (typed: string) =>
  attempt('building', async () => {
    done.value = ''
    if (!typed.trim()) return
    const value = Number(typed.trim().replace(',', '.').replace('°', ''))
    if (!Number.isFinite(value) || value <= 0) throw new Problem('A size is a number above 0.', 422)
    const path = { drawing_id: desk.drawing!.id, annotation_id: props.id }
    const job = await ended(await data(api.POST('/api/drawings/{drawing_id}/sizes/{annotation_id}/model-value', { params: { path }, body: { value } })))
    if (job.state === 'failed') throw new Problem(job.text, 422)
    done.value = job.result.said
    await desk.again()
  })
</script>

<template>
  <div class="row">
    <label>On the model</label>
    <TextField value="" :placeholder="busy ? 'building it …' : `make it another, ${unit}`" data-test="model-value" @change="set" />
  </div>
  <p v-if="problem" class="fault-note" role="alert" data-test="model-value-problem">{{ problem }}</p>
  <p v-if="done" class="quiet sub" role="status" data-test="model-value-done">{{ done }} Bring the drawing along above.</p>
</template>
