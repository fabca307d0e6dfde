<script setup lang="ts">
// The shelf: drawings and models as cards, running jobs, and a drop place for models everywhere on the page.
import { computed, onBeforeUnmount, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, data, uploadModels, type DrawingCard, type JobState, type ModelCard } from '@/api/client'
import HeadBar from '@/components/HeadBar.vue'
import JobRow from '@/components/JobRow.vue'
import ModelPicture from '@/components/ModelPicture.vue'
import { when } from '@/words'

const router = useRouter()
const drawings = ref<DrawingCard[]>([])
const models = ref<ModelCard[]>([])
const jobs = ref<JobState[]>([])
const tab = ref<'drawings' | 'models'>('drawings')
const search = ref('')
const problem = ref('')
const dropping = ref(false)
const loaded = ref(false)
const picker = ref<HTMLInputElement>()
const STATES: Record<string, string> = { check: 'for check', released: 'released', withdrawn: 'withdrawn' }
let timer = 0

const matches = (...texts: string[]) => texts.join(' ').toLowerCase().includes(search.value.trim().toLowerCase())
const shownDrawings = computed(() => drawings.value.filter((d) => matches(d.name, d.number, d.model, d.standard)))
const shownModels = computed(() => models.value.filter((m) => matches(m.name, m.number, m.kind)))
const shownJobs = computed(() => jobs.value.filter((j) => j.kind === 'read'))

async function load() {
  const [d, m] = await Promise.all([data(api.GET('/api/drawings')), data(api.GET('/api/models'))])
  drawings.value = d
  models.value = m
  loaded.value = true
}

async function watchJobs() {
  const before = new Map(jobs.value.map((j) => [j.id, j.state]))
  try {
    jobs.value = await data(api.GET('/api/jobs'))
    const finished = jobs.value.some((j) => j.state === 'done' && ['waiting', 'running'].includes(before.get(j.id) ?? ''))
    if (finished) await load()
    problem.value = ''
  } catch (error) {
    problem.value = (error as Error).message
  }
  const active = jobs.value.some((j) => j.state === 'waiting' || j.state === 'running')
  timer = window.setTimeout(watchJobs, active ? 250 : 3000)
}

async function bringIn(files: FileList | File[] | null | undefined) {
  const all = Array.from(files ?? [])
  if (all.length) {
    try {
      const job = await uploadModels(all)
      jobs.value = [job, ...jobs.value]
      tab.value = 'models'
    } catch (error) {
      problem.value = (error as Error).message
    }
  }
  window.clearTimeout(timer)
  await watchJobs()
}

async function bringPicked() {
  await bringIn(picker.value?.files)
  if (picker.value) picker.value.value = ''
}

function drop(event: DragEvent) {
  dropping.value = false
  void bringIn(event.dataTransfer?.files)
}

async function dismiss(job: JobState) {
  jobs.value = jobs.value.filter((j) => j.id !== job.id)
  await api.DELETE('/api/jobs/{job_id}', { params: { path: { job_id: job.id } } })
}

async function adopt(job: JobState) {
  try {
    const next = await data(api.POST('/api/models/{model_id}/versions/adopt', { params: { path: { model_id: job.result.like } }, body: { fresh: job.result.model } }))
    await dismiss(job)
    jobs.value = [next, ...jobs.value]
  } catch (error) {
    problem.value = (error as Error).message
  }
}

function openJob(job: JobState) {
  if (job.result.model) void router.push({ name: 'model', params: { id: job.result.model } })
}

onMounted(async () => {
  document.title = 'Shelf · Moorcrest'
  try {
    await load()
  } catch (error) {
    problem.value = (error as Error).message
  }
  await watchJobs()
})
onBeforeUnmount(() => window.clearTimeout(timer))
</script>

