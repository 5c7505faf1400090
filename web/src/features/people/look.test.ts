import { afterEach, beforeEach, expect, it, vi } from 'vitest'
import { answering, put, refusing, settled } from '@/testing'
import LookSheet from './LookSheet.vue'

beforeEach(() => {
  document.body.innerHTML = ''
  URL.createObjectURL = vi.fn(() => 'blob:mark')
  URL.revokeObjectURL = vi.fn()
})
afterEach(() => vi.unstubAllGlobals())

const MARK = { id: 'm1', name: 'mark.png', media: 'image/png', size: 3 }
const look = { mark: MARK, colour: '#2e482c', words: 'Orrin Mill' }
const shown = (over = {}) => put(LookSheet, { props: { name: 'Orrindale Paths Trust', look: { ...look, ...over } } })

it('shows how the team will look on paper and in a mail before it is kept', async () => {
  const sheet = shown()
  expect(sheet.find('.paper img').attributes('src')).toBe('/api/public/mark?m1')
  expect(sheet.find('.paper').text()).toContain('Orrin Mill')
  expect(sheet.find('.mail').attributes('style')).toContain('#2e482c')
  await sheet.find('[data-test=team-colour]').setValue('#ffee00')
  // White words could not be read on it.
  expect(sheet.text()).toMatch(/darkened to #[0-9a-f]{6}, so that white words can be read on it/)
  await sheet.find('[data-test=no-colour]').trigger('click')
  expect(sheet.find('.mail').attributes('style')).toContain('#4e5b1e')
  await sheet.find('[data-test=no-mark]').trigger('click')
  expect(sheet.find('.paper img').exists()).toBe(false)
})

it('keeps what was changed, and the mark by itself', async () => {
  const asked = answering({ 'PUT /api/team/look': { seq: 9, did: 'changed how the team looks' } })
  const sheet = shown()
  await sheet.find('[data-test=team-words]').setValue('Mill Lane 4')
  await sheet.find('[data-test=do-it]').trigger('click')
  await settled()
  expect(asked.map((one) => one.body)).toEqual([{ colour: '#2e482c', words: 'Mill Lane 4', mark: true }])
  expect(sheet.emitted('done')).toEqual([[{ seq: 9, did: 'changed how the team looks' }]])
})

it('says what is wrong, and leaves what was written', async () => {
  const faults = [{ pointer: '/words', message: 'A letterhead has at most 4 lines.' }]
  answering({ 'PUT /api/team/look': refusing(422, 'A letterhead has at most 4 lines.', faults) })
  const sheet = shown()
  await sheet.find('[data-test=team-words]').setValue('a\nb\nc\nd\ne')
  await sheet.find('[data-test=do-it]').trigger('click')
  await settled()
  expect(sheet.text()).toContain('A letterhead has at most 4 lines.')
  expect(sheet.emitted('done')).toBeUndefined()
})
