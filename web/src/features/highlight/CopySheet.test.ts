import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { HighlightCopy, HighlightView } from '@/api/types'
import { answering, changes, choose, field, opened, put, settled, table } from '@/testing'
import CopySheet from './CopySheet.vue'
import { begunFrom, takenOver } from './drafting'

beforeEach(() => (document.body.innerHTML = ''))
afterEach(() => vi.unstubAllGlobals())

const STATUS = field({ type: 'text', limit: 80 } as never, { id: 47, name: 'Status' })
const home = table([STATUS], { id: 3, name: 'Faults' } as never)
const one = { number: 2, highlight: { id: 9, table: 3 }, words: { sentence: [] } } as unknown as HighlightView
const copy = (over: Partial<HighlightCopy> = {}): HighlightCopy => ({
  asks: [{ field: 47, name: 'Status', becomes: null, fits: [{ field: 71, name: 'Stage' }] }],
  left: ['“status is made good” is left out: nothing stands for “Status”.'],
  condition: { any: [] },
  touches: [],
  words: { sentence: [{ text: 'Never, nothing looks otherwise yet.', tone: 'plain' }], when: 'never', matching: 0 },
  ...over,
})

describe('a highlight that is taken along', () => {
  it('asks for what is missing there, and is looked at there before anything is kept', async () => {
    const answers: Record<string, unknown> = {
      'GET /api/trackers': [{ id: 1, name: 'Path upkeep' }],
      'GET /api/trackers/1': {
        tables: [
          { id: 3, name: 'Faults' },
          { id: 8, name: 'Work parties' },
        ],
      },
      'POST /api/trackers/1/highlights/9/copy': copy(),
    }
    const asked = answering(answers)
    const shown = put(CopySheet, { props: { one, table: home } }, opened({ tables: [home] } as never))
    await settled()
    expect(shown.text()).toContain('is left out: nothing stands for')
    expect(shown.get('[data-test=take-highlight]').attributes('disabled')).toBeDefined()
    answers['POST /api/trackers/1/highlights/9/copy'] = copy({
      asks: [{ ...copy().asks[0]!, becomes: 71 }],
      left: [],
      touches: [{ fields: [71], look: { bold: true } }],
    })
    await choose(shown, '[data-test=copy-field-Status]', 'Stage')
    await settled()
    expect(changes(asked).at(-1)!.body).toEqual({ tracker: 1, table: 3, fields: [{ field: 47, becomes: 71 }] })
    await shown.get('form').trigger('submit')
    await settled()
    expect(takenOver()).toEqual({ condition: { any: [] }, touches: [{ fields: [71], look: { bold: true } }] })
    // Taken once.
    expect(takenOver()).toBeUndefined()
    expect(shown.emitted('leave')).toHaveLength(1)
    expect(changes(asked).every((each) => each.path.endsWith('/copy'))).toBe(true)
  })

  it('begins from a field, and from one of its options', () => {
    expect(begunFrom(undefined, undefined)).toEqual({ condition: { all: [] }, touches: [] })
    expect(begunFrom(47, undefined).touches).toEqual([{ fields: [47], look: {} }])
    expect(begunFrom(47, 84).condition).toEqual({
      all: [{ test: { path: [47], of: 'any', check: { is: 'option', not: false, any: [84] } } }],
    })
  })
})
