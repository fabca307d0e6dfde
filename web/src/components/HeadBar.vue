<script setup lang="ts">
// The head of every place: the name, where one is, and who one is.
import { useRouter } from 'vue-router'
import { useSession } from '@/session'

const session = useSession()
const router = useRouter()

function turnDark() {
  const dark = document.documentElement.classList.toggle('dark')
  localStorage.setItem('desk', dark ? 'dark' : 'light')
}
async function workIn(id: number) {
  await session.workIn(id)
  location.assign('/') // everything shown is another workspace's now
}
async function leave() {
  await session.logOut()
  await router.push({ name: 'login' })
}
</script>

<template>
  <header class="head">
    <RouterLink to="/" class="mark" aria-label="Moorcrest, to the shelf">
      <img src="/icon.svg" width="24" height="24" alt="" />
      <span>Moorcrest</span>
    </RouterLink>
    <slot />
    <span class="space" />
    <slot name="end" />
    <el-dropdown v-if="session.me && session.me.workspaces.length > 1" trigger="click" @command="workIn">
      <button class="pill workspace" data-test="workspaces">{{ session.me.workspace }} ▾</button>
      <template #dropdown>
        <el-dropdown-menu>
          <el-dropdown-item v-for="w in session.me.workspaces" :key="w.id" :command="w.id">{{ w.name }}</el-dropdown-item>
        </el-dropdown-menu>
      </template>
    </el-dropdown>
    <span v-else class="pill workspace">{{ session.me?.workspace }}</span>
    <el-dropdown trigger="click">
      <button class="pill" data-test="account">{{ session.me?.name }}</button>
      <template #dropdown>
        <el-dropdown-menu>
          <el-dropdown-item data-test="to-styles" @click="router.push({ name: 'styles' })">House styles</el-dropdown-item>
          <el-dropdown-item data-test="to-materials" @click="router.push({ name: 'materials' })">Materials</el-dropdown-item>
          <el-dropdown-item data-test="to-reference" @click="router.push({ name: 'reference' })">Tables of the standards</el-dropdown-item>
          <el-dropdown-item data-test="to-people" @click="router.push({ name: 'people' })">People and password</el-dropdown-item>
          <el-dropdown-item @click="turnDark">Dark or light desk</el-dropdown-item>
          <el-dropdown-item divided data-test="log-out" @click="leave">Log out</el-dropdown-item>
        </el-dropdown-menu>
      </template>
    </el-dropdown>
  </header>
</template>

<style scoped>
.head {
  height: 48px;
  flex: none;
  display: flex;
  align-items: center;
  gap: 12px;
  padding: 0 16px;
  background: var(--panel);
  border-bottom: 1px solid var(--line);
}
.mark {
  display: flex;
  align-items: center;
  gap: 12px;
  font-weight: 600;
  font-size: 15px;
  color: var(--accent);
}
.pill {
  font-size: 13px;
  line-height: 20px;
}
.space {
  flex: 1;
}
@media (max-width: 1100px) {
  .workspace {
    display: none;
  }
}
</style>
