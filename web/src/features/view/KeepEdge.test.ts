import { beforeEach, describe, expect, it } from 'vitest'
import { put } from '@/testing'
import KeepEdge from './KeepEdge.vue'

beforeEach(() => (document.body.innerHTML = ''))
const edge = (keeps = 1) => put(KeepEdge, { props: { keeps, ends: [150, 350, 450], from: 30 } })

describe('the boundary behind what stays', () => {
  it('is moved by arrows, as far as there are fields', async () => {
    const shown = edge(1)
    await shown.get('[role=separator]').trigger('keydown', { key: 'ArrowRight' })
    await shown.get('[role=separator]').trigger('keydown', { key: 'ArrowLeft' })
    expect(shown.emitted('keep')).toEqual([[2], [0]])
    const last = edge(2)
    await last.get('[role=separator]').trigger('keydown', { key: 'ArrowRight' })
    await last.get('[role=separator]').trigger('keydown', { key: 'Enter' })
    expect(last.emitted('keep')).toBeUndefined()
  })

  it('is drawn to the nearest end of a field, and stays where it was when that is the same', async () => {
    const shown = edge(1)
    const at = shown.get('[role=separator]')
    const draw = async (x: number) => {
      await at.trigger('pointerdown', { clientX: 150, pointerId: 1 })
      await at.trigger('pointermove', { clientX: x })
      await at.trigger('pointerup')
    }
    await draw(330)
    await draw(160)
    await draw(40)
    // Some field always moves: the last boundary is none.
    await draw(900)
    expect(shown.emitted('keep')).toEqual([[2], [0], [2]])
    expect(at.attributes('style')).toContain('left: 150px')
  })
})