<template>
  <div class="page" @dragover.prevent="dropping = true" @dragleave.self="dropping = false" @drop.prevent="drop">
    <HeadBar />
    <main class="shelf">
      <div class="top">
        <h1>Shelf</h1>
        <span class="space" />
        <el-input v-model="search" class="find" placeholder="Find a drawing, a part, a number" clearable data-test="find" />
        <el-button type="primary" data-test="bring-in" @click="picker?.click()">Bring in a model</el-button>
        <input ref="picker" type="file" hidden multiple accept=".step,.stp,.json,.zip" @change="bringPicked" />
      </div>
      <div class="drop" :class="{ dropping }">
        <span class="quiet">{{ dropping ? 'Let go to bring it in' : 'Drop a STEP file, a recipe, or all files of an assembly (also as a zip) anywhere on this page' }}</span>
        <JobRow v-for="job in shownJobs" :key="job.id" :job="job" @dismiss="dismiss(job)" @open="openJob(job)" @adopt="adopt(job)" />
      </div>
      <p v-if="problem" class="fault-note" role="alert">{{ problem }}</p>
      <div class="tabs" role="tablist">
        <button role="tab" :aria-selected="tab === 'drawings'" @click="tab = 'drawings'">Drawings {{ loaded ? drawings.length : '' }}</button>
        <button role="tab" :aria-selected="tab === 'models'" data-test="tab-models" @click="tab = 'models'">Models {{ loaded ? models.length : '' }}</button>
      </div>
      <div v-if="tab === 'drawings'" class="cards">
        <RouterLink v-for="d in shownDrawings" :key="d.id" class="card" :to="{ name: 'desk', params: { id: d.id } }" data-test="drawing-card">
          <span class="picture"><img :src="`/api/drawings/${d.id}/thumbnail.svg?v=${d.version}`" alt="" loading="lazy" /></span>
          <span class="title"><b>{{ d.number }}</b> {{ d.name }}</span>
          <span class="line"><span class="quiet">{{ d.standard }} · {{ d.size }} · {{ when(d.updated) }}</span><span v-if="d.state !== 'work'" class="state" :class="d.state">{{ STATES[d.state] }}</span><span v-else-if="d.behind" class="open" data-test="behind">model has moved on</span><span v-else :class="d.open ? 'open' : 'ready'">{{ d.open ? `${d.open} open` : 'ready' }}</span></span>
        </RouterLink>
        <p v-if="loaded && !shownDrawings.length" class="empty quiet">
          {{ search ? 'No drawing matches.' : 'No drawings yet. Bring in a model, open it, and start one from its page.' }}
        </p>
      </div>
      <div v-else class="cards">
        <RouterLink v-for="m in shownModels" :key="m.id" class="card" :to="{ name: 'model', params: { id: m.id } }" data-test="model-card">
          <span class="picture"><ModelPicture :id="m.id" /></span>
          <span class="title"><b>{{ m.number }}</b> {{ m.name }}</span>
          <span class="quiet">{{ m.kind }} · {{ m.units }} · {{ m.drawings === 1 ? '1 drawing' : `${m.drawings} drawings` }}</span>
        </RouterLink>
        <p v-if="loaded && !shownModels.length" class="empty quiet">{{ search ? 'No model matches.' : 'No models yet. Drop a STEP file here.' }}</p>
      </div>
    </main>
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  display: flex;
  flex-direction: column;
}
.shelf {
  flex: 1;
  overflow: auto;
  padding: 20px 40px 40px;
}
.top {
  display: flex;
  align-items: center;
  gap: 12px;
  margin-bottom: 16px;
}
.space {
  flex: 1;
}
.find {
  width: 300px;
}
.drop {
  border: 1px dashed #a9aaa0;
  border-radius: 6px;
  padding: 12px 16px;
  display: grid;
  gap: 8px;
}
.dropping {
  border-color: var(--accent);
  background: var(--accent-ground);
}
.tabs {
  display: flex;
  gap: 28px;
  margin: 20px 0 12px;
}
.tabs button {
  padding: 4px 2px 6px;
  color: var(--quiet);
  border-bottom: 2px solid transparent;
}
.tabs button[aria-selected='true'] {
  color: var(--accent);
  font-weight: 600;
  border-color: var(--accent);
}
.cards {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(270px, 1fr));
  gap: 18px;
}
.card {
  background: var(--panel);
  border: 1px solid var(--line);
  border-radius: 6px;
  overflow: hidden;
  display: grid;
  padding-bottom: 10px;
}
.card:hover {
  border-color: var(--light);
  box-shadow: var(--shadow);
}
.card > span {
  padding: 0 12px;
}
.card > .picture {
  background: var(--paper);
  padding: 6px;
  height: 204px;
  margin-bottom: 8px;
}
.picture img {
  width: 100%;
  height: 100%;
  object-fit: contain;
}
.line {
  display: flex;
  justify-content: space-between;
}
.open,
.state,
.ready {
  font-weight: 600;
  font-size: 12px;
}
.withdrawn {
  color: var(--fault);
}
.open,
.check {
  color: var(--attention);
}
.released,
.ready {
  color: var(--good);
}
.title {
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
}
.empty {
  grid-column: 1/-1;
  padding: 40px 0;
  text-align: center;
}
</style>
