<script setup lang="ts">
// What rules find on the drawing, sheet by sheet, and what is good.
import { computed, ref } from 'vue'
import FoundActions from './FoundActions.vue'
import { useFindings } from './findings'
import { useDesk } from './store'

const desk = useDesk()
const findings = useFindings()
const good = ref(false)
const counts = computed(() => {
  const p = findings.page
  if (!p) return ''
  const parts = [p.grave && `${p.grave} grave`, p.look && `${p.look} to look at`, p.meant && `${p.meant} meant so`]
  return parts.filter(Boolean).join(', ') || 'Nothing is open.'
})
const many = computed(() => (desk.document?.sheets.length ?? 0) > 1)
</script>

<template>
  <section v-if="findings.page" data-test="found">
    <h3>Found by itself</h3>
    <p :class="findings.page.grave ? 'fault' : findings.page.look ? 'attention' : 'good'" role="status" data-test="found-counts">{{ counts }}</p>
    <p v-if="findings.page.waiting" class="quiet">{{ findings.page.waiting }} {{ findings.page.waiting === 1 ? 'view is' : 'views are' }} still being derived.</p>
    <p v-if="findings.page.sizes_wait" class="quiet">What the sizes say is not counted yet.</p>
    <template v-for="[number, found] in findings.sheets" :key="number">
      <h4 v-if="many">Sheet {{ number }}</h4>
      <div v-for="f in found" :key="f.key" class="one" :class="{ on: f.key === findings.chosen, meant: f.meant }" :data-test="`found-${f.rule}`">
        <button class="words" :title="f.clause" @click="findings.show(f)"><b v-if="f.gravity === 'grave'" class="fault">grave </b>{{ f.text }}</button>
        <FoundActions :found="f" />
      </div>
    </template>
    <p class="files">
      <a :href="`/api/drawings/${desk.drawing?.id}/findings.pdf`" data-test="found-pdf">List as PDF</a>
      <a :href="`/api/drawings/${desk.drawing?.id}/findings.xlsx`" data-test="found-xlsx">XLSX</a>
    </p>
    <template v-if="findings.page.good.length">
      <button class="more quiet" :aria-expanded="good" data-test="good" @click="good = !good">{{ good ? '▾' : '▸' }} Good: {{ findings.page.good.length }}</button>
      <ul v-if="good" class="quiet"><li v-for="g in findings.page.good" :key="g.rule" :title="g.clause">{{ g.title }}</li></ul>
    </template>
  </section>
  <p v-else-if="findings.refusal" class="fault-note" role="alert">{{ findings.refusal }}</p>
  <p v-else class="quiet" role="status">Looking at the drawing …</p>
  <p v-if="findings.page && findings.refusal" class="fault-note" role="alert">{{ findings.refusal }}</p>
</template>

<style scoped>
h3 {
  margin: 16px 0 2px;
}
h4 {
  margin: 8px 0 0 4px;
  font-size: inherit;
}
.one {
  border-radius: 4px;
}
.one.on {
  background: var(--accent-ground);
}
.one.meant .words {
  opacity: 0.6;
}
.words {
  display: block;
  width: 100%;
  text-align: left;
  padding: 4px;
  overflow-wrap: anywhere;
}
.fault {
  color: var(--fault);
}
.attention {
  color: var(--attention);
}
.good {
  color: var(--good);
}
.files {
  display: flex;
  gap: 12px;
}
.more {
  padding: 4px 0;
}
ul {
  margin: 0;
  padding-left: 18px;
}
</style>
