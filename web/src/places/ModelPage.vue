<script setup lang="ts">
// One model: its 3D preview, tree, properties, holes, and the drawings made of it.
import { computed, defineAsyncComponent, onMounted, onUnmounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, data, ended, type MaterialRow, type ModelPage, type Schemas } from '@/api/client'
import { useAttempt } from '@/api/attempt'
import HeadBar from '@/components/HeadBar.vue'
import ExplodedStates from '@/model/ExplodedStates.vue'
import HoleList from '@/model/HoleList.vue'
import ModelVersions from '@/model/ModelVersions.vue'
import PartTree from '@/components/PartTree.vue'
import PartProperties from '@/model/PartProperties.vue'
import SameParts from '@/model/SameParts.vue'
import { lengthText, massText } from '@/words'

const ModelPreview = defineAsyncComponent(() => import('@/model/ModelPreview.vue'))
const props = defineProps<{ id: string }>()
const router = useRouter()
const model = ref<ModelPage>()
const { busy, problem, attempt } = useAttempt()
/** Paths of the chosen parts. */
const chosen = ref<string[]>([])
const dragging = ref(false)
const exploding = ref<InstanceType<typeof ExplodedStates>>()
const versions = ref<InstanceType<typeof ModelVersions>>()
/** Grows with each version, so that the preview is that of the newest. */
const seen = ref(0)
const open = ref('')
const moves = ref<Record<string, number[]>>({})
const diagonal = computed(() => Math.hypot(...(model.value?.size ?? [1])))
const materials = ref<MaterialRow[]>([])
/** Equal features that the pointer is over in the lists. */
const over = ref<ModelPage['features'][number] | null>(null)
const rings = computed(() => over.value?.places ?? [])

const size = computed(() => model.value?.size.map((v) => lengthText(v, model.value!.units)).join(' × ') ?? '')
const style = ref('')
const styles = ref<Schemas['StyleRow'][]>([])

let timer = 0
/** What stands in place of an assembly's mass that is not known. */
const noMass = computed(() => (model.value?.parts.some((p) => p.awaited) ? 'not measured yet' : 'incomplete: a part has no material'))

async function load() {
  window.clearTimeout(timer)
  try {
    model.value = await data(api.GET('/api/models/{model_id}', { params: { path: { model_id: props.id } } }))
    if (model.value.measured === 'under way') timer = window.setTimeout(load, 1000)
    materials.value = await data(api.GET('/api/materials'))
    styles.value = await data(api.GET('/api/styles'))
    const units = ['in', 'ft'].includes(model.value.units) ? 'in' : 'mm'
    style.value = (styles.value.find((s) => s.units === units) ?? styles.value[0]).id
    document.title = `${model.value.number} ${model.value.name} · Moorcrest`.trim()
  } catch (error) {
    problem.value = (error as Error).message
  }
}

async function renewed() {
  seen.value++
  await load()
}


interface Node {
  path: string
  name: string
  children?: Node[]
}
const tree = computed(() => {
  const made = (nodes: ModelPage['tree'][], above: string): Node[] =>
    nodes.map((n, i) => {
      const path = n.path || `${above}.${i}`
      const below = n.children?.length ? made(n.children as ModelPage['tree'][], path) : undefined
      return { path, name: below ? `${n.name} (${leaves(below).length})` : n.name, ...(below ? { children: below } : {}) }
    })
  return made((model.value?.tree.children ?? []) as ModelPage['tree'][], '')
})
const leaves = (nodes: Node[]): string[] => nodes.flatMap((n) => (n.children ? leaves(n.children) : [n.path]))
function chooseNode(n: Node) {
  const paths = leaves([n])
  chosen.value = paths.join() === chosen.value.join() ? [] : paths
}
function choosePart(path: string, more: boolean) {
  if (!path) chosen.value = more ? chosen.value : []
  else if (!more) chosen.value = [path]
  else chosen.value = chosen.value.includes(path) ? chosen.value.filter((p) => p !== path) : [...chosen.value, path]
}

const startDrawing = () =>
  attempt('start', async () => {
    const drawing = await data(api.POST('/api/drawings', { body: { model: props.id, style: style.value } }))
    await router.push({ name: 'desk', params: { id: drawing.id } })
  })

