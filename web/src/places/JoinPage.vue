<script setup lang="ts">
// Where an invitation or a link to a new password leads.
import { onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, data, type Schemas } from '@/api/client'
import { useSession } from '@/session'

const props = defineProps<{ token: string }>()
const session = useSession()
const router = useRouter()
const link = ref<Schemas['Invited']>()
const fields = ref({ username: '', name: '', password: '' })
const problem = ref('')
const busy = ref(false)

async function attempt(work: () => Promise<void>) {
  busy.value = true
  problem.value = ''
  try {
    await work()
  } catch (error) {
    problem.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
const path = { path: { token: props.token } }
const join = () =>
  attempt(async () => {
    await data(api.POST('/api/join/{token}', { params: path, body: fields.value }))
    await session.load()
    await router.push('/')
  })
const joinHere = () =>
  attempt(async () => {
    await data(api.POST('/api/join/{token}/here', { params: path }))
    await session.load()
    await router.push('/')
  })
onMounted(() =>
  attempt(async () => {
    link.value = await data(api.GET('/api/join/{token}', { params: path }))
    fields.value.name = link.value.password_only ? '' : link.value.name
  }),
)
</script>

<template>
  <main class="login">
    <form class="card" @submit.prevent="join">
      <div class="mark"><img src="/icon.svg" width="36" height="36" alt="" /> Moorcrest</div>
      <template v-if="link">
        <p v-if="link.password_only">A new password for <strong>{{ link.username }}</strong> at {{ link.workspace }}.</p>
        <p v-else>You are invited to work at <strong>{{ link.workspace }}</strong>.</p>
        <template v-if="!link.password_only && session.me?.signed_in">
          <el-button type="primary" :loading="busy" data-test="join-here" @click="joinHere">Join as {{ session.me.name }}</el-button>
          <p class="quiet">Or make another account:</p>
        </template>
        <template v-if="!link.password_only">
          <label>Your name, as others see it<el-input v-model="fields.name" name="name" autocomplete="name" /></label>
          <label>Name to log in with<el-input v-model="fields.username" name="username" autocomplete="username" /></label>
        </template>
        <label>Password<el-input v-model="fields.password" name="password" type="password" autocomplete="new-password" /></label>
        <p class="quiet">At least 10 characters; not your name, and nothing that everybody uses.</p>
        <p v-if="problem" class="fault-note" role="alert">{{ problem }}</p>
        <el-button type="primary" native-type="submit" :loading="busy" :disabled="!fields.password || (!link.password_only && !fields.username)">
          {{ link.password_only ? 'Keep the new password' : 'Join' }}
        </el-button>
      </template>
      <template v-else-if="problem">
        <p class="fault-note" role="alert">{{ problem }}</p>
        <RouterLink to="/">To Moorcrest</RouterLink>
      </template>
    </form>
  </main>
</template>

<style scoped src="./entrance.css" />
