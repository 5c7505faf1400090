// A field that is made or changed beside the records: which it is, where it shall stand, and what waits for it.
import { computed, nextTick, ref, watch, type ComputedRef, type Ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { Field, Kind, Query, Shape, ShapeOffer, Table } from '@/api/types'
import type { Shown } from './window'

interface Options {
  table: ComputedRef<Table | undefined>
  query: Ref<Query | undefined>
  change: (part: Partial<Query>) => void
  window: () => Shown
  /** Closes what is open beside the records. */
  clear: () => void
  /** Brings a field into sight. */
  goToField: (field: number) => void
}

export function useShaping({ table, query, change, window, clear, goToField }: Options) {
  const route = useRoute()
  const router = useRouter()
  /** The field whose settings are open; `new`: one that is being made. */
  const shaping = ref<number | 'new'>()
  /** What a field that is being made begins as, and the shape that waits for it. */
  const made = ref<{ kind: Kind; shape: string }>()
  watch(shaping, (now) => {
    if (now === undefined) made.value = undefined
  })
  /** Where a field that is being made shall stand. */
  const beside = ref<{ field: number; behind: boolean }>()
  const before = computed(() => {
    const all = table.value?.fields ?? []
    const at = all.findIndex((f) => f.id === beside.value?.field)
    return at < 0 ? null : beside.value?.behind ? (all[at + 1]?.id ?? null) : all[at]!.id
  })

  function shape(field: Field, what: 'settings' | 'before' | 'behind' | 'hide') {
    if (what === 'hide') return change({ fields: query.value?.fields.filter((f) => f.field !== field.id) ?? [] })
    clear()
    beside.value = { field: field.id, behind: what === 'behind' }
    shaping.value = what === 'settings' ? field.id : 'new'
  }

  /** The field that a shape lacks is made here; the shape is chosen once it is there. */
  function makeFor(offer: ShapeOffer) {
    if (!offer.makes) return
    clear()
    beside.value = undefined
    shaping.value = 'new'
    made.value = { kind: offer.makes, shape: offer.name }
  }

  async function shaped(field: number) {
    const wanted = made.value
    made.value = undefined
    if (wanted) {
      // What the shape begins as with its field is the server's to say.
      await window().refresh()
      const begins: Shape | null | undefined = window().answer.value?.shapes.find((offer) => offer.name === wanted.shape)?.begins
      if (begins) change({ shape: begins })
    }
    await router.replace({ query: { ...route.query, show: field } })
  }

  // A field that was just made is shown: where it was wanted, or behind the last.
  watch(
    [() => route.query.show, query],
    ([show, now]) => {
      const field = Number(show)
      if (!field || !now || !table.value?.fields.some((f) => f.id === field)) return
      if (!now.fields.some((f) => f.field === field)) {
        const fields = [...now.fields]
        const at = fields.findIndex((f) => f.field === beside.value?.field)
        fields.splice(at < 0 ? fields.length : at + (beside.value?.behind ? 1 : 0), 0, { field, width: 150 })
        change({ fields })
      }
      void router.replace({ query: { ...route.query, show: undefined } })
      void nextTick(() => goToField(field))
    },
    { immediate: true },
  )

  return { shaping, made, before, shape, makeFor, shaped }
}
