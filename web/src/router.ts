import { createRouter, createWebHistory } from 'vue-router'
import { useSession } from './session'

export const router = createRouter({
  history: createWebHistory(),
  routes: [
    { path: '/login', name: 'login', component: () => import('./places/LoginPage.vue') },
    { path: '/', name: 'shelf', component: () => import('./places/ShelfPage.vue') },
    { path: '/models/:id', name: 'model', component: () => import('./places/ModelPage.vue'), props: true },
    { path: '/styles/:id?', name: 'styles', component: () => import('./places/StylesPage.vue'), props: true },
    { path: '/materials', name: 'materials', component: () => import('./places/MaterialsPage.vue') },
    { path: '/reference', name: 'reference', component: () => import('./places/ReferencePage.vue') },
    { path: '/people', name: 'people', component: () => import('./places/PeoplePage.vue') },
    { path: '/join/:token', name: 'join', component: () => import('./places/JoinPage.vue'), props: true },
    { path: '/drawings/:id', name: 'desk', component: () => import('./places/DeskPage.vue'), props: true },
    { path: '/:rest(.*)', redirect: '/' },
  ],
})

router.beforeEach(async (to) => {
  const session = useSession()
  const me = session.me ?? (await session.load().catch(() => null))
  if (to.name === 'join') return true // for who has no account yet, too
  if (to.name !== 'login' && !me?.signed_in) return { name: 'login', query: { next: to.fullPath } }
  if (to.name === 'login' && me?.signed_in) return { name: 'shelf' }
  return true
})
