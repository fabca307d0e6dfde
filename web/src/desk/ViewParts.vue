<script setup lang="ts">
// The parts of an assembly in one view, as a tree: what the ticks say is chosen above them.
import { computed, ref, watch } from 'vue'
import PartTree from '@/components/PartTree.vue'
import { ASPECTS, isOn, treeOf, usePartsOfView, type Aspect, type PartNode } from './partsOfView'
import { useDesk } from './store'

const props = defineProps<{ id: string }>()
const desk = useDesk()
const parts = usePartsOfView()
const view = computed(() => desk.view(props.id))
/** As they were, while a change is being derived. */
const paths = ref<string[]>([])
watch(
  () => desk.hitOf(props.id)?.geometry.instances,
  (now) => now && now.join() !== paths.value.join() && (paths.value = now),
  { immediate: true },
)
const tree = computed(() => treeOf(paths.value))
const section = computed(() => (view.value?.kind === 'section' ? view.value.section : null))
const states = computed(() => desk.drawn?.states ?? [])
const askedAspect = ref<Aspect | 'section'>('shown')
const aspects = computed(() =>
  (Object.keys(ASPECTS) as Aspect[]).filter((a) => (a === 'trail' ? view.value?.exploded : a === 'through' ? view.value?.shading !== 'lines' : a === 'hidden' ? view.value?.hidden_lines : true)),
)
const aspect = computed(() => (askedAspect.value === 'section' ? (section.value ? 'section' : 'shown') : aspects.value.includes(askedAspect.value) ? askedAspect.value : 'shown'))

const on = (n: PartNode) => aspect.value !== 'section' && view.value && n.leaves.every((p) => isOn(view.value!, aspect.value as Aspect, p))
const some = (n: PartNode) => aspect.value !== 'section' && view.value && !on(n) && n.leaves.some((p) => isOn(view.value!, aspect.value as Aspect, p))
const label = (n: PartNode) => `${{ shown: '', hidden: 'Hidden lines of ', through: 'See through ', trail: 'Trail line of ', section: '' }[aspect.value]}${n.path}`

function mark(paths: string[], how: string) {
  const s = section.value
  if (!s) return
  const without = (list: string[]) => list.filter((p) => !paths.includes(p))
  void desk.edit({ command: 'change_section', view: props.id, whole: [...without(s.whole), ...(how === 'whole' ? paths : [])], cut: [...without(s.cut), ...(how === 'cut' ? paths : [])] })
}
const how = (n: PartNode) => (n.leaves.every((p) => section.value?.whole.includes(p)) ? 'whole' : n.leaves.every((p) => section.value?.cut.includes(p)) ? 'cut' : 'by kind')
</script>

<template>
  <div v-if="view && paths.length > 1" class="section">
    <div v-if="states.length && view.kind !== 'detail'" class="row"><span class="label">Exploded</span>
      <el-select :model-value="view.exploded || ''" placeholder="together" data-test="exploded-state" @change="(v: string) => desk.edit({ command: 'change_view', view: id, exploded: v })"><el-option value="" label="together" /><el-option v-for="s in states" :key="s" :value="s" :label="s" /></el-select></div>
    <div class="row"><span class="label">Ticks say</span>
      <el-select :model-value="aspect" aria-label="What the ticks say" data-test="part-aspect" @change="(v: Aspect | 'section') => (askedAspect = v)">
        <el-option v-for="a in aspects" :key="a" :value="a" :label="ASPECTS[a].name" /><el-option v-if="section" value="section" label="cut or whole" />
      </el-select></div>
    <PartTree :nodes="tree" :row-height="28" :most="320" class="tree" data-test="view-parts">
      <template #default="{ node: n }">
        <span class="part">
          <el-checkbox v-if="aspect !== 'section'" :model-value="!!on(n)" :indeterminate="!!some(n)" :aria-label="label(n)" :data-test="`part-${n.path}`" @click.stop @change="(v) => parts.set(id, aspect as Aspect, n.leaves, Boolean(v))"><span class="path" :title="n.path">{{ n.name }}</span></el-checkbox>
          <template v-else><span class="path" :title="n.path">{{ n.name }}</span><el-select :model-value="how(n)" size="small" class="how" :aria-label="`In the section: ${n.path}`" @click.stop @change="(v: string) => mark(n.leaves, v)"><el-option v-for="h in ['by kind', 'cut', 'whole']" :key="h" :value="h" /></el-select></template>
          <button v-if="aspect === 'shown'" class="alone" :aria-label="`Show only ${n.path}`" @click.stop="parts.only(id, n.leaves, paths)">only this</button>
        </span>
      </template>
    </PartTree>
    <el-button v-if="view.without.length" text size="small" data-test="show-all-parts" @click="parts.all(id)">Show all {{ paths.length }} parts</el-button>
  </div>
</template>

<style scoped>
.tree {
  margin: 4px -4px 0 -8px;
}
.tree :deep(.el-checkbox__label) {
  color: inherit;
}
.part {
  display: flex;
  align-items: center;
  flex: 1;
  min-width: 0;
}
.path {
  display: inline-block;
  max-width: 150px;
  overflow: hidden;
  text-overflow: ellipsis;
  vertical-align: bottom;
}
.how {
  width: 84px;
  margin-left: auto;
}
.alone {
  margin-left: auto;
  color: var(--accent);
  font-size: 12px;
  opacity: 0;
}
.part:hover .alone,
.alone:focus-visible {
  opacity: 1;
}
</style>
