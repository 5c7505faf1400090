import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { FieldDef, KindRehearsal } from '@/api/types'
import { answering, changes, choose, offered, opened, put, refusing, settled } from '@/testing'
import KindChange from './KindChange.vue'

beforeEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const supplier = { id: 60, name: 'Supplier', kind: { type: 'text', limit: 80 } } as FieldDef
const KIND = 'POST /api/trackers/1/tables/4/fields/60/kind'
const own = { name: 'Suppliers', one: 'supplier' }
const LINKS = 'GET /api/trackers/1/tables/4/fields/60/links'
const told = (over: Partial<KindRehearsal> = {}): KindRehearsal =>
  ({ filled: 3, fit: 3, says: ['3 of 3 values fit.'], examples: [], unfit: [], besides: [], ...over }) as KindRehearsal

async function changing(answers: Record<string, unknown>) {
  const asked = answering(answers)
  const shown = put(KindChange, { props: { at: { tracker: 1, table: 4 }, field: supplier, fields: [], one: 'material', many: 'Materials' } }, opened()) // prettier-ignore
  await settled()
  const sent = () => changes(asked).map((one) => one.body as { to: unknown; rest: string; rehearse: boolean })
  const press = async (text: string) => {
    await shown
      .findAll('button')
      .find((one) => one.text() === text)!
      .trigger('click')
    await settled()
  }
  return { shown, sent, press }
}

describe('a field that becomes another kind', () => {
  it('is rehearsed as soon as the kind is chosen, and changed only when one says so', async () => {
    const { shown, sent, press } = await changing({ [KIND]: { rehearsal: told(), done: { seq: 9 } } })
    // Whoever works by keys goes on where it opened.
    expect(document.activeElement?.matches('input[role=combobox]')).toBe(true)
    await choose(shown, '[data-test=new-kind]', 'number')
    await settled()
    expect(sent()).toMatchObject([{ to: { kind: { type: 'number' } }, rest: 'spare', rehearse: true }])
    expect(shown.text()).toContain('3 of 3 values fit.')
    expect(shown.emitted('done')).toBeUndefined()
    await press('Change the kind')
    expect(sent().at(-1)).toMatchObject({ rehearse: false })
    expect(shown.emitted('done')).toEqual([[{ seq: 9 }]])
  })

  it('asks what becomes of what does not fit, only where something does not', async () => {
    const unfit = [{ text: 'soon', count: 2, why: '“soon” is not a number.' }]
    const { shown, sent } = await changing({ [KIND]: { rehearsal: told({ fit: 1, unfit }) } })
    await choose(shown, '[data-test=new-kind]', 'number')
    await settled()
    expect(offered(shown, '[data-test=rest]')).toEqual(['is kept in a text field beside it', 'is left empty'])
    expect(shown.get('[data-test=unfit]').text()).toContain('“soon” is not a number.')
    await choose(shown, '[data-test=rest]', 'is left empty')
    await settled()
    expect(sent().at(-1)).toMatchObject({ rest: 'empty', rehearse: true })
  })

  it('says why it can not be, and blocks the step', async () => {
    const { shown } = await changing({ [KIND]: refusing(422, 'A field of the kind “text” can’t become one of the kind “files”.') })
    await choose(shown, '[data-test=new-kind]', 'number')
    await settled()
    expect(shown.text()).toContain('can’t become one of the kind')
    expect(
      shown
        .findAll('button')
        .find((one) => one.text() === 'Change the kind')!
        .attributes('disabled'),
    ).toBeDefined()
  })
})

describe('a text that becomes a link', () => {
  const proposal = { to: 2, by: 21, matched: 9, of: 12, separator: null, says: 'Suppliers, by Name: 9 of 12 match' }

  it('goes to the table that fits best, or to a new one of its values', async () => {
    const { shown, sent } = await changing({ [LINKS]: { proposals: [proposal], own }, [KIND]: { rehearsal: told() } })
    await choose(shown, '[data-test=new-kind]', 'link')
    await settled()
    expect(shown.text()).toContain('Suppliers, by Name: 9 of 12 match')
    expect(sent().at(-1)).toMatchObject({ to: { link: { to: 2, by: 21, one: true } }, rest: 'create' })
    await shown.get('[data-test=new-link-table]').trigger('change')
    await settled()
    expect(sent().at(-1)!.to).toEqual({ table: { name: 'Suppliers', one_name: 'supplier', one: true, separator: null, other: { name: 'Materials', one: false } } }) // prettier-ignore
  })

  it('gets a table of its own where none has such records', async () => {
    const { shown, sent } = await changing({ [LINKS]: { proposals: [], own }, [KIND]: { rehearsal: told() } })
    await choose(shown, '[data-test=new-kind]', 'link')
    await settled()
    expect(shown.text()).toContain('No other table has records that are called like these values: they get one.')
    expect(sent()).toHaveLength(1)
    await shown.get<HTMLInputElement>('[data-test=link-several]').setValue(true)
    await settled()
    expect(sent().at(-1)!.to).toMatchObject({ table: { one: false, separator: ',' } })
    await shown.get<HTMLInputElement>('[data-test=link-table-name]').setValue('Makers')
    await shown.get('[data-test=link-table-name]').trigger('change')
    await settled()
    expect(sent().at(-1)!.to).toMatchObject({ table: { name: 'Makers' } })
  })
})
