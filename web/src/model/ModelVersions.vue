<script setup lang="ts">
// The versions of a model: each with who, when, what changed and the drawings that show it; the next one is dropped here.
import { onMounted, ref } from 'vue'
import { api, data, ended, uploadTo, Problem, type Schemas } from '@/api/client'
import { useAttempt } from '@/api/attempt'
import TextField from '@/components/TextField.vue'
import { when } from '@/words'

const props = defineProps<{ id: string }>()
const emit = defineEmits<{ changed: [] }>()
const rows = ref<Schemas['VersionRow'][]>([])
const { busy, problem, attempt } = useAttempt()
const picker = ref<HTMLInputElement>()

async function load() {
  rows.value = await data(api.GET('/api/models/{model_id}/versions', { params: { path: { model_id: props.id } } }))
  outdated.value = await data(api.GET('/api/models/{model_id}/outdated', { params: { path: { model_id: props.id } } }))
}
const bringIn = (files: FileList | null | undefined) =>
  attempt('reading', async () => {
    const all = Array.from(files ?? [])
    if (!all.length) return
    if (all.length > 1) throw new Problem('One file at a time is a version.', 422)
    const end = await ended(await uploadTo(`/api/models/${props.id}/versions`, all[0]))
    if (end.state === 'failed') throw new Problem(end.text, 422)
    await load()
    emit('changed')
  })
async function picked() {
  await bringIn(picker.value?.files)
  if (picker.value) picker.value.value = ''
}
const call = (number: number, label: string) =>
  attempt('', async () => {
    rows.value = await data(api.POST('/api/models/{model_id}/versions/{number}/label', { params: { path: { model_id: props.id, number } }, body: { label } }))
  })
const outdated = ref<Schemas['Outdated']>()
const moved = ref('')
const bringAll = () =>
  attempt('bringing', async () => {
    const job = await ended(await data(api.POST('/api/models/{model_id}/bring-all', { params: { path: { model_id: props.id } } })))
    if (job.state === 'failed') throw new Problem(job.text, 422)
    moved.value = job.result.said
    await load()
  })
const takeBack = (number: number) =>
  attempt('', async () => {
    rows.value = await data(api.DELETE('/api/models/{model_id}/versions/{number}', { params: { path: { model_id: props.id, number } } }))
    emit('changed')
  })
defineExpose({ bringIn })
onMounted(() => attempt('', load))
</script>

<template>
  <section data-test="versions">
    <h2>Versions</h2>
    <div v-for="r in rows" :key="r.number" class="version" :data-test="`version-${r.number}`">
      <div class="head">
        <b>{{ r.number }}</b>
        <TextField class="label" :value="r.label" placeholder="no name" :aria-label="`Name of version ${r.number}`" :data-test="`version-name-${r.number}`" @change="(v) => call(r.number, v)" />
        <span class="quiet">{{ when(r.at) }}{{ r.by ? `, ${r.by}` : '' }}</span>
      </div>
      <p class="quiet">{{ r.file_name }}{{ r.number > 1 ? `; ${Math.round(r.share * 100)} % of the faces found again` : '' }}</p>
      <p v-if="r.warning" class="attention-note">{{ r.warning }}</p>
      <p v-for="(s, n) in r.said.slice(0, 8)" :key="n">{{ s }}</p>
      <p v-if="r.said.length > 8" class="quiet">and {{ r.said.length - 8 }} more</p>
      <p v-if="r.drawings.length" class="quiet">
        shown by <RouterLink v-for="d in r.drawings" :key="d.id" class="shown" :to="{ name: 'desk', params: { id: d.id } }">{{ d.title }}</RouterLink>
      </p>
      <button v-if="r.can_take_back" class="link" :data-test="`take-back-${r.number}`" @click="takeBack(r.number)">Take it back</button>
    </div>
    <div v-if="outdated?.drawings.length || outdated?.assemblies.length || outdated?.parts.length" class="version" data-test="outdated">
      <p class="attention-note">{{ outdated.parts.length ? 'Its parts have moved on.' : 'The model has moved on.' }}</p>
      <p v-if="outdated.parts.length">In a version that came after it was built: {{ outdated.parts.join(', ') }}.</p>
      <p v-if="outdated.drawings.length">An earlier version is shown by {{ outdated.drawings.map((d) => d.title).join(', ') }}.</p>
      <p v-if="outdated.assemblies.length">Built of an earlier version: {{ outdated.assemblies.join(', ') }}.</p>
      <el-button :loading="busy === 'bringing'" data-test="bring-all" @click="bringAll">Bring all along</el-button>
    </div>
    <p v-if="moved" class="quiet" role="status" data-test="brought-all">{{ moved }}</p>
    <p v-if="problem" class="fault-note" role="alert" data-test="version-problem">{{ problem }}</p>
    <el-button :loading="busy === 'reading'" data-test="bring-version" @click="picker?.click()">Bring in a version</el-button>
    <p class="quiet">or drop its file on this page</p>
    <input ref="picker" type="file" hidden accept=".step,.stp,.json,.zip" data-test="version-file" @change="picked" />
  </section>
</template>

<style scoped>
.version {
  border-top: 1px solid var(--line);
  padding: 6px 0;
}
.version p {
  margin: 2px 0;
}
.head {
  display: flex;
  align-items: center;
  gap: 8px;
}
.label {
  flex: 1;
  min-width: 0;
}
.link {
  color: var(--accent);
  text-decoration: underline;
}
.shown {
  margin-right: 8px;
}
</style>
