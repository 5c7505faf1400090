import { beforeEach, describe, expect, it } from 'vitest'
import { put } from '@/testing'
import WidthEdge from './WidthEdge.vue'

beforeEach(() => (document.body.innerHTML = ''))

function edge(wide: boolean) {
  const page = put({ components: { WidthEdge }, props: ['wide'], emits: ['set'], template: '<div class="fields"><WidthEdge name="Due" :wide="wide" @set="$emit(\'set\', $event)" /></div>' }, { props: { wide } }) // prettier-ignore
  Object.defineProperty(page.element, 'clientWidth', { value: 600 })
  const button = page.get('[data-edge=Due]')
  button.element.setPointerCapture = () => undefined
  const drawn = async (...xs: number[]) => {
    await button.trigger('pointerdown', { clientX: 300, pointerId: 1 })
    for (const x of xs) await button.trigger('pointermove', { clientX: 300 + x, pointerId: 1 })
    await button.trigger('pointerup', { pointerId: 1 })
    await button.trigger('click')
  }
  return { page, button, drawn, set: () => page.emitted('set')?.flat() ?? [] }
}

describe('the edge of a field in two columns', () => {
  it('is drawn out for both columns, and the press with which that ends is none', async () => {
    const { drawn, set } = edge(false)
    await drawn(40, 90, 160)
    expect(set()).toEqual([true])
  })

  it('is pressed, and goes by arrow keys, only where that changes something', async () => {
    const { button, set } = edge(true)
    await button.trigger('keydown', { key: 'ArrowRight' })
    await button.trigger('keydown', { key: 'ArrowLeft' })
    await button.trigger('click')
    expect(set()).toEqual([false, false])
    expect(button.attributes('aria-pressed')).toBe('true')
  })
})
