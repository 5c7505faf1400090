import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Condition, SlipAct } from '@/api/types'
import { answering, field, put, settled } from '@/testing'
import SlipPopup from './SlipPopup.vue'

beforeEach(() => (document.body.innerHTML = ''))

const title = field({ type: 'text', limit: 80 }, { id: 41, name: 'Title' })
const only: Condition = { test: { path: [41], of: 'any', check: { is: 'empty' } } }

describe('the slip where a field was pressed', () => {
  it.each([
    [{ act: 'order', descending: true }, 'order', [title, true]],
    [{ act: 'where' }, 'narrow', [title]],
    [{ act: 'group', on: true }, 'group', [title]],
    [{ act: 'group', on: false }, 'group', [undefined]],
    [{ act: 'narrow', only }, 'only', [only]],
    [{ act: 'hide' }, 'design', [title, 'hide']],
    [{ act: 'settings' }, 'design', [title, 'settings']],
    [{ act: 'add', behind: true }, 'design', [title, 'behind']],
    [{ act: 'add', behind: false }, 'design', [title, 'before']],
    [{ act: 'compute', summary: true }, 'compute', ['summary', title]],
    [{ act: 'formula' }, 'formula', [title]],
    [{ act: 'use', what: 'view', number: 101, table: 3 }, 'use', [{ act: 'use', what: 'view', number: 101, table: 3 }]],
  ] as [SlipAct, string, unknown[]][])('does what its phrase says, and closes: %o', async (does, what, asked) => {
    const slip = {
      says: '3 faults hold something.',
      drawing: { of: 'nothing' },
      clauses: [{ word: 'only', phrases: [{ text: 'press', does }] }],
    }
    answering({ 'POST /api/trackers/1/tables/3/fields/41/slip': slip })
    const shown = put(SlipPopup, {
      props: { at: { field: title, x: 8, y: 40 }, tracker: 1, table: 3, query: { fields: [] }, readonly: false },
    })
    await settled()
    document.querySelector<HTMLElement>('[data-test=slip] dd button')!.click()
    await settled()
    expect(shown.emitted(what)).toEqual([asked])
    expect(shown.emitted('close')).toHaveLength(1)
    vi.unstubAllGlobals()
  })
})
