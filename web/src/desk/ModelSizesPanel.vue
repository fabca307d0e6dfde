<script setup lang="ts">
// The numbers of the model that can be brought: each lit in its view, chosen one by one.
import { useModelSizes } from './modelSizes'
import { useDesk } from './store'

const FORMS = { baseline: 'from a datum, in rows', chain: 'one after another', ordinate: 'as ordinates' }
const desk = useDesk()
const model = useModelSizes()
const viewName = (id: string) => {
  const n = desk.sheet?.views.findIndex((v) => v.id === id) ?? -1
  return desk.sheet?.views[n]?.letter || `view ${n + 1}`
}
</script>

<template>
  <div data-test="model-sizes">
    <h2>{{ model.lean ? 'Proposed sizes' : 'Sizes of the model' }}</h2>
    <template v-if="model.lean">
      <label class="form">Lengths stand
        <el-select v-model="model.form" size="small" data-test="proposal-form"><el-option v-for="(name, f) in FORMS" :key="f" :value="f" :label="name" /></el-select>
      </label>
      <label class="form"><el-checkbox v-model="model.holes" true-value="table" false-value="called" data-test="proposal-holes">Holes in a table</el-checkbox></label>
      <p class="quiet">Click an edge to measure from it<template v-if="model.datums.length">; <button class="link" data-test="own-datums" @click="model.datums = []; model.look()">measure from where it was</button></template>. Click a ghost to drop it, or drag it to another view.</p>
    </template>
    <p v-if="model.waiting" class="quiet" role="status">{{ model.waiting }} <el-button v-if="model.busy" size="small" data-test="model-sizes-stop" @click="model.stop()">Stop</el-button></p>
    <p v-if="model.why" class="attention-note" role="alert" data-test="model-sizes-why">{{ model.why }}</p>
    <p v-for="v in model.views" :key="v.text" class="attention-note" data-test="wanted-view">{{ v.text }} <el-button v-if="v.command?.command" size="small" data-test="add-wanted-view" @click="model.addView(v)">{{ v.crowded ? 'Place it and arrange the sheet' : 'Place it' }}</el-button></p>
    <template v-if="model.fitting.length">
      <label v-for="r in model.fitting" :key="r.size!.id" class="row-of-model" :data-test="`model-size-${r.called || r.text}`" @mouseenter="model.pointed = r.size!.id" @mouseleave="model.pointed = ''">
        <input v-model="model.chosen" type="checkbox" :value="r.size!.id" /> <b>{{ r.text }}</b> <span class="quiet">{{ r.called ? `${r.called}, ` : '' }}{{ viewName(r.view) }}</span>
      </label>
      <div class="choices">
        <el-button type="primary" :disabled="!model.chosen.length" data-test="model-sizes-bring" @click="model.bring()">{{ model.lean ? 'Place' : 'Bring' }} {{ model.chosen.length }}</el-button>
        <el-button v-if="model.chosen.length" @click="model.chosen = []">None</el-button>
        <el-button v-else @click="model.chosen = model.fitting.map((r) => r.size!.id)">All</el-button>
      </div>
    </template>
    <template v-if="model.left.length">
      <h3>Not brought: {{ model.left.length }}</h3>
      <p v-for="(r, n) in model.left" :key="n" class="quiet" data-test="model-size-left">{{ r.called && r.called !== r.why ? `${r.called}: ` : '' }}{{ r.why }}</p>
    </template>
    <button class="link" data-test="model-sizes-close" @click="model.close()">Leave it</button>
  </div>
</template>

<style scoped>
.row-of-model {
  display: block;
  padding: 3px 4px;
  border-radius: 4px;
  cursor: pointer;
}
.row-of-model:hover {
  background: var(--accent-ground);
}
h3 {
  margin: 14px 0 4px;
}
p {
  margin: 2px 0;
  overflow-wrap: anywhere;
}
.form {
  display: block;
}
.link {
  color: var(--accent);
  text-decoration: underline;
  margin-top: 10px;
}
</style>
