<script setup lang="ts">
// The materials that parts are made of: the library's, and the office's own.
import { computed, onMounted, ref } from 'vue'
import { api, data, type MaterialRow } from '@/api/client'
import HeadBar from '@/components/HeadBar.vue'

const rows = ref<MaterialRow[]>([])
const wanted = ref('')
const problem = ref('')
const fresh = ref({ designation: '', density: undefined as number | undefined, source: '' })
const shown = computed(() => rows.value.filter((r) => `${r.designation} ${r.family}`.toLowerCase().includes(wanted.value.trim().toLowerCase())))

async function load() {
  rows.value = await data(api.GET('/api/materials'))
}
async function attempt(work: () => Promise<unknown>) {
  problem.value = ''
  try {
    await work()
    await load()
  } catch (error) {
    problem.value = (error as Error).message
  }
}
const add = () =>
  attempt(async () => {
    await data(api.POST('/api/materials', { body: { ...fresh.value, density: fresh.value.density ?? 0 } }))
    fresh.value = { designation: '', density: undefined, source: '' }
  })
const remove = (id: string) => attempt(() => data(api.DELETE('/api/materials/{material_id}', { params: { path: { material_id: id } } })))
onMounted(() => attempt(async () => undefined))
</script>

<template>
  <div class="page">
    <HeadBar><span class="quiet"><RouterLink to="/">Shelf</RouterLink>&ensp;/</span><span>Materials</span></HeadBar>
    <main>
      <form class="side" @submit.prevent="add">
        <h1>Materials</h1>
        <label>Designation<input v-model="fresh.designation" maxlength="80" data-test="material-name" placeholder="as the standard writes it" /></label>
        <label>Density, g/cm³<input v-model.number="fresh.density" type="number" step="any" data-test="material-density" /></label>
        <label>Source<input v-model="fresh.source" maxlength="120" data-test="material-source" placeholder="where the value comes from" /></label>
        <el-button type="primary" native-type="submit" data-test="material-add">Add it</el-button>
        <p v-if="problem" class="fault-note" role="alert">{{ problem }}</p>
        <p class="quiet">A part's material is chosen on its model page. Its mass there and in the title block follows from the exact volume.</p>
      </form>
      <section>
        <input v-model="wanted" class="find" placeholder="Find a material" aria-label="Find a material" />
        <table>
          <thead><tr><th>Designation</th><th>Family</th><th class="number">g/cm³</th><th>Source</th><th></th></tr></thead>
          <tbody>
            <tr v-for="r in shown" :key="r.designation" :class="{ own: r.id }">
              <td>{{ r.designation }}</td><td class="quiet">{{ r.family }}</td><td class="number">{{ r.density.toFixed(2) }}</td><td class="quiet">{{ r.source }}</td>
              <td><button v-if="r.id" class="act" :aria-label="`Remove ${r.designation}`" @click="remove(r.id)">Remove</button></td>
            </tr>
          </tbody>
        </table>
        <p v-if="!shown.length" class="quiet">No material is called that; add it at the left.</p>
      </section>
    </main>
  </div>
</template>

<style scoped src="./ledger.css" />
<style scoped>
.own td:first-child {
  font-weight: 600;
}
</style>
