import { describe, expect, it, vi } from 'vitest'
import { computed, ref, shallowRef } from 'vue'
import type { Field, Group, Row } from '@/api/types'
import { field } from '@/testing'
import { useActive } from './active'
import { gridKey } from './gridKeys'
import { groupKey, Layout } from './layout'
import type { useWindow } from './window'

const group = (name: string, count: number) => ({ value: { text: name }, text: name, count, tallies: [], within: [] }) as unknown as Group
const row = (id: number) => ({ id, cells: [], change: true }) as unknown as Row

/** A grid of two groups, three records and two; three fields. */
function grid(closed: string[] = [], loaded = [1, 2, 3, 4, 5]) {
  const groups = [group('Eskermoor', 3), group('Ninestone', 2)]
  const rows = shallowRef(new Map(loaded.map((id) => [id - 1, row(id)])))
  const closedKeys = ref(new Set(groups.filter((g) => closed.includes(g.text)).map((g) => groupKey([g]))))
  const window = {
    rows,
    placeOf: computed(() => new Map([...rows.value].map(([place, one]) => [one.id, place]))),
    answer: computed(() => ({ row_count: 5 })),
  } as unknown as ReturnType<typeof useWindow>
  const told = { leave: vi.fn(), move: vi.fn(), reveal: vi.fn() }
  const columns = ref<Field[]>([1, 2, 3].map((id) => field({ type: 'yes_no' }, { id })))
  const at = useActive({
    columns,
    layout: computed(() => new Layout(groups, 5, closedKeys.value)),
    window: () => window,
    reveal: told.reveal,
    headings: () => true,
    onLeave: (left) => left && told.leave(left.id),
    onGo: () => undefined,
    onMove: told.move,
  })
  const does = { begin: vi.fn(), clear: vi.fn(), why: vi.fn(), open: vi.fn(), fold: vi.fn(), menu: vi.fn(), jump: vi.fn() }
  const press = (key: string, over: Partial<KeyboardEventInit> = {}) =>
    gridKey(new KeyboardEvent('keydown', { key, ...over }), { at, columns: () => 3, page: () => 4, ...does })
  const here = () => {
    const now = at.active.value
    return now?.on === 'cell' ? `${now.record}:${now.column}` : now?.on === 'group' ? JSON.parse(now.group)[0].text : now?.on
  }
  return { at, press, here, does, told, rows, closedKeys }
}

describe('walking through a grid by keys', () => {
  it('goes line by line, heads of groups and the headings included', () => {
    const { press, here } = grid()
    const way = ['ArrowDown', 'ArrowDown', 'ArrowDown', 'ArrowDown', 'ArrowDown', 'ArrowDown'].map((key) => (press(key), here()))
    expect(way).toEqual(['Eskermoor', '1:0', '2:0', '3:0', 'Ninestone', '4:0'])
    press('PageUp')
    expect(here()).toBe('1:0')
    press('ArrowUp')
    press('ArrowUp')
    expect(here()).toBe('heading')
    press('ArrowUp')
    expect(here()).toBe('heading')
  })

  it('skips the records of a closed group', () => {
    const { press, here } = grid(['Eskermoor'])
    press('ArrowDown')
    press('ArrowDown')
    expect(here()).toBe('Ninestone')
  })

  it('stays within the fields, and lets Tab out at the ends', () => {
    const { at, press, here } = grid()
    at.toCell(1, 0)
    expect(press('Tab', { shiftKey: true })).toBe(false)
    press('ArrowLeft')
    expect(here()).toBe('1:0')
    press('End')
    expect(here()).toBe('1:2')
    expect(press('Tab')).toBe(false)
    press('Home')
    press('Tab')
    expect(here()).toBe('1:1')
  })

  it('waits at a record that is still to be read, and is there once it came', async () => {
    const { press, here, rows, told } = grid([], [1, 2])
    press('ArrowDown')
    press('End', { ctrlKey: true })
    expect(told.reveal).toHaveBeenLastCalledWith(6)
    expect(here()).toBe('Eskermoor')
    rows.value = new Map([...rows.value, [4, row(5)]])
    await Promise.resolve()
    expect(here()).toBe('5:0')
  })

  it('goes to the head of a closed group in place of a record that can’t be seen', () => {
    const { press, here } = grid(['Eskermoor'])
    press('ArrowDown')
    press('Home', { ctrlKey: true })
    expect(here()).toBe('Eskermoor')
  })

  it('walks the list past closed groups, and stays where nothing more is to be seen', () => {
    const { at, here } = grid(['Eskermoor'])
    at.toCell(4, 0)
    at.walk(-1)
    expect(here()).toBe('4:0')
    at.walk(1)
    expect(here()).toBe('5:0')
  })

  it('says which record was left, once, and not for a step sideways', () => {
    const { at, press, told } = grid()
    at.toCell(1, 0)
    press('ArrowRight')
    expect(told.leave).not.toHaveBeenCalled()
    press('ArrowDown')
    expect(told.leave.mock.calls).toEqual([[1]])
    expect(told.move.mock.calls).toEqual([[1], [2]])
  })
})

describe('what keys do in a grid', () => {
  it('folds the group one is at, by Enter and by the arrows', () => {
    const { press, does } = grid()
    press('ArrowDown')
    press('Enter')
    press('ArrowLeft')
    press('ArrowRight')
    expect(does.fold.mock.calls).toEqual([[], [false], [true]])
    expect(does.begin).not.toHaveBeenCalled()
  })

  it('opens the menu of a heading by Enter, and of a cell by the key for it', () => {
    const { at, press, does } = grid()
    press('ArrowDown')
    press('ArrowUp')
    press('Enter')
    at.toCell(1, 0)
    press('F10', { shiftKey: true })
    press('ContextMenu')
    expect(does.menu).toHaveBeenCalledTimes(3)
  })

  it('replaces a cell with what is typed, and only a cell', () => {
    const { at, press, does } = grid()
    press('ArrowDown')
    expect(press('x')).toBe(false)
    at.toCell(1, 0)
    press('x')
    press('Enter')
    press('Delete')
    expect(does.begin.mock.calls).toEqual([['x'], [undefined]])
    expect(does.clear).toHaveBeenCalledOnce()
  })

  it('leaves keys with a modifier that are not ours to the browser', () => {
    const { at, press, does } = grid()
    at.toCell(2, 1)
    expect(press('r', { ctrlKey: true })).toBe(false)
    press('.', { ctrlKey: true })
    press('Enter', { metaKey: true })
    expect(does.why).toHaveBeenCalledOnce()
    expect(does.open).toHaveBeenCalledWith(2)
    expect(press('Enter', { ctrlKey: true, shiftKey: true })).toBe(false)
  })
})
