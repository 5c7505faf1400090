// What somebody chose for themselves on this device: light or dark, with which day weeks begin; and how days and numbers are written,
// which the team knows of them.
import { useLocalStorage, usePreferredDark } from '@vueuse/core'
import { computed, ref, watch } from 'vue'

export interface Own {
  light: 'system' | 'light' | 'dark'
  /** The day with which weeks begin: 1 is Monday, 0 Sunday, 6 Saturday. */
  week: 0 | 1 | 6
}

const own = useLocalStorage<Own>('westerfall own', { light: 'system', week: 1 }, { mergeDefaults: true })
const prefersDark = usePreferredDark()

export const dark = computed(() => (own.value.light === 'system' ? prefersDark.value : own.value.light === 'dark'))

watch(
  () => own.value.light,
  (now) => (document.documentElement.style.colorScheme = now === 'system' ? '' : now),
  { immediate: true },
)

const customs = ref<string>()

/** Days and figures are written, and typed, by these customs from now on; nothing: by the browser's, as for a stranger. */
export const writeBy = (tag: string | undefined) => (customs.value = tag)

/** The customs by which days and figures are written; nothing: the browser's. */
export const locale = () => customs.value

/** A count as one reads it. */
export const figure = (count: number) => count.toLocaleString(locale())

/** What stands before decimals where numbers are typed. Strangers type them as the tracker takes them. */
export const decimalMark = () => (customs.value ? (0.5).toLocaleString(customs.value).charAt(1) : '.')

export const useOwn = () => own