const writeStep = () =>
  attempt('step', async () => {
    const job = await ended(await data(api.POST('/api/models/{model_id}/step', { params: { path: { model_id: props.id } } })))
    if (job.state === 'failed') throw new Error(job.text)
    window.location.assign(`/api/jobs/${job.id}/file`)
  })

const measureAgain = () =>
  attempt('measure', async () => {
    await data(api.POST('/api/models/{model_id}/measure', { params: { path: { model_id: props.id } } }))
    await load()
  })

const remove = () =>
  attempt('remove', async () => {
    await data(api.DELETE('/api/models/{model_id}', { params: { path: { model_id: props.id } } }))
    await router.push({ name: 'shelf' })
  })

onMounted(load)
onUnmounted(() => window.clearTimeout(timer))
</script>

<template>
  <div class="page" @dragover.prevent @drop.prevent="(e) => versions?.bringIn(e.dataTransfer?.files)">
    <HeadBar>
      <span class="quiet"><RouterLink to="/">Shelf</RouterLink> &ensp;/</span>
      <span v-if="model"><b>{{ model.number }}</b>&ensp;{{ model.name }}</span>
    </HeadBar>
    <p v-if="problem" class="fault-note problem" role="alert">{{ problem }}</p>
    <main v-if="model" class="model">
      <section class="view"><ModelPreview :key="seen" :url="`/api/models/${id}/preview.glb?seen=${seen}`" :lit="chosen" :moves="moves" :diagonal="diagonal" :dragging="dragging" :rings="rings" @part="choosePart" @drag="(d, by, done) => exploding?.dragged(d, by, done)" /></section>
      <aside>
        <h1>{{ model.name }}</h1>
        <div class="actions">
          <el-select v-model="style" class="style" aria-label="House style">
            <el-option v-for="s in styles" :key="s.id" :value="s.id" :label="s.name" />
          </el-select>
          <el-button type="primary" :loading="busy === 'start'" data-test="start-drawing" @click="startDrawing">Start a drawing</el-button>
        </div>
        <p v-for="n in model.notes" :key="n" class="attention-note">{{ n }}</p>
        <p v-if="model.measured === 'under way'" class="quiet" role="status" data-test="measuring">The model is being measured; what is missing follows.</p>
        <p v-if="model.measured === 'no'" class="attention-note" data-test="unmeasured">The model is not measured, so something is missing. <button class="link" @click="measureAgain">Measure</button></p>
        <dl>
          <dt>Kind</dt><dd>{{ model.kind }}, from {{ model.file_name }}</dd>
          <dt>Size</dt><dd>{{ size }} {{ model.units === 'in' ? 'in' : 'mm' }}</dd>
          <dt>Units of the file</dt><dd>{{ model.units }}</dd>
          <template v-if="model.kind === 'assembly'"><dt>Mass</dt><dd>{{ model.mass === null ? noMass : massText(model.mass) }}</dd></template>
        </dl>
        <PartProperties v-if="model.kind === 'part'" class="alone" :model="id" :part="model.parts[0]" :materials="materials" @changed="(m) => (model = m)" />
        <template v-if="model.drawings.length">
          <h2>Drawings</h2>
          <RouterLink v-for="d in model.drawings" :key="d.id" class="link" :to="{ name: 'desk', params: { id: d.id } }">{{ d.number }} {{ d.name }}</RouterLink>
        </template>
        <template v-if="model.kind === 'assembly'">
          <h2>Components</h2>
          <PartTree :nodes="tree" :row-height="26" :most="220" data-test="components" @choose="chooseNode" />
          <ExplodedStates :id="id" ref="exploding" :model="model" :lit="chosen" @changed="(m) => (model = m)" @moves="(m) => (moves = m)" @dragging="(on) => (dragging = on)" />
          <h2>Parts</h2>
          <SameParts :id="id" :model="model" @changed="(m) => (model = m)" />
          <table>
            <tbody v-for="p in model.parts" :key="p.key">
              <tr class="part" :aria-expanded="open === p.key" tabindex="0" :data-test="`part-row-${p.key}`" @click="open = open === p.key ? '' : p.key" @keydown.enter="open = open === p.key ? '' : p.key">
                <td class="count">{{ p.count }}</td><td>{{ p.number }} {{ p.name }}</td><td class="quiet" :class="{ missing: p.mass === null && !p.awaited }">{{ p.material || 'no material' }}</td>
              </tr>
              <tr v-if="open === p.key"><td colspan="3"><PartProperties :model="id" :part="p" :materials="materials" assembly @changed="(m) => (model = m)" /></td></tr>
            </tbody>
          </table>
        </template>
        <template v-if="model.kind === 'part'">
          <h2>Holes</h2>
          <HoleList v-if="model.holes.length" :id="id" :rows="model.holes" @changed="(m) => (model = m)" @over="(h) => (over = h)" />
          <p v-else class="quiet">{{ model.measured === 'yes' ? 'None were found.' : 'They are being looked for.' }}</p>
          <template v-if="model.shafts.length">
            <h2>Shafts</h2>
            <HoleList :id="id" :rows="model.shafts" data-test="shafts" @changed="(m) => (model = m)" @over="(h) => (over = h)" />
          </template>
          <template v-if="model.features.length">
            <h2>Other features</h2>
            <table data-test="features" @mouseleave="over = null">
              <tr v-for="(f, n) in model.features" :key="n" class="part" tabindex="0" @mouseenter="over = f" @focus="over = f">
                <td class="count">{{ f.count }}</td><td>{{ f.name }}<div class="quiet">{{ f.says }}</div></td>
              </tr>
            </table>
          </template>
          <template v-if="model.datums.length">
            <h2>Likely datums</h2>
            <table data-test="datums" @mouseleave="over = null">
              <tr v-for="f in model.datums" :key="f.name" class="part" tabindex="0" @mouseenter="over = f" @focus="over = f">
                <td>{{ f.name }}<template v-if="f.says">, {{ f.says }}</template></td>
              </tr>
            </table>
            <p v-if="model.symmetry" class="quiet">Symmetrical {{ model.symmetry }}.</p>
          </template>
        </template>
        <ModelVersions :id="id" ref="versions" @changed="renewed" />
        <div class="foot">
          <el-button :loading="busy === 'step'" @click="writeStep">Write as STEP</el-button>
          <el-popconfirm title="Remove this model?" confirm-button-text="Remove" cancel-button-text="Keep" @confirm="remove">
            <template #reference><el-button :loading="busy === 'remove'" text>Remove</el-button></template>
          </el-popconfirm>
        </div>
      </aside>
    </main>
  </div>
