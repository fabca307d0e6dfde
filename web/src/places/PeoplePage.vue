<script setup lang="ts">
// Who belongs to the workspace, one's own password, and for owners what the workspace holds.
import { computed, onMounted, ref } from 'vue'
import { api, data, type People } from '@/api/client'
import HeadBar from '@/components/HeadBar.vue'
import { useSession } from '@/session'
import { sizeText, when } from '@/words'

const session = useSession()
const found = ref<People>()
/** What went wrong, and beside what: the forms, or the tables. */
const problem = ref({ by: 'forms', text: '' })
const said = ref('')
const passwords = ref({ old: '', fresh: '' })
const ROLES = [
  { role: 'drafter', name: 'Drafter', does: 'draws, brings in, publishes' },
  { role: 'checker', name: 'Checker', does: 'looks, checks and releases' },
  { role: 'reader', name: 'Reader', does: 'looks and publishes' },
  { role: 'owner', name: 'Owner', does: 'does all of it, and says who belongs here' },
]
const guest = ref({ name: '', role: 'drafter' })
const link = ref({ name: '', address: '' })

const you = computed(() => found.value?.people.find((p) => p.you))
const holds = computed(() => {
  const u = found.value?.usage
  if (!u) return []
  return [
    ['Models', `${u.models}`, `${u.versions} versions`],
    ['Drawings', `${u.drawings}`, ''],
    ['Kept of models', sizeText(u.model_bytes), 'files as they came, and what was prepared from them'],
    ['Kept of jobs', sizeText(u.file_bytes), 'files brought in and published; gone after two days'],
    ['Jobs', u.jobs_running + u.jobs_waiting ? `${u.jobs_running} under way, ${u.jobs_waiting} waiting` : 'none under way', u.jobs_failed ? `${u.jobs_failed} failed in the last two days` : ''],
  ]
})

async function load() {
  found.value = await data(api.GET('/api/people'))
}
async function attempt(by: 'forms' | 'tables', work: () => Promise<unknown>, done = '') {
  problem.value = { by, text: '' }
  said.value = ''
  try {
    await work()
    await load()
    said.value = done
  } catch (error) {
    problem.value = { by, text: (error as Error).message }
  }
}
function show(name: string, path: string) {
  link.value = { name, address: `${location.origin}${path}` }
}
const invite = () =>
  attempt('forms', async () => {
    const made = await data(api.POST('/api/people/invitations', { body: guest.value }))
    show(guest.value.name, made.path)
    guest.value.name = ''
  })
const newPassword = (id: number, name: string) =>
  attempt('tables', async () => show(name, (await data(api.POST('/api/people/{person_id}/password', { params: { path: { person_id: id } } }))).path))
const setRole = (id: number, role: string) =>
  attempt('tables', () => data(api.PUT('/api/people/{person_id}', { params: { path: { person_id: id } }, body: { role } })))
const takeOut = (id: number) => attempt('tables', () => data(api.DELETE('/api/people/{person_id}', { params: { path: { person_id: id } } })))
const takeBack = (id: string) =>
  attempt('tables', async () => {
    await data(api.DELETE('/api/people/invitations/{invitation_id}', { params: { path: { invitation_id: id } } }))
    link.value = { name: '', address: '' }
  })
const changePassword = () =>
  attempt('forms', async () => {
    await data(api.PUT('/api/me/password', { body: { old: passwords.value.old, new: passwords.value.fresh } }))
    passwords.value = { old: '', fresh: '' }
    await session.load()
  }, 'Your password is changed; wherever else you were logged in, you are no longer.')
const leave = () =>
  attempt('tables', async () => {
    await data(api.DELETE('/api/people/{person_id}', { params: { path: { person_id: you.value!.id } } }))
    location.assign('/')
  })
const copy = () => navigator.clipboard.writeText(link.value.address).then(() => (said.value = 'Copied.'), () => (said.value = 'Copy it by hand: this browser does not let the page do it.'))
onMounted(() => attempt('tables', async () => undefined))
</script>

