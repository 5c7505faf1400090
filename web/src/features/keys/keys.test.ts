import { afterEach, describe, expect, it } from 'vitest'
import { nextTick } from 'vue'
import { put } from '@/testing'
import { asHere, KEYS, keysWith } from './keys'
import KeysPanel from './KeysPanel.vue'

afterEach(() => (document.body.innerHTML = ''))

describe('the list of keys', () => {
  it('is looked through by what they do, where, and what they are', () => {
    const found = (words: string) => keysWith(words).flatMap((group) => group.keys.map((one) => one.does))
    expect(found('fill')).toEqual(['Fill down, or to the right'])
    expect(found('calendar today')).toEqual(['Today'])
    expect(found('rows ctrl home')).toEqual(['To the first row, or the last'])
    expect(found('fly')).toEqual([])
    expect(keysWith('')).toEqual(KEYS)
  })

  it('tells no key twice for two things in one place', () => {
    for (const group of KEYS) {
      const alone = group.keys.filter((one) => one.keys.length === 1).map((one) => one.keys[0])
      expect(new Set(alone).size, group.where).toBe(alone.length)
    }
  })

  it('calls keys as they are called on the keyboard at hand', () => {
    expect(asHere('Ctrl Shift Z', 'Linux x86_64')).toBe('Ctrl Shift Z')
    expect(asHere('Ctrl Shift Z', 'MacIntel')).toBe('⌘\u202f⇧\u202fZ')
  })

  it('opens on its words, and says where no key does it', async () => {
    put(KeysPanel, { props: { modelValue: true } })
    await nextTick()
    const panel = document.querySelector('[data-test=keys-panel]')!
    expect(panel.textContent).toContain('Everywhere in a tracker')
    const field = document.querySelector<HTMLInputElement>('[data-test=keys-words]')!
    field.value = 'fly'
    field.dispatchEvent(new Event('input'))
    await nextTick()
    expect(panel.textContent).toContain('No key does that.')
  })
})
