import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import { ref } from 'vue'
import type { Design, FieldDef, Kind } from '@/api/types'
import { choose, offered, answering, opened, put, settled, table, field } from '@/testing'
import type { DesignSteps } from './design'
import FieldPanel from './FieldPanel.vue'

beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

const options = [
  { id: 70, name: 'reported', hue: 'sky' as const },
  { id: 71, name: 'checked', hue: 'fern' as const },
]
const status: FieldDef = { id: 47, name: 'Status', kind: { type: 'choice', options } as Kind }

function panel(known?: FieldDef) {
  answering({})
  const steps = {
    design: ref({
      fields: known
        ? [
            {
              field: known,
              uses: [],
              used: '',
              filled: 12,
              held: '12 records hold something here.',
              options: [{ option: 70, says: '9 records hold it, 1 place names it' }],
            },
          ]
        : [],
    } as unknown as Design),
    trouble: ref(''),
    read: vi.fn(),
    add: vi.fn(async () => ({ made: 300 })),
    change: vi.fn(async () => ({})),
    remove: vi.fn(async () => ({})),
    duplicate: vi.fn(async () => ({ made: 301 })),
    remember: vi.fn(),
  }
  const home = table([field({ type: 'text', limit: 80 })])
  const shown = put(
    FieldPanel,
    { props: { at: { tracker: 1, table: 3 }, steps: steps as unknown as DesignSteps, field: known?.id, before: 41 } },
    opened({ tables: [home] } as never),
  )
  return { shown, steps }
}

describe('a new field', () => {
  it('is offered in every kind that core knows, and begins as core says', async () => {
    const { shown, steps } = panel()
    const kinds = shown.get('[aria-label=Kind]').findAll('[role=radio]')
    expect(kinds.map((k) => k.text().split('\n')[0]!.trim())).toEqual(expect.arrayContaining([expect.stringContaining('Number')]))
    await kinds.find((k) => k.text().includes('Number'))!.trigger('click')
    await shown.get('[data-test=field-name]').setValue('Depth')
    await shown.get('[data-test=keep-field]').trigger('click')
    await settled()
    expect(steps.add).toHaveBeenCalledWith({ id: 1, name: 'Depth', kind: { type: 'number', decimals: 0, unit: '' } }, 41, undefined)
    expect(shown.emitted('made')).toEqual([[300]])
  })

  it('stays open with what is wrong', async () => {
    const { shown, steps } = panel()
    steps.add.mockRejectedValueOnce(new Error('“Depth” is there already.'))
    await shown.get('[data-test=field-name]').setValue('Depth')
    await shown.get('[data-test=keep-field]').trigger('click')
    await settled()
    expect(shown.text()).toContain('“Depth” is there already.')
    expect(shown.emitted('made')).toBeUndefined()
  })
})

describe('a field that is there', () => {
  it('is changed in a copy, so that leaving it leaves it as it was', async () => {
    const { shown } = panel(status)
    await shown.get('[data-test=field-name]').setValue('State')
    expect(status.name).toBe('Status')
  })

  it('asks what becomes of an option that is taken out', async () => {
    const { shown, steps } = panel(status)
    const drop = shown
      .get('[data-test=options]')
      .findAll('button')
      .filter((b) => /take|remove|×/i.test(b.attributes('aria-label') ?? b.text()))
    await drop[0]!.trigger('click')
    await settled()
    const becomes = '[aria-label^="What "]'
    expect(shown.text()).toContain('goes (9 records hold it, 1 place names it); where it stands,')
    expect(offered(shown, becomes)).toContain('the cell is left empty')
    await choose(shown, becomes, `it becomes ${options[1]!.name}`)
    await shown.get('[data-test=keep-field]').trigger('click')
    await settled()
    expect(steps.change).toHaveBeenCalledWith(expect.objectContaining({ id: 47, kind: { type: 'choice', options: [options[1]] } }), [
      [70, 71],
    ])
  })
})
