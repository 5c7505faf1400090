// What can be said of fields, in core's words: asked once for the whole page.
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, told } from '@/api/client'
import type { Check, CheckWords, Choice, Field, FieldDef, Figure, FigureWords, Hue, Kind, KindWords, Vocabulary } from '@/api/types'

export const VOCABULARY = ['vocabulary'] as const
type Type = Kind['type']

const copyOf = <T>(one: T): T => JSON.parse(JSON.stringify(one)) as T
/** Numbers of options that were not kept yet: far above those that the server gives. */
let fresh = 2_000_000_000

/** The vocabulary, and what it says of kinds; nothing until it came, for which the frame of a tracker waits. */
export function useVocabulary() {
  const query = useQuery({ queryKey: VOCABULARY, queryFn: () => told(api.GET('/api/vocabulary')), staleTime: Infinity })
  const vocabulary = computed<Vocabulary | undefined>(() => query.data.value)
  const kinds = computed(() => new Map(vocabulary.value?.kinds.map((words) => [words.type, words])))
  /** The kinds that are made by hand, under their groups. */
  const groups = computed(() => {
    const all = vocabulary.value?.kinds.filter((words) => words.group) ?? []
    const names = [...new Set(all.map((words) => words.group!))]
    return names.map((name) => ({ name, kinds: all.filter((words) => words.group === name) }))
  })
  const hues = computed<Hue[]>(() => vocabulary.value?.hues ?? [])

  const ofKind = (type: Type | undefined): KindWords | undefined => (type ? kinds.value.get(type) : undefined)
  /** A kind as a new field of it begins. */
  const begins = (type: Type): Kind => copyOf(ofKind(type)?.begins ?? ({ type } as Kind))
  /** The next option of a choice, of a hue that differs from its neighbour's. */
  function newOption(options: Choice[], name: string): Choice {
    const last = options.length ? hues.value.indexOf(options[options.length - 1]!.hue) : -1
    return { id: fresh++, name, hue: hues.value[(last + 1) % hues.value.length] ?? 'slate' }
  }

  return {
    vocabulary,
    waiting: query.isPending,
    groups,
    hues,
    ofKind,
    begins,
    kindName: (type: Type) => ofKind(type)?.name ?? '',
    checks: (type: Type | undefined): CheckWords[] => ofKind(type)?.checks ?? [],
    /** The kinds that another field, or a column, can become. */
    becoming: computed(() => vocabulary.value?.kinds.filter((words) => words.becomes) ?? []),
    isAskable: (field: Field) => !!ofKind(field.kind.type)?.asked,
    /** A field that was not made yet; its number is given by the server. */
    newField: (type: Type): FieldDef => ({ id: 1, name: '', kind: begins(type) }),
    newOption,
    /** The figures that can stand under a field of a view. */
    figuresOf: (field: Field | undefined): FigureWords[] =>
      (vocabulary.value?.figures ?? []).filter((one) => one.short && (!one.of.length || (!!field && one.of.includes(field.shows.type)))),
    figureWord: (figure: Figure): string => vocabulary.value?.figures.find((one) => one.figure === figure)?.word ?? figure,
  }
}

/** Whether two checks are of one sort, whatever they compare with. */
export function isSameSort(one: Check, other: Check): boolean {
  const sort = (check: Check) => [check.is, 'how' in check ? check.how : '', 'not' in check ? check.not : ''].join()
  return sort(one) === sort(other)
}

/** The first check of a sort, keeping of another what fits it. */
export function turnedInto(check: Check, begins: Check): Check {
  if (check.is !== begins.is) return begins
  const { how, not } = begins as { how?: unknown; not?: unknown }
  return { ...check, ...(how === undefined ? {} : { how }), ...(not === undefined ? {} : { not }) } as Check
}
