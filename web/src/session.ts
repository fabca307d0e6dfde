// Who is logged in. Kept small: the server decides what may be seen.
import { defineStore } from 'pinia'
import { ref } from 'vue'
import { api, data, type Me } from '@/api/client'

export const useSession = defineStore('session', () => {
  const me = ref<Me | null>(null)

  async function load(): Promise<Me> {
    me.value = await data(api.GET('/api/me'))
    return me.value
  }
  async function logIn(username: string, password: string): Promise<void> {
    me.value = await data(api.POST('/api/login', { body: { username, password } }))
  }
  async function workIn(id: number): Promise<void> {
    me.value = await data(api.PUT('/api/me/workspace', { body: { id } }))
  }
  async function logOut(): Promise<void> {
    me.value = await data(api.POST('/api/logout'))
  }
  return { me, load, logIn, workIn, logOut }
})
