<script setup lang="ts">
// The stages of the work with what is open in each; the chosen one unfolds its actions.
import { computed, ref, watch } from 'vue'
import PaperIcon from '@/components/PaperIcon.vue'
import { STAGES, type Action } from './actions'
import { useCompleteness } from './completeness'
import { useFindings } from './findings'
import { usePencil } from './pencil'
import { isSize } from './sizes'
import { useDesk } from './store'

const props = defineProps<{ actions: Action[]; stage: number; folded: boolean }>()
defineEmits<{ stage: [number: number]; fold: [] }>()
const desk = useDesk()
const pencil = usePencil()
const said = useCompleteness()
const findings = useFindings()

const badges = computed<Record<number, { text: string; open: boolean }>>(() => {
  const blank = desk.drawn?.blank_fields.length ?? 0
  const lost = desk.drawn?.annotations.filter((a) => a.lost).length ?? 0
  const views = desk.sheet?.views.length ?? 0
  const sizes = desk.sheet?.annotations.filter(isSize).length ?? 0
  const centers = desk.sheet?.annotations.filter((a) => ['center_mark', 'center_line', 'bolt_circle'].includes(a.kind)).length ?? 0
  const twice = desk.drawn?.annotations.filter((a) => a.follows?.length).length ?? 0
  const toleranced = desk.sheet?.annotations.filter((a) => isSize(a) && a.tolerance.form !== 'none').length ?? 0
  const notes = desk.sheet?.annotations.filter((a) => a.kind === 'note').length ?? 0
  const found = pencil.open.length
  const missing = said.answer?.missing ?? 0
  const bare = desk.drawn?.unmarked ?? 0
  const balloons = desk.sheet?.annotations.filter((a) => a.kind === 'balloon').length ?? 0
  const parts = balloons ? `${balloons} numbered` : desk.sheet?.annotations.some((a) => a.kind === 'parts_list') ? 'listed' : ''
  return {
    1: blank ? { text: `${blank} blank`, open: true } : { text: 'filled', open: false },
    2: desk.deriving ? { text: `${desk.deriving} coming`, open: true } : { text: views ? String(views) : 'none yet', open: !views },
    3: bare ? { text: `${bare} unmarked`, open: true } : { text: centers ? 'all marked' : '', open: false },
    5: { text: toleranced ? String(toleranced) : '', open: false },
    6: { text: notes ? String(notes) : '', open: false },
    7: { text: parts, open: false },
    8: found ? { text: `${found} open`, open: true } : said.open ? { text: `${said.open} to say`, open: true } : findings.open.length ? { text: `${findings.open.length} found`, open: true } : { text: pencil.page?.ticked ? `${pencil.page.ticked} of ${pencil.page.sizes} ticked` : '', open: false },
    4: lost ? { text: `${lost} lost`, open: true } : twice ? { text: `${twice} twice`, open: true } : missing && sizes ? { text: `${missing} missing`, open: true } : { text: sizes ? String(sizes) : '', open: false },
  }
})
const unfolded = ref(false)
watch(() => props.stage, () => (unfolded.value = false))
const rare = (stage: number) => props.actions.filter((a) => a.stage === stage && a.rare)
const of = (stage: number) => [...props.actions.filter((a) => a.stage === stage && !a.rare), ...(unfolded.value || rare(stage).some((a) => a.active?.()) ? rare(stage) : [])]
</script>

<template>
  <nav class="rail" :class="{ folded }" aria-label="Stages">
    <template v-for="s in STAGES" :key="s.number">
      <button class="stage" :class="{ on: s.number === stage }" :aria-expanded="s.number === stage" :title="folded ? s.name : ''" :data-test="`stage-${s.number}`" @click="$emit('stage', s.number)">
        <b>{{ s.number }}</b>
        <template v-if="!folded">
          <span>{{ s.name }}</span>
          <span v-if="badges[s.number]?.text" class="badge" :class="{ open: badges[s.number].open }">{{ badges[s.number].text }}</span>
        </template>
      </button>
      <div v-if="s.number === stage && !folded" class="actions">
        <button v-for="a in of(s.number)" :key="a.id" class="action" :class="{ on: a.active?.() }" :data-test="`action-${a.id}`" @click="a.run()">
          <PaperIcon :name="a.icon" />
          <span>{{ a.name }}<small>{{ a.about }}</small></span>
          <kbd v-if="a.key">{{ a.key }}</kbd>
        </button>
        <button v-if="rare(s.number).length" class="more quiet" :aria-expanded="unfolded" data-test="more-actions" @click="unfolded = !unfolded">{{ unfolded ? 'less' : `more: ${rare(s.number).map((a) => a.name.toLowerCase()).join(', ')}` }}</button>
      </div>
    </template>
    <span class="space" />
    <button class="fold quiet" :title="folded ? 'Unfold the stages' : 'Fold the stages'" @click="$emit('fold')">{{ folded ? '›' : '‹ fold' }}</button>
  </nav>
</template>

<style scoped>
.rail {
  width: 224px;
  background: var(--panel);
  border-right: 1px solid var(--line);
  padding: 8px 0;
  display: flex;
  flex-direction: column;
  overflow: auto;
}
.rail.folded {
  width: 48px;
}

.more {
  border: 0;
  background: none;
  text-align: left;
  padding: 2px 10px 4px 40px;
  font-size: 12px;
  line-height: 16px;
  cursor: pointer;
}
.stage {
  display: grid;
  grid-template-columns: 22px 1fr auto;
  align-items: center;
  height: 34px;
  padding: 0 12px 0 14px;
  gap: 8px;
  text-align: left;
  flex: none;
}
.stage b {
  font-weight: 400;
  color: var(--quiet);
  text-align: right;
}
.stage:hover {
  background: var(--accent-ground);
}
.stage.on,
.stage.on b {
  font-weight: 600;
  color: var(--accent);
}
.badge {
  font-size: 12px;
  font-weight: 600;
  color: var(--good);
}
.badge.open {
  color: var(--attention);
}
.actions {
  margin: 0 8px 6px 14px;
  border-left: 2px solid var(--light);
  padding-left: 4px;
  flex: none;
}
.action {
  width: 100%;
  display: grid;
  grid-template-columns: 26px 1fr auto;
  gap: 8px;
  padding: 5px 6px;
  border-radius: 6px;
  align-items: center;
  text-align: left;
}
.action:hover,
.action.on {
  background: var(--accent-ground);
}
small {
  display: block;
  color: var(--quiet);
  font-size: 11.5px;
  line-height: 14px;
}
kbd {
  font: 11px/16px 'Source Sans 3', sans-serif;
  color: var(--quiet);
  border: 1px solid var(--line);
  border-radius: 4px;
  padding: 0 5px;
  background: var(--field);
}
.space {
  flex: 1;
}
.fold {
  text-align: left;
  padding: 4px 18px;
}
</style>
