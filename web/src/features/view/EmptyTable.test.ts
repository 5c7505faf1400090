import { afterEach, describe, expect, it } from 'vitest'
import { usePasted } from '@/features/import/pasted'
import { field, put, settled, table } from '@/testing'
import EmptyTable from './EmptyTable.vue'

afterEach(() => (document.body.innerHTML = ''))

describe('a table in which nothing stands yet', () => {
  const drawn = () => put(EmptyTable, { props: { table: table([field({ type: 'text', limit: 9 })]), tracker: 1 } })

  it('takes what one writes to the import, which shows what it becomes', async () => {
    const shown = drawn()
    expect(shown.get('[data-test=see-lines]').attributes('disabled')).toBeDefined()
    await shown.get('[data-test=told-lines]').setValue('Gate, oak')
    await shown.get('[data-test=see-lines]').trigger('click')
    await settled()
    expect(shown.vm.$route).toMatchObject({ name: 'import', query: { into: '3' } })
    expect(await usePasted().take()!.text()).toBe('Gate, oak\n')
  })

  it('does so by keys too, and lets one add by hand', async () => {
    const shown = drawn()
    await shown.get('[data-test=told-lines]').setValue('Stile')
    await shown.get('[data-test=told-lines]').trigger('keydown', { key: 'Enter', ctrlKey: true })
    expect(usePasted().take()).toBeDefined()
    await shown.findAll('button').at(-1)!.trigger('click')
    expect(shown.emitted('add')).toHaveLength(1)
  })
})