</template>

<style scoped>
.page {
  height: 100%;
  display: flex;
  flex-direction: column;
}
.problem {
  margin: 8px 16px 0;
}
.model {
  flex: 1;
  min-height: 0;
  display: grid;
  grid-template-columns: 1fr 336px;
}
.view {
  position: relative;
  min-width: 0;
}
aside {
  background: var(--panel);
  border-left: 1px solid var(--line);
  padding: 16px;
  overflow: auto;
}
.actions {
  display: flex;
  gap: 8px;
  margin: 12px 0 8px;
}
.style {
  flex: 1;
}
h2 {
  margin: 16px 0 6px;
  border-top: 1px solid var(--line);
  padding-top: 12px;
}
dl {
  display: grid;
  grid-template-columns: 112px 1fr;
  gap: 6px 8px;
  margin: 12px 0 0;
}
dt {
  color: var(--quiet);
}
dd {
  margin: 0;
  overflow-wrap: anywhere;
}
.link {
  display: block;
  color: var(--accent);
  text-decoration: underline;
  line-height: 22px;
}
.attention-note {
  border-left: 3px solid var(--attention);
  padding: 2px 8px;
  margin: 8px 0;
}
table {
  width: 100%;
  border-collapse: collapse;
}
td {
  padding: 3px 6px 3px 0;
  vertical-align: top;
}
.part {
  cursor: pointer;
}
.part:hover td {
  background: var(--accent-ground);
}
.missing {
  color: var(--fault);
}
.alone {
  margin-top: 8px;
}
.count {
  width: 24px;
  text-align: right;
  font-variant-numeric: tabular-nums;
  padding-right: 10px;
}
.foot {
  margin-top: 20px;
  display: flex;
  gap: 8px;
}
</style>
