<script setup lang="ts">
// One job with its progress, or how it ended.
import type { JobState } from '@/api/client'

defineProps<{ job: JobState }>()
defineEmits<{ dismiss: []; open: []; adopt: [] }>()
</script>

<template>
  <div class="job" :data-state="job.state" data-test="job">
    <span class="subject">{{ job.subject }}</span>
    <template v-if="job.state === 'failed'">
      <span class="why" role="alert">{{ job.text }}</span>
      <button class="link" @click="$emit('dismiss')">Clear away</button>
    </template>
    <template v-else-if="job.state === 'done'">
      <span v-if="job.result.like" class="quiet">A model with {{ job.result.as }} is there already.</span>
      <span v-else class="good">{{ job.result.sorted ? `sorted into ${job.result.sorted} models` : 'read' }}</span>
      <button v-if="job.result.like" class="link" data-test="job-adopt" @click="$emit('adopt')">Make it the next version</button>
      <button v-if="job.result.model" class="link" data-test="job-open" @click="$emit('open')">{{ job.result.like ? 'Open it as a model by itself' : 'Open' }}</button>
      <button class="link" @click="$emit('dismiss')">Clear away</button>
    </template>
    <template v-else>
      <progress :value="job.progress" max="1" />
      <span class="quiet">{{ job.text || 'waiting for a worker' }}</span>
      <button class="link" data-test="job-stop" @click="$emit('dismiss')">Stop</button>
    </template>
  </div>
</template>

<style scoped>
.job {
  display: flex;
  align-items: baseline;
  gap: 12px;
}
.subject {
  font-weight: 600;
}
.why {
  color: var(--fault);
}
.good {
  color: var(--good);
}
.link {
  color: var(--accent);
  text-decoration: underline;
}
progress {
  width: 160px;
  height: 6px;
  appearance: none;
  border: 0;
  border-radius: 3px;
  overflow: hidden;
  background: var(--line);
  align-self: center;
}
progress::-webkit-progress-bar {
  background: var(--line);
}
progress::-webkit-progress-value {
  background: var(--accent);
}
</style>
