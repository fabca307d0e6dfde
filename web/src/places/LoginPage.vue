<script setup lang="ts">
import { ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { useSession } from '@/session'

const session = useSession()
const router = useRouter()
const route = useRoute()
const username = ref('')
const password = ref('')
const wrong = ref('')
const busy = ref(false)

async function submit() {
  busy.value = true
  wrong.value = ''
  try {
    await session.logIn(username.value, password.value)
    const next = typeof route.query.next === 'string' && /^\/(?!\/)/.test(route.query.next) ? route.query.next : '/'
    await router.push(next)
  } catch (error) {
    wrong.value = (error as Error).message
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <main class="login">
    <form class="card" @submit.prevent="submit">
      <div class="mark"><img src="/icon.svg" width="36" height="36" alt="" /> Moorcrest</div>
      <p class="quiet">Mechanical drawings, derived and sized from the model.</p>
      <label>Name<el-input v-model="username" name="username" autocomplete="username" autofocus /></label>
      <label>Password<el-input v-model="password" name="password" type="password" autocomplete="current-password" /></label>
      <p v-if="wrong" class="fault-note" role="alert">{{ wrong }}</p>
      <el-button type="primary" native-type="submit" :loading="busy" :disabled="!username || !password">Log in</el-button>
    </form>
  </main>
</template>

<style scoped src="./entrance.css" />
