<script setup lang="ts">
// The holes, or the shafts, that were recognized on a part: what is said of them, and what an office can say that no file knows.
import { ref } from 'vue'
import { api, data, type ModelPage } from '@/api/client'

const props = defineProps<{ id: string; rows: ModelPage['holes'] }>()
const emit = defineEmits<{ changed: [model: ModelPage]; over: [hole: ModelPage['holes'][number] | null] }>()
const open = ref(-1)
const designation = ref('')
const length = ref('')
const process = ref('')
const problem = ref('')

function unfold(n: number) {
  problem.value = ''
  if (open.value === n) return void (open.value = -1)
  open.value = n
  const h = props.rows[n]
  designation.value = h.thread || h.offers.find((o) => o.thread)?.thread || ''
  length.value = h.thread_length === null ? '' : String(h.thread_length)
  process.value = h.process
}
async function finish(n: number, how: string) {
  const h = props.rows[n]
  problem.value = ''
  try {
    const body = { part: h.part, faces: h.places.flatMap((p) => p.faces), process: how }
    emit('changed', await data(api.POST('/api/models/{model_id}/processes', { params: { path: { model_id: props.id } }, body })))
    open.value = -1
  } catch (error) {
    problem.value = (error as Error).message
  }
}
async function say(n: number, thread: string) {
  const h = props.rows[n]
  problem.value = ''
  try {
    const body = { part: h.part, faces: h.places.flatMap((p) => p.faces), designation: thread, length: thread ? length.value : '' }
    emit('changed', await data(api.POST('/api/models/{model_id}/threads', { params: { path: { model_id: props.id } }, body })))
    open.value = -1
  } catch (error) {
    problem.value = (error as Error).message
  }
}
</script>

<template>
  <table data-test="holes" @mouseleave="emit('over', null)">
    <tbody v-for="(h, n) in rows" :key="n">
      <tr
        class="hole" tabindex="0" :aria-expanded="open === n" :data-test="`hole-${n}`"
        @mouseenter="emit('over', h)" @focus="emit('over', h)" @click="unfold(n)" @keydown.enter="unfold(n)"
      >
        <td class="count">{{ h.count }}</td>
        <td>{{ h.name }}<div class="quiet">{{ h.says }}<template v-if="h.pattern"><br />{{ h.pattern }}</template></div></td>
      </tr>
      <tr v-if="open === n">
        <td />
        <td class="saying">
          <p v-if="h.offers.length" class="quiet">{{ h.offers.map((o) => o.words).join('; ') }}</p>
          <p v-if="problem" class="fault-note" role="alert">{{ problem }}</p>
          <form @submit.prevent="say(n, designation)">
            <label>Thread<el-input v-model="designation" size="small" placeholder="M5, M10x1" maxlength="40" data-test="say-thread" /></label>
            <label>Length, mm<el-input v-model="length" size="small" placeholder="all" maxlength="20" data-test="say-length" /></label>
            <div class="buttons">
              <el-button size="small" native-type="submit" :disabled="!designation.trim()" data-test="say">{{ h.count === 1 ? 'It is threaded' : `These ${h.count} are threaded` }}</el-button>
              <el-button v-if="h.said" size="small" text data-test="unsay" @click="say(n, '')">Take back</el-button>
            </div>
          </form>
          <form v-if="!h.thread" @submit.prevent="finish(n, process)">
            <label>
              Finished
              <el-select v-model="process" size="small" filterable clearable placeholder="how" :aria-label="'How it is finished'" data-test="say-process">
                <el-option v-for="way in h.processes" :key="way" :label="way" :value="way" />
              </el-select>
            </label>
            <div class="buttons">
              <el-button size="small" native-type="submit" :disabled="process === h.process" data-test="finish">{{ process || !h.process ? 'It is finished so' : 'Take back' }}</el-button>
            </div>
          </form>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
table {
  width: 100%;
  border-collapse: collapse;
}
.hole {
  cursor: pointer;
}
.hole:hover,
.hole:focus-visible {
  background: var(--accent-ground);
}
td {
  padding: 4px 6px 4px 0;
  vertical-align: top;
}
.count {
  width: 28px;
  text-align: right;
  padding-right: 10px;
}
.saying p {
  margin: 0 0 6px;
}
label {
  display: grid;
  grid-template-columns: 84px 1fr;
  align-items: center;
  margin-bottom: 4px;
}
.buttons {
  margin: 6px 0;
}
</style>
