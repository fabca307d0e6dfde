import { createPinia } from 'pinia'
import { createApp } from 'vue'
import App from './App.vue'
import { router } from './router'
import './theme.css'

document.documentElement.classList.toggle('dark', localStorage.getItem('desk') === 'dark')
createApp(App).use(createPinia()).use(router).mount('#app')
