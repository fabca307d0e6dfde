<script setup lang="ts">
// House styles: what an office sets up once. The list at the left; values, frames and drawings of the chosen one.
import { useEventListener } from '@vueuse/core'
import { computed, onMounted, ref, watch } from 'vue'
import { onBeforeRouteLeave, useRouter } from 'vue-router'
import { api, data, type Schemas } from '@/api/client'
import HeadBar from '@/components/HeadBar.vue'
import FrameEditor from '@/styles/FrameEditor.vue'
import StyleValues from '@/styles/StyleValues.vue'

const props = defineProps<{ id?: string }>()
const router = useRouter()
const rows = ref<Schemas['StyleRow'][]>([])
const page = ref<Schemas['StylePage']>()
const style = ref<Schemas['HouseStyle']>()
const fields = ref<Record<string, string>>({})
const tab = ref<'values' | 'frame' | 'drawings'>('values')
const problem = ref('')
const said = ref('')
const past = ref<string[]>([])
const future = ref<string[]>([])
const dirty = computed(() => !!page.value && JSON.stringify(style.value) !== JSON.stringify(page.value.style))
const behind = computed(() => page.value?.drawings.filter((d) => d.behind) ?? [])

const many = (n: number, what: string) => `${n} ${what}${n === 1 ? '' : 's'}`

async function attempt(work: () => Promise<void>) {
  problem.value = said.value = ''
  try {
    await work()
  } catch (error) {
    problem.value = (error as Error).message
  }
}
function take(p: Schemas['StylePage']) {
  page.value = p
  style.value = JSON.parse(JSON.stringify(p.style))
  past.value = []
  future.value = []
}
const list = async () => void (rows.value = await data(api.GET('/api/styles')))
const open = (id: string) =>
  attempt(async () => {
    take(await data(api.GET('/api/styles/{key}', { params: { path: { key: id } } })))
    document.title = `${page.value!.style.name} · House styles · Moorcrest`
  })
const go = (id: string) => router.push({ name: 'styles', params: { id } })

/** Every change can be taken back until it is kept. */
function change(now: Schemas['HouseStyle']) {
  past.value.push(JSON.stringify(style.value))
  future.value = []
  style.value = now
}
function turn(from: string[], to: string[]) {
  const state = from.pop()
  if (!state) return
  to.push(JSON.stringify(style.value))
  style.value = JSON.parse(state)
}
const keep = () =>
  attempt(async () => {
    const p = page.value!
    take(await data(api.PUT('/api/styles/{key}', { params: { path: { key: p.id } }, body: { version: p.version, style: style.value as never } })))
    await list()
    said.value = behind.value.length ? `Kept. ${many(behind.value.length, 'drawing')} still with the earlier values.` : 'Kept'
    if (behind.value.length) tab.value = 'drawings'
  })
const copy = () =>
  attempt(async () => {
    const made = await data(api.POST('/api/styles', { body: { like: page.value!.id, name: '' } }))
    await list()
    await go(made.id)
  })
const remove = () =>
  attempt(async () => {
    await data(api.DELETE('/api/styles/{key}', { params: { path: { key: page.value!.id } } }))
    await list()
    style.value = undefined
    page.value = undefined
    await go(rows.value[0].id)
  })
const along = (ids: string[]) =>
  attempt(async () => {
    take(await data(api.POST('/api/styles/{key}/along', { params: { path: { key: page.value!.id } }, body: { drawings: ids } })))
    said.value = ids.length === 1 ? 'The drawing has the present values' : `${ids.length} drawings have the present values`
  })
async function sendFile(url: string, file: File) {
  const form = new FormData()
  form.append('file', file)
  const token = document.cookie.match(/csrftoken=([^;]+)/)?.[1] ?? ''
  const answer = await fetch(url, { method: 'POST', body: form, headers: { 'X-CSRFToken': token } })
  const body = await answer.json().catch(() => ({ message: 'The server did not answer.' }))
  if (!answer.ok) throw new Error(body.message)
  return body as Schemas['StylePage']
}
const bring = (event: Event) =>
  attempt(async () => {
    const input = event.target as HTMLInputElement
    const file = input.files?.[0]
    input.value = ''
    if (!file) return
    const made = await sendFile('/api/styles/tools/import', file)
    await list()
    await go(made.id)
  })
const logo = (file: File) =>
  attempt(async () => {
    if (dirty.value) await keep()
    if (problem.value) return
    take(await sendFile(`/api/styles/${page.value!.id}/logo`, file))
    said.value = 'The logo is in'
  })
function key(event: KeyboardEvent) {
  if (!(event.ctrlKey || event.metaKey) || event.key.toLowerCase() !== 'z' || (event.target as HTMLElement).closest('input, textarea')) return
  if (event.shiftKey) turn(future.value, past.value)
  else turn(past.value, future.value)
  event.preventDefault()
}
useEventListener(window, 'keydown', key)
onBeforeRouteLeave(() => !dirty.value || window.confirm('Leave without keeping the changes to this house style?'))
onMounted(() =>
  attempt(async () => {
    fields.value = await data(api.GET('/api/styles/fields'))
    await list()
    await open(props.id || rows.value[0].id)
  }),
)
watch(
  () => props.id,
  (id) => id && open(id),
)
</script>

