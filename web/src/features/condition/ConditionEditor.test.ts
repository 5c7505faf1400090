import { beforeEach, describe, expect, it } from 'vitest'
import type { Condition } from '@/api/types'
import { choose, chosen, field, opened, put, settled, table } from '@/testing'
import ConditionEditor from './ConditionEditor.vue'
import RuleEditor from './RuleEditor.vue'

beforeEach(() => (document.body.innerHTML = ''))

const home = table([
  field({ type: 'text', limit: 80 }, { id: 41, name: 'What is wrong' }),
  field({ type: 'number', decimals: 0, unit: '' }, { id: 42, name: 'Hours' }),
])
const tracker = () => opened({ tables: [home] } as never)
const filled = (id: number): Condition => ({ test: { path: [id], of: 'any', check: { is: 'filled' } } })
const says = (text: string): Condition => ({ test: { path: [41], of: 'any', check: { is: 'text', how: 'contains', text } } })

async function editing(modelValue: Condition, props: object = {}) {
  const shown = put(ConditionEditor, { props: { table: home, modelValue, ...props } }, tracker())
  await settled()
  return { shown, asked: () => shown.emitted('update:modelValue')?.at(-1)?.[0] as Condition | undefined }
}

describe('a condition being edited', () => {
  it('says what no condition means where it is, and begins with a test of the first field', async () => {
    const { shown, asked } = await editing({ all: [] }, { nothing: 'It is always asked.' })
    expect(shown.text()).toContain('It is always asked.')
    await shown.get('[data-test=add-test]').trigger('click')
    expect(asked()).toEqual({ all: [filled(41)] })
  })

  it('asks how tests are joined only where there are several', async () => {
    expect((await editing({ all: [filled(41)] })).shown.text()).not.toContain('of these hold')
    const { shown, asked } = await editing({ all: [filled(41), filled(42)] }, { lead: 'Asked when' })
    expect(shown.get('.join').text()).toContain('Asked when')
    expect(chosen(shown, '[aria-label="How the tests are joined"]')).toBe('all')
    await choose(shown, '[aria-label="How the tests are joined"]', 'any')
    expect(asked()).toEqual({ any: [filled(41), filled(42)] })
  })

  it('takes out exactly the one that is pressed, and keeps how the rest is joined', async () => {
    const { shown, asked } = await editing({ any: [filled(41), filled(42), says('gate')] })
    await shown.findAll('.drop')[1]!.trigger('click')
    expect(asked()).toEqual({ any: [filled(41), says('gate')] })
  })

  it('nests groups two deep and no deeper', async () => {
    const { shown, asked } = await editing({ all: [filled(41), { any: [filled(42), { all: [filled(41)] }] }] })
    const offers = shown.findAll('.more').map((line) => line.text().includes('group'))
    // The innermost first, as they stand on the page.
    expect(offers).toEqual([false, true, true])
    await shown.findAll('.more button').at(-1)!.trigger('click')
    expect(asked()).toEqual({ all: [filled(41), { any: [filled(42), { all: [filled(41)] }] }, { any: [filled(41)] }] })
  })

  it('changes a part of a group without touching its neighbours', async () => {
    const { shown, asked } = await editing({ all: [says('wall'), { any: [says('gate'), filled(42)] }] })
    await shown.findAll<HTMLInputElement>('input[aria-label="Compared with"]')[1]!.setValue('stile')
    expect(asked()).toEqual({ all: [says('wall'), { any: [says('stile'), filled(42)] }] })
  })
})

describe('a rule that is kept as one edits it', () => {
  async function rule(modelValue: Condition) {
    const shown = put(RuleEditor, { props: { table: home, modelValue } }, tracker())
    await settled()
    return { shown, kept: () => (shown.emitted('update:modelValue') ?? []).map(([condition]) => condition as Condition) }
  }

  it('keeps a test against nothing here until it says something', async () => {
    const { shown, kept } = await rule({ all: [says('gate')] })
    await shown.get<HTMLInputElement>('input[aria-label="Compared with"]').setValue('')
    // The rule without it, as if it were not there yet.
    expect(kept()).toEqual([{ all: [] }])
    expect(shown.findAll('.test')).toHaveLength(1)
    await shown.get<HTMLInputElement>('input[aria-label="Compared with"]').setValue('stile')
    expect(kept().at(-1)).toEqual({ all: [says('stile')] })
  })

  it('shows what came from elsewhere, and does not answer it', async () => {
    const { shown, kept } = await rule({ all: [] })
    await shown.setProps({ modelValue: { all: [filled(42)] } })
    expect(shown.findAll('.test')).toHaveLength(1)
    expect(kept()).toEqual([])
  })
})
