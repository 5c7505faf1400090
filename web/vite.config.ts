import { fileURLToPath, URL } from 'node:url'
import vue from '@vitejs/plugin-vue'
import vuetify from 'vite-plugin-vuetify'
import { defineConfig } from 'vitest/config'
import type { Plugin, Rolldown } from 'vite'

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

const here = (path: string) => fileURLToPath(new URL(path, import.meta.url))

/** What a module needs before it can run, itself included. */
function needsOf(module: string, modules: Rolldown.ChunkingContext, into = new Set<string>()): Set<string> {
  if (into.has(module)) return into
  into.add(module)
  for (const needed of modules.getModuleInfo(module)?.importedIds ?? []) needsOf(needed, modules, into)
  return into
}

const PLAIN = ['tracker/TrackerFrame', 'groundplan/GroundplanPage', 'rounds/RoundsPage', 'find/FindPage', 'people/PeoplePage']

/**
 * Which piece a module goes into, where several pages need it. Left alone, each set of pages that need the same has a piece of its
 * own: a hundred small files before the first rows, and half a second of asking for them. What everybody loads first, and what
 * people outside load, stays as it is.
 */
function pieces() {
  const known = new Map<string, Set<string>>()
  return (module: string, modules: Rolldown.ChunkingContext) => {
    const isFor = (path: string) => {
      if (!known.has(path)) known.set(path, needsOf(here(path), modules))
      return known.get(path)!.has(module)
    }
    if (['main.ts', 'form/main.ts', 'page/main.ts', 'reply/main.ts'].some((entry) => isFor(`./src/${entry}`))) return null
    if (isFor('./src/features/home/HomePage.vue')) return 'home'
    // What pages need that draw no records is apart from what those need that do.
    if (PLAIN.some((page) => isFor(`./src/features/${page}.vue`))) return 'pages'
    return isFor('./src/features/view/ViewPage.vue') ? 'work' : null
  }
}

// Four pages: the application; and what people outside load, which must stay small: forms, shared pages, answers to messages.
export default defineConfig({
  plugins: [vue(), vuetify({ autoImport: true }), faces()],
  resolve: { alias: { '@': here('./src') } },
  build: {
    target: 'es2022',
    // They know light-dark(), which is not to be written as something that can't be chosen.
    cssTarget: ['chrome123', 'firefox120', 'safari17.5'],
    assetsInlineLimit: 0,
    rolldownOptions: {
      input: { index: 'index.html', form: 'form.html', page: 'page.html', reply: 'reply.html' },
      output: {
        codeSplitting: { includeDependenciesRecursively: false, groups: [{ name: pieces(), debugName: 'pages', minShareCount: 2 }] },
      },
    },
  },
  // A busy machine is no fault of a test.
  test: { environment: 'happy-dom', testTimeout: 20_000, server: { deps: { inline: ['vuetify'] } } },
  server: { proxy: { '/api': 'http://127.0.0.1:8420' } },
})