<template>
  <div class="page">
    <HeadBar><span class="quiet"><RouterLink to="/">Shelf</RouterLink>&ensp;/</span><span>House styles</span></HeadBar>
    <main>
      <nav aria-label="House styles">
        <button v-for="r in rows" :key="r.id" class="style" :class="{ on: r.id === page?.id }" :data-test="`style-${r.name}`" @click="go(r.id)">
          <b>{{ r.name }}</b>
          <small>{{ r.standard }}, {{ r.units }}{{ r.built_in ? ', built in' : '' }}{{ r.departs ? ` · ${many(r.departs, 'departure')}` : '' }}{{ r.drawings ? ` · ${many(r.drawings, 'drawing')}` : '' }}</small>
        </button>
        <label class="bring">Import a house style …<input type="file" accept=".json,application/json" data-test="style-file" @change="bring" /></label>
      </nav>
      <section v-if="page && style" class="work">
        <header>
          <input v-if="!page.built_in" class="name" :value="style.name" maxlength="120" aria-label="Name" data-test="style-name" @change="change({ ...style, name: ($event.target as HTMLInputElement).value, profile: { ...style.profile, title: ($event.target as HTMLInputElement).value } })" />
          <h1 v-else>{{ style.name }}</h1>
          <el-radio-group v-model="tab" size="small">
            <el-radio-button value="values">Values</el-radio-button>
            <el-radio-button value="frame" data-test="tab-frame">Frames</el-radio-button>
            <el-radio-button value="drawings">Drawings {{ page.drawings.length || '' }}</el-radio-button>
          </el-radio-group>
          <span class="space" />
          <el-button data-test="style-copy" @click="copy">Copy</el-button>
          <a class="export" :href="`/api/styles/${page.id}/export`" data-test="style-export">Export</a>
          <el-popconfirm v-if="!page.built_in" title="Remove this house style? Drawings keep their values." confirm-button-text="Remove" cancel-button-text="Keep it" @confirm="remove"><template #reference><el-button text>Remove</el-button></template></el-popconfirm>
          <el-button v-if="!page.built_in" :disabled="!past.length" @click="turn(past, future)">Undo</el-button>
          <el-button v-if="!page.built_in" type="primary" :disabled="!dirty" data-test="style-keep" @click="keep">Keep</el-button>
        </header>
        <p v-if="problem" class="fault-note say" role="alert" data-test="style-problem">{{ problem }}</p>
        <p v-else-if="said" class="say quiet" data-test="style-said">{{ said }}</p>
        <p v-else-if="page.built_in" class="say quiet">A built-in style stays as it is; copy it to make your own.</p>
        <div class="scroll">
          <StyleValues v-if="tab === 'values'" :profile="style.profile" :notes="style.notes ?? []" :standard="page.standard" :fixed="page.built_in" @update:profile="(profile) => change({ ...style!, profile })" @update:notes="(notes) => change({ ...style!, notes })" />
          <FrameEditor v-else-if="tab === 'frame'" :key="page.id" :style="style" :fixed="page.built_in" :fields="fields" @update:style="change" @logo="logo" />
          <div v-else class="drawings">
            <p v-if="!page.drawings.length" class="quiet">No drawing was started from this style yet.</p>
            <el-button v-if="behind.length" type="primary" data-test="bring-along" @click="along(behind.map((d) => d.id))">Bring all {{ behind.length }} along</el-button>
            <div v-for="d in page.drawings" :key="d.id" class="drawing">
              <RouterLink :to="{ name: 'desk', params: { id: d.id } }"><b>{{ d.number }}</b> {{ d.name }}</RouterLink>
              <span v-if="d.behind" class="attention-note">has earlier values</span><span v-else class="quiet">up to date</span>
              <el-button v-if="d.behind" size="small" @click="along([d.id])">Bring it along</el-button>
            </div>
          </div>
        </div>
      </section>
    </main>
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  display: flex;
  flex-direction: column;
}
main {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: 232px 1fr;
}
nav {
  background: var(--panel);
  border-right: 1px solid var(--line);
  padding: 12px 8px;
  display: flex;
  flex-direction: column;
  gap: 2px;
  overflow: auto;
}
.style {
  text-align: left;
  padding: 7px 10px;
  border-radius: 6px;
  display: grid;
}
.style small {
  color: var(--quiet);
  font-size: 12px;
}
.style:hover {
  background: var(--field);
}
.style.on {
  background: var(--accent-ground);
}
.style.on b {
  color: var(--accent);
}
.bring {
  margin: 12px 10px;
  text-decoration: underline;
  cursor: pointer;
  color: var(--quiet);
}
.bring input {
  display: none;
}
.work {
  display: flex;
  flex-direction: column;
  min-width: 0;
  min-height: 0;
}
header {
  display: flex;
  gap: 8px;
  align-items: center;
  padding: 12px 24px;
  border-bottom: 1px solid var(--line);
}
h1,
.name {
  font-size: 18px;
  font-weight: 600;
  margin: 0 12px 0 0;
}
.name {
  font-family: inherit;
  color: inherit;
  width: 220px;
  border: 1px solid transparent;
  border-radius: 6px;
  background: none;
  padding: 2px 6px;
}
.name:hover,
.name:focus {
  border-color: var(--line);
  background: var(--field);
}
.space {
  flex: 1;
}
.export {
  padding: 0 10px;
  text-decoration: underline;
}
.say {
  margin: 8px 24px 0;
}
.scroll {
  flex: 1;
  min-height: 0;
  overflow: auto;
}
.drawings {
  padding: 16px 24px;
  display: grid;
  gap: 10px;
  justify-items: start;
}
.drawing {
  display: flex;
  gap: 16px;
  align-items: center;
}
</style>
