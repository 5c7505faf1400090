import { afterEach, describe, expect, it, vi } from 'vitest'
import { put, settled } from '@/testing'
import PickList, { type Pick } from './PickList.vue'

const ALL: Pick[] = [
  { id: 1, name: 'passable' },
  { id: 2, name: 'awkward' },
  { id: 3, name: 'grave' },
]
const among = (all: Pick[]) => (text: string) => Promise.resolve(all.filter((pick) => pick.name.includes(text)))

function list(over: Partial<InstanceType<typeof PickList>['$props']> = {}) {
  const shown = put(PickList, { props: { label: 'Severity', search: among(ALL), chosen: [], ...over } })
  const box = shown.get('input')
  return {
    shown,
    box,
    names: () => shown.findAll('[role=option]').map((one) => one.text()),
    key: (key: string) => box.trigger('keydown', { key }),
  }
}

afterEach(() => (document.body.innerHTML = ''))

describe('one of a list', () => {
  it('shows all, and what Enter would pick is the one that stands there', async () => {
    const { shown, names, box } = list({ chosen: [ALL[1]!] })
    await settled()
    expect(names()).toEqual(['passable', 'awkward', 'grave'])
    expect(shown.get('[aria-selected=true]').text()).toBe('awkward')
    expect(box.attributes('aria-activedescendant')).toBe('pick-2')
  })

  it('picks what was typed though the answer is still on its way', async () => {
    const slow = (text: string) => new Promise<Pick[]>((done) => setTimeout(() => done(ALL.filter((p) => p.name.includes(text))), 30))
    const { shown, box, key } = list({ search: slow })
    await box.setValue('gra')
    await key('Enter')
    await vi.waitFor(() => expect(shown.emitted('pick')).toEqual([[[3], 'down', [expect.any(String)]]]))
  })

  it('ignores an older answer that comes late', async () => {
    const waits = new Map<string, (picks: Pick[]) => void>()
    const { box, names } = list({ search: (text) => new Promise<Pick[]>((done) => waits.set(text, done)) })
    await box.setValue('a')
    await box.setValue('gra')
    waits.get('gra')!([ALL[2]!])
    waits.get('a')!(ALL)
    await settled()
    expect(names()).toEqual(['grave'])
  })

  it('goes by arrows no further than its ends', async () => {
    const { shown, key } = list()
    await settled()
    for (const step of ['ArrowUp', 'ArrowDown', 'ArrowDown', 'ArrowDown', 'ArrowDown', 'ArrowUp']) await key(step)
    expect(shown.get('[aria-selected=true]').text()).toBe('awkward')
  })

  it('is emptied by Backspace, left by Escape, and says so where nothing fits', async () => {
    const { shown, box, key } = list({ chosen: [ALL[0]!] })
    await settled()
    await key('Backspace')
    await key('Escape')
    expect([shown.emitted('pick'), shown.emitted('cancel')?.length]).toEqual([[[[], 'stay', []]], 1])
    await box.setValue('zzz')
    await settled()
    expect(shown.text()).toContain('Nothing fits what you typed.')
  })

  it('leaves what stands there where Tab goes on and nothing was typed', async () => {
    const { shown, key } = list({ chosen: [ALL[0]!] })
    await settled()
    await key('Tab')
    await settled()
    expect([shown.emitted('pick'), shown.emitted('cancel')?.length]).toEqual([undefined, 1])
  })

  it('chooses nothing for whoever only passes by, and what the arrows came to for whoever stopped', async () => {
    const passed = list({})
    await settled()
    await passed.key('Tab')
    await settled()
    expect([passed.shown.emitted('pick'), passed.shown.emitted('cancel')]).toEqual([undefined, [['right']]])
    const stopped = list({})
    await settled()
    await stopped.key('ArrowDown')
    await stopped.key('Tab')
    await settled()
    expect(stopped.shown.emitted('pick')).toEqual([[[ALL[1]!.id], 'right', [ALL[1]!.name]]])
  })

  it('offers to make one that is not there', async () => {
    const { shown, box, key } = list({ makes: 'Make the section' })
    await box.setValue('Hob Gate')
    await settled()
    expect(shown.get('[data-test=make]').text()).toBe('Make the section “Hob Gate”')
    await key('Enter')
    await settled()
    expect(shown.emitted('make')).toEqual([['Hob Gate', []]])
  })
})

describe('several of a list', () => {
  it('gathers them, leaves out those chosen, and gives all at the end', async () => {
    const { shown, box, names, key } = list({ many: true, chosen: [ALL[0]!] })
    await settled()
    expect(names()).toEqual(['awkward', 'grave'])
    await box.setValue('gra')
    await key('Enter')
    await settled()
    expect(box.element.value).toBe('')
    await key('Enter')
    await settled()
    expect(shown.emitted('pick')).toEqual([[[1, 3], 'down', [expect.any(String), expect.any(String)]]])
  })

  it('takes the last out by Backspace and any by its button', async () => {
    const { shown, key } = list({ many: true, chosen: [...ALL] })
    await settled()
    await key('Backspace')
    await shown.get('[aria-label="Take out passable"]').trigger('click')
    await shown.get('.done').trigger('click')
    expect(shown.emitted('pick')).toEqual([[[2], 'stay', [expect.any(String)]]])
  })
})
