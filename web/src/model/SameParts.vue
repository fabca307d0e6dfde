<script setup lang="ts">
// Parts of one shape under different names: offered to be listed as one item, and listed by themselves again.
import { computed, ref } from 'vue'
import { api, data, type ModelPage } from '@/api/client'

const props = defineProps<{ id: string; model: ModelPage }>()
const emit = defineEmits<{ changed: [page: ModelPage] }>()
const problem = ref('')
const part = (key: string) => props.model.parts.find((p) => p.key === key)
const named = (key: string) => [part(key)?.number, part(key)?.name].filter(Boolean).join(' ') || key
const joined = computed(() => Object.keys(props.model.same_as).filter((key) => part(key)))

async function say(parts: string[]) {
  problem.value = ''
  try {
    emit('changed', await data(api.POST('/api/models/{model_id}/same', { params: { path: { model_id: props.id } }, body: { parts } })))
  } catch (error) {
    problem.value = (error as Error).message
  }
}
</script>

<template>
  <div v-for="group in model.alike" :key="group.join()" class="alike" data-test="alike">
    <span>{{ group.map(named).join(', ') }} are one shape.</span>
    <el-button text size="small" data-test="list-as-one" @click="say(group)">List as {{ named(group[0]) }}</el-button>
  </div>
  <div v-for="key in joined" :key="key" class="alike" data-test="joined">
    <span class="quiet">{{ named(key) }} is listed as {{ named(model.same_as[key]) }}.</span>
    <el-button text size="small" data-test="list-apart" @click="say([key])">List it by itself</el-button>
  </div>
  <p v-if="problem" class="fault-note" role="alert">{{ problem }}</p>
</template>

<style scoped>
.alike {
  border-left: 3px solid var(--light);
  padding: 2px 0 2px 8px;
  margin-bottom: 6px;
}
</style>
