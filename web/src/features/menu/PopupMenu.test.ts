import { afterEach, describe, expect, it } from 'vitest'
import { put, settled } from '@/testing'
import PopupMenu from './PopupMenu.vue'

afterEach(() => (document.body.innerHTML = ''))

async function opened() {
  document.body.innerHTML = '<button id="before">grid</button>'
  document.getElementById('before')!.focus()
  const menu = put(PopupMenu, {
    props: { at: undefined, label: 'What can be done' },
    slots: { default: '<button>Open</button><button disabled>Never</button><button>Remove</button>' },
  })
  await menu.setProps({ at: { x: 10, y: 20 } } as never)
  await settled()
  await new Promise((done) => requestAnimationFrame(done))
  return menu
}
const focused = () => document.activeElement?.textContent
const press = (key: string) => document.activeElement!.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }))

describe('a menu over the page', () => {
  it('takes the focus to its first item, and arrows go round what can be done', async () => {
    await opened()
    expect(focused()).toBe('Open')
    press('ArrowDown')
    expect(focused()).toBe('Remove')
    press('ArrowDown')
    expect(focused()).toBe('Open')
    press('End')
    expect(focused()).toBe('Remove')
  })

  it('closes at Escape and Tab, and gives the focus back', async () => {
    const menu = await opened()
    press('Escape')
    expect(menu.emitted('close')).toHaveLength(1)
    await menu.setProps({ at: undefined } as never)
    await settled()
    expect(document.activeElement?.id).toBe('before')
  })
})
