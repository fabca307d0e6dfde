import vue from '@vitejs/plugin-vue'
import { fileURLToPath } from 'node:url'
import AutoImport from 'unplugin-auto-import/vite'
import { ElementPlusResolver } from 'unplugin-vue-components/resolvers'
import Components from 'unplugin-vue-components/vite'
import { defineConfig } from 'vitest/config'

const resolver = ElementPlusResolver({ importStyle: process.env.VITEST ? false : 'css' })

export default defineConfig({
  plugins: [
    vue(),
    AutoImport({ resolvers: [resolver], dts: 'src/auto-imports.d.ts' }),
    Components({ resolvers: [resolver], dts: 'src/components.d.ts', dirs: [] }),
  ],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  server: { proxy: { '/api': 'http://127.0.0.1:8400' }, fs: { allow: ['..'] } },
  build: { chunkSizeWarningLimit: 900 },
  test: { environment: 'jsdom', include: ['src/**/*.test.ts'] },
})
