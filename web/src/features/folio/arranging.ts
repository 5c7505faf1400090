// How a table's records are laid out, while somebody arranges it: every step is kept at once, and taken back like any other.
import { ref, shallowRef, watch, type Ref } from 'vue'
import { api, told } from '@/api/client'
import type { Arrangement, PlacedField, Phrase, RecordList, Section, Table } from '@/api/types'
import { useDoing } from '@/app/asking'
import { useEdits } from '@/features/cell/edits'
import { isKept } from '@/features/cell/kinds'

/** A section as it stands while it is arranged. */
export interface ArrangedSection extends Section {
  /** What it is known by here, also while it has no heading. */
  key: number
}

let keys = 0
const NOTHING: Arrangement = { sections: [], away: [], lists: [] }

/** Fields that stand nowhere yet: they follow after the last section. */
export function restOf(table: Table, arrangement: Arrangement): PlacedField[] {
  const placed = new Set([...arrangement.sections.flatMap((section) => section.fields.map((one) => one.field)), ...arrangement.away])
  const isRest = (field: Table['fields'][number]) =>
    !placed.has(field.id) && !isKept(field) && field.id !== table.standing && field.kind.type !== 'numbering'
  return table.fields.filter(isRest).map((field) => ({ field: field.id, wide: false }))
}

/** The same sections with a field one place further up or down, over the edges between sections. */
export function shifted(sections: readonly Section[], at: number, place: number, by: 1 | -1): Section[] {
  const next = sections.map((section) => ({ ...section, fields: [...section.fields] }))
  const [moved] = next[at]?.fields.splice(place, 1) ?? []
  if (!moved) return next
  const to = place + by
  const beside = next[at + by]
  if (to >= 0 && to <= next[at]!.fields.length) next[at]!.fields.splice(to, 0, moved)
  else if (!beside) next[at]!.fields.splice(place, 0, moved)
  else if (by < 0) beside.fields.push(moved)
  else beside.fields.unshift(moved)
  return next
}

/** Whether a field takes both columns once its edge was drawn so far, in pixels, where both are so wide together. */
export function isWideAt(wide: boolean, drawn: number, whole: number): boolean {
  const enough = whole / 6
  return wide ? drawn > -enough : drawn > enough
}

export function useArranging(tracker: Ref<number>, table: Ref<Table>, changed: () => void) {
  const edits = useEdits()
  const { trouble, attempt } = useDoing()
  const sections = ref<ArrangedSection[]>([])
  const away = ref<number[]>([])
  const lists = ref<RecordList[]>([])
  const rest = ref<PlacedField[]>([])
  const sentences = shallowRef<Phrase[][]>([])
  const path = () => ({ tracker: tracker.value, table: table.value.id })

  async function read() {
    const answer = await told(api.GET('/api/trackers/{tracker}/tables/{table}/arrangement', { params: { path: path() } }))
    const known = sections.value
    sections.value = answer.arrangement.sections.map((section, n) => ({ ...section, key: known[n]?.key ?? (keys += 1) }))
    away.value = answer.arrangement.away
    lists.value = answer.arrangement.lists
    rest.value = restOf(table.value, answer.arrangement)
    sentences.value = answer.sentences
  }

  /** Keeps how it stands now. */
  const keep = () =>
    attempt(async () => {
      const body: Arrangement = {
        ...NOTHING,
        sections: sections.value.map(({ key: _key, ...section }) => section),
        away: away.value,
        lists: lists.value,
      }
      edits.remember(
        tracker.value,
        await told(api.PUT('/api/trackers/{tracker}/tables/{table}/arrangement', { params: { path: path() }, body })),
      )
      await read()
      changed()
    }).then(async () => trouble.value && (await read()))

  watch([tracker, () => table.value.id], () => void attempt(read), { immediate: true })

  function addSection() {
    const section: ArrangedSection = {
      key: (keys += 1),
      heading: '',
      fields: [],
      two: false,
      closed: false,
      when: { all: [] },
      not_for: [],
    }
    sections.value = [...sections.value, section]
    return keep()
  }

  function set(at: number, to: Partial<Section>) {
    sections.value = sections.value.map((section, n) => (n === at ? { ...section, ...to } : section))
    return keep()
  }

  function dropSection(at: number) {
    sections.value = sections.value.filter((_, n) => n !== at)
    return keep()
  }

  function shiftSection(at: number, by: number) {
    const next = [...sections.value]
    const [moved] = next.splice(at, 1)
    if (moved) next.splice(Math.max(0, at + by), 0, moved)
    sections.value = next
    return keep()
  }

  function shiftField(at: number, place: number, by: 1 | -1) {
    const known = sections.value
    sections.value = shifted(known, at, place, by).map((section, n) => ({ ...section, key: known[n]!.key }))
    return keep()
  }

  /** A field into a section, away, or nowhere: then it stands after the last. */
  function put(field: number, to: number | 'away' | 'rest') {
    sections.value = sections.value.map((section, n) => {
      const fields = section.fields.filter((one) => one.field !== field)
      return { ...section, fields: n === to ? [...fields, { field, wide: false }] : fields }
    })
    away.value = [...away.value.filter((one) => one !== field), ...(to === 'away' ? [field] : [])]
    return keep()
  }

  const setList = (list: RecordList) => {
    lists.value = [...lists.value.filter((one) => one.field !== list.field), ...(list.shows.length ? [list] : [])]
    return keep()
  }

  return { sections, away, lists, rest, sentences, trouble, keep, addSection, set, dropSection, shiftSection, shiftField, put, setList }
}
