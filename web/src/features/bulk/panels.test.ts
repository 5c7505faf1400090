import { afterEach, describe, expect, it, vi } from 'vitest'
import { answering, changes, choose, field, opened, put, settled, table } from '@/testing'
import AgainPanel from './AgainPanel.vue'
import MergePanel from './MergePanel.vue'

afterEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const TABLE = '/api/trackers/1/tables/3'
const planned = field({ type: 'date' }, { id: 60, name: 'Planned' })
const title = field({ type: 'text', limit: 80 }, { id: 41, name: 'Title' })
const next = { name: 'Next month', lines: true, links: true, moves: [{ field: 60, by: { months: 1 } }], empties: [41] }
const told = { says: ['2 faults are added.'], count: 2, changed: 2, examples: [], refused: [], refusals: 0 }
/** Until what was changed was rehearsed. */
const wait = async () => {
  await new Promise((go) => setTimeout(go, 260))
  await settled()
}

describe('making again', () => {
  async function panel(over: object = {}) {
    const home = table([title, planned], { recipes: [next] as never, ...over })
    const asked = answering({
      [`POST ${TABLE}/again/rehearsal`]: told,
      [`POST ${TABLE}/again`]: { seq: 4, did: 'added 2 faults' },
      [`PUT ${TABLE}/recipes`]: { seq: 5, did: 'changed the table Faults' },
    })
    const shown = put(AgainPanel, { props: { tracker: 1, table: home, records: [7, 8] } }, opened({ tables: [home] } as never))
    await wait()
    return { shown, asked }
  }
  it('is rehearsed as they are, then by the recipe chosen, and done by what was rehearsed', async () => {
    const { shown, asked } = await panel()
    expect(changes(asked)[0]!.body).toMatchObject({ records: [7, 8], by: { moves: [], empties: [], links: true } })
    await choose(shown, '[data-test=again-recipe]', 'Next month')
    await wait()
    expect(shown.get('[data-test=again-says]').text()).toBe('2 faults are added.')
    await shown.get('[data-test=do-it]').trigger('click')
    await settled()
    expect(changes(asked).at(-1)).toMatchObject({ path: `${TABLE}/again`, body: { records: [7, 8], by: next } })
    expect(shown.emitted('done')).toHaveLength(1)
  })

  it('moves days on by what is typed, and not at all by nothing', async () => {
    const { shown, asked } = await panel()
    const size = shown.get('[data-moves=Planned] input')
    await size.setValue('7')
    await size.trigger('change')
    await wait()
    expect(changes(asked).at(-1)!.body).toMatchObject({ by: { moves: [{ field: 60, by: { days: 7 } }] } })
    await size.setValue('0')
    await size.trigger('change')
    await wait()
    expect(changes(asked).at(-1)!.body).toMatchObject({ by: { moves: [] } })
  })

  it('is kept as a recipe beside those there are, in the place of one of its name', async () => {
    const { shown, asked } = await panel()
    await shown.get('[data-test=recipe-name]').setValue('next month')
    await shown.get('[data-test=keep-recipe]').trigger('click')
    await settled()
    expect(changes(asked).at(-1)!.body).toMatchObject({ recipes: [{ name: 'next month', moves: [] }] })
    // What its name set going is over before another case begins.
    await wait()
  })
})

describe('making two one', () => {
  const line = (id: number, name: string, keep: string, other: string, choosing: boolean) => ({
    field: id,
    name,
    keep,
    other,
    then: keep,
    choose: choosing,
  })
  async function panel() {
    const lines = [line(41, 'Title', 'Stile', 'Stile gone', true), line(42, 'Orders', '1', '2', false)]
    const asked = answering({
      [`POST ${TABLE}/merge/rehearsal`]: { says: ['“B” goes to the bin.'], lines, wrong: null },
      [`POST ${TABLE}/merge`]: { seq: 4, did: 'put the fault into the bin' },
    })
    const shown = put(MergePanel, { props: { tracker: 1, table: table([title]), records: [7, 8] } })
    await settled()
    return { shown, asked }
  }

  it('lets one choose field by field, where they differ and one may', async () => {
    const { shown, asked } = await panel()
    expect(shown.findAll('input[type=radio]')).toHaveLength(2)
    await shown.findAll('[data-merge=Title] input')[1]!.trigger('change')
    await settled()
    expect(changes(asked).at(-1)!.body).toEqual({ keep: 7, other: 8, take: [41] })
    await shown.get('[data-test=do-it]').trigger('click')
    await settled()
    expect(changes(asked).at(-1)).toMatchObject({ path: `${TABLE}/merge`, body: { keep: 7, other: 8, take: [41] } })
  })

  it('keeps the values chosen where the other one is to stay', async () => {
    const { shown, asked } = await panel()
    await shown.get('[data-test=stays-second]').trigger('click')
    await settled()
    expect(changes(asked).at(-1)!.body).toEqual({ keep: 8, other: 7, take: [41] })
  })
})