<template>
  <div class="page">
    <HeadBar><span class="quiet"><RouterLink to="/">Shelf</RouterLink>&ensp;/</span><span>People</span></HeadBar>
    <main>
      <aside class="side">
        <form v-if="found?.owner" data-test="invite" @submit.prevent="invite">
          <h2>Invite somebody</h2>
          <label>Name<input v-model="guest.name" maxlength="80" data-test="guest" /></label>
          <label>As<el-select v-model="guest.role" data-test="guest-role"><el-option v-for="r in ROLES" :key="r.role" :value="r.role" :label="`${r.name}: ${r.does}`" /></el-select></label>
          <el-button type="primary" native-type="submit" :disabled="!guest.name.trim()" data-test="invite-now">Make a link</el-button>
        </form>
        <div v-if="link.address" class="link" data-test="link">
          <p>For {{ link.name }}; good once and for a week, and shown only now:</p>
          <code>{{ link.address }}</code>
          <el-button @click="copy">Copy the link</el-button>
        </div>
        <p v-if="problem.by === 'forms' && problem.text" class="fault-note" role="alert">{{ problem.text }}</p>
        <p v-else-if="said" class="quiet" role="status">{{ said }}</p>
        <form data-test="password" @submit.prevent="changePassword">
          <h2>Your password</h2>
          <input hidden :value="session.me?.username" autocomplete="username" />
          <label>Now<input v-model="passwords.old" type="password" autocomplete="current-password" data-test="password-old" /></label>
          <label>From now on<input v-model="passwords.fresh" type="password" autocomplete="new-password" data-test="password-new" /></label>
          <p class="quiet">At least 10 characters; not your name, and nothing that everybody uses.</p>
          <el-button native-type="submit" :disabled="!passwords.old || !passwords.fresh" data-test="password-change">Change it</el-button>
        </form>
      </aside>
      <section>
        <h1>{{ session.me?.workspace }}</h1>
        <p v-if="problem.by === 'tables' && problem.text" class="fault-note by-table" role="alert">{{ problem.text }}</p>
        <table>
          <thead><tr><th>Name</th><th>Logs in as</th><th>Role</th><th>Last logged in</th><th></th></tr></thead>
          <tbody>
            <tr v-for="p in found?.people" :key="p.id" :data-person="p.username">
              <td>{{ p.name }}<span v-if="p.you" class="quiet">, you</span></td>
              <td class="quiet">{{ p.username }}</td>
              <td>
                <el-select v-if="found?.owner" :model-value="p.role" size="small" class="role" :aria-label="`Role of ${p.name}`" @update:model-value="(role: string) => setRole(p.id, role)"><el-option v-for="r in ROLES" :key="r.role" :value="r.role" :label="r.name" /></el-select>
                <span v-else>{{ ROLES.find((r) => r.role === p.role)?.name }}</span>
              </td>
              <td class="quiet">{{ p.last_seen ? when(p.last_seen) : 'not yet' }}</td>
              <td class="acts">
                <button v-if="found?.owner && !p.you" class="act" @click="newPassword(p.id, p.name)">New password link</button>
                <el-popconfirm v-if="p.you" title="Leave this workspace? Only an owner can let you in again." confirm-button-text="Leave" cancel-button-text="Stay" width="240" @confirm="leave"><template #reference><button class="act">Leave</button></template></el-popconfirm>
                <el-popconfirm v-else-if="found?.owner" :title="`Take ${p.name} out? What they drew stays.`" confirm-button-text="Take out" cancel-button-text="Keep" width="240" @confirm="takeOut(p.id)"><template #reference><button class="act">Take out</button></template></el-popconfirm>
              </td>
            </tr>
          </tbody>
        </table>
        <template v-if="found?.owner">
          <h2>Links that are open</h2>
          <p v-if="!found.invitations.length" class="quiet">None. Whoever is invited gets a link from you; nothing is sent by mail.</p>
          <table v-else>
            <thead><tr><th>For</th><th>What</th><th>Until</th><th></th></tr></thead>
            <tbody>
              <tr v-for="i in found.invitations" :key="i.id">
                <td>{{ i.name }}</td>
                <td class="quiet">{{ i.password_only ? 'a new password' : `joins as ${i.role}` }}</td>
                <td class="quiet">{{ when(i.expires) }}</td>
                <td class="acts"><button class="act" @click="takeBack(i.id)">Take back</button></td>
              </tr>
            </tbody>
          </table>
          <h2>What the workspace holds</h2>
          <table class="holds">
            <tbody><tr v-for="[what, much, more] in holds" :key="what"><td>{{ what }}</td><td>{{ much }}</td><td class="quiet">{{ more }}</td></tr></tbody>
          </table>
        </template>
      </section>
    </main>
  </div>
</template>

<style scoped src="./ledger.css" />
<style scoped>
.side {
  gap: 24px;
}
form,
.link {
  display: grid;
  gap: 12px;
}
p {
  margin: 0;
}
code {
  overflow-wrap: anywhere;
  user-select: all;
  background: var(--field);
  border: 1px solid var(--line);
  border-radius: 6px;
  padding: 6px 8px;
}
h1 {
  margin-bottom: 12px;
}
.by-table {
  max-width: 860px;
  margin-bottom: 12px;
}
section h2 {
  margin: 32px 0 8px;
}
td {
  height: 37px;
}
.role {
  width: 104px;
}
.holds {
  width: auto;
}
.holds td {
  padding-right: 32px;
}
.acts {
  text-align: right;
  padding-right: 0;
}
.act {
  margin-left: 16px;
}
</style>
