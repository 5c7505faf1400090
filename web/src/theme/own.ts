// What somebody chose for themselves on this device: light or dark, how days and numbers are written, with which day weeks begin.
import { useLocalStorage, usePreferredDark } from '@vueuse/core'
import { computed, watch } from 'vue'

export interface Own {
  light: 'system' | 'light' | 'dark'
  /** A language tag, by whose customs days and figures are written; empty: the browser's. */
  locale: string
  /** The day with which weeks begin: 1 is Monday, 0 Sunday, 6 Saturday. */
  week: 0 | 1 | 6
}

const own = useLocalStorage<Own>('westerfall own', { light: 'system', locale: '', week: 1 }, { mergeDefaults: true })
const prefersDark = usePreferredDark()

export const dark = computed(() => (own.value.light === 'system' ? prefersDark.value : own.value.light === 'dark'))

watch(
  () => own.value.light,
  (now) => (document.documentElement.style.colorScheme = now === 'system' ? '' : now),
  { immediate: true },
)

/** The customs by which days and figures are written; nothing: the browser's. */
export const locale = () => own.value.locale || undefined

/** A count as one reads it. */
export const figure = (count: number) => count.toLocaleString(locale())

export const useOwn = () => own
