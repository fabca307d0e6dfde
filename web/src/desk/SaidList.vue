<script setup lang="ts">
// What the sizes leave free and say twice: pointed at, a gap sways on the views.
import { computed } from 'vue'
import FoundActions from './FoundActions.vue'
import { useCompleteness } from './completeness'
import { useFindings } from './findings'
import { useDesk } from './store'

const desk = useDesk()
const said = useCompleteness()
const findings = useFindings()
const a = computed(() => said.answer)
const headline = computed(() => {
  if (!a.value) return ''
  if (a.value.state === 'complete') return 'Every number of the part is given, and none twice.'
  if (a.value.state === 'unknown') return a.value.why
  const parts = [a.value.missing && `${a.value.missing} ${a.value.missing === 1 ? 'number is' : 'numbers are'} missing`, a.value.twice.length && `${a.value.twice.length} said twice`, a.value.silent.length && `${a.value.silent.length} not understood`]
  return parts.filter(Boolean).join(', ')
})
async function show(id: string, sheet: string, more: string[] = []) {
  if (sheet && sheet !== desk.sheet?.id) await desk.showSheet(sheet)
  desk.selected = [id, ...more].filter((k) => desk.annotation(k)).map((k) => ({ kind: 'annotation' as const, id: k }))
}
</script>

<template>
  <section v-if="said.working" data-test="said" data-state="working">
    <h3>Sizes</h3>
    <p class="quiet" role="status">This part is large: a worker looks at what its sizes say, {{ said.working.text || 'waiting its turn' }} ({{ Math.round(100 * said.working.progress) }} %).</p>
    <el-button size="small" data-test="said-stop" @click="said.stop()">Stop</el-button>
  </section>
  <section v-else-if="a && desk.drawing?.model_kind === 'part'" data-test="said" :data-state="a.state">
    <h3>Sizes</h3>
    <p :class="{ good: a.state === 'complete', quiet: a.state === 'unknown', attention: a.state === 'open' }" role="status" data-test="said-state">{{ headline }}</p>
    <p v-if="a.why && a.state !== 'unknown'" class="quiet" data-test="by-model">{{ a.why }}</p>
    <div v-for="(g, n) in a.gaps" :key="g.text">
      <button
        class="one" :class="{ on: said.pointed === n }" :data-test="`gap-${n}`"
        @mouseenter="said.pointed = n" @mouseleave="said.pointed = -1" @focus="said.pointed = n" @blur="said.pointed = -1"
      >{{ g.text }}</button>
      <FoundActions :found="findings.of('not given', g.text)" />
    </div>
    <div v-for="t in a.twice" :key="t.id" class="one" :data-test="`twice-${t.id}`">
      <button class="words" @click="show(t.id, t.sheet, t.follows)">{{ t.text }}{{ t.follows.length ? ' Any one of these may go.' : '' }}</button>
      <FoundActions :found="findings.of('said twice', t.text)" />
    </div>
    <div v-for="s in a.silent" :key="s.id">
      <button class="one" :data-test="`silent-${s.id}`" @click="show(s.id, s.sheet)">It cannot be told what this says: {{ s.text }}</button>
      <FoundActions :found="findings.of('not understood', s.text)" />
    </div>
  </section>
  <section v-else-if="desk.drawing?.model_kind === 'part'">
    <h3>Sizes</h3>
    <p v-if="said.problem" class="fault-note" role="alert">{{ said.problem }}</p>
    <p v-else-if="said.stopped" class="quiet">Stopped: it is not known what the sizes leave open. <el-button size="small" data-test="said-again" @click="said.again()">Look again</el-button></p>
    <p v-else class="quiet" role="status">Looking at what the sizes say …</p>
  </section>
</template>

<style scoped>
h3 {
  margin: 10px 0 2px;
}
.good {
  color: var(--good);
}
.attention {
  color: var(--attention);
}
.one {
  display: block;
  width: 100%;
  text-align: left;
  padding: 4px;
  border-radius: 4px;
  overflow-wrap: anywhere;
}
.words {
  text-align: left;
}
.one:hover,
.one.on {
  background: var(--accent-ground);
}
</style>
