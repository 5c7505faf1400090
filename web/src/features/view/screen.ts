// What one's own screen holds of a view: how wide its fields are and which of its groups are closed. It stays when one comes
// back, and changes the view for nobody.
import { computed, type Ref } from 'vue'
import { useLocalStorage } from '@vueuse/core'

export interface Screen {
  /** By field, in CSS pixels. */
  widths: Record<number, number>
  /** Keys of the groups that are closed. */
  closed: string[]
}

/** The narrowest and the widest that a field is drawn. */
export const NARROWEST = 56
export const WIDEST = 900

const bare = (): Screen => ({ widths: {}, closed: [] })

export function useScreen(of: Ref<string>) {
  const screens = useLocalStorage<Record<string, Screen>>('westerfall screens', {})
  const screen = computed(() => screens.value[of.value] ?? bare())
  const closed = computed(() => new Set(screen.value.closed))

  function put(part: Partial<Screen>) {
    screens.value = { ...screens.value, [of.value]: { ...screen.value, ...part } }
  }

  const widen = (field: number, width: number) =>
    put({ widths: { ...screen.value.widths, [field]: Math.round(Math.min(WIDEST, Math.max(NARROWEST, width))) } })

  function fold(key: string, close = !closed.value.has(key)) {
    const others = screen.value.closed.filter((one) => one !== key)
    put({ closed: close ? [...others, key] : others })
  }

  const foldAll = (keys: readonly string[]) => put({ closed: [...keys] })

  return { widths: computed(() => screen.value.widths), closed, widen, fold, foldAll }
}
