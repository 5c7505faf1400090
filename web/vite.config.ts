import { fileURLToPath, URL } from 'node:url'
import vue from '@vitejs/plugin-vue'
import vuetify from 'vite-plugin-vuetify'
import { defineConfig } from 'vitest/config'
import type { Plugin } from 'vite'

/** The two faces that every page is set in are asked for with it: a text that is set in another one first would jump. */
const faces = (): Plugin => ({
  name: 'faces',
  transformIndexHtml: {
    order: 'post',
    handler: (_, { bundle }) =>
      Object.keys(bundle ?? {})
        .filter((file) => /-latin-wght-normal-.*\.woff2$/.test(file))
        .map((file) => ({
          tag: 'link',
          injectTo: 'head' as const,
          attrs: { rel: 'preload', as: 'font', type: 'font/woff2', href: `/${file}`, crossorigin: '' },
        })),
  },
})

// Four pages: the application; and what people outside load, which must stay small: forms, shared pages, answers to messages.
export default defineConfig({
  plugins: [vue(), vuetify({ autoImport: true }), faces()],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  build: {
    target: 'es2022',
    // They know light-dark(), which is not to be written as something that can't be chosen.
    cssTarget: ['chrome123', 'firefox120', 'safari17.5'],
    assetsInlineLimit: 0,
    rolldownOptions: { input: { index: 'index.html', form: 'form.html', page: 'page.html', reply: 'reply.html' } },
  },
  // A busy machine is no fault of a test.
  test: { environment: 'happy-dom', testTimeout: 20_000, server: { deps: { inline: ['vuetify'] } } },
  server: { proxy: { '/api': 'http://127.0.0.1:8420' } },
})
