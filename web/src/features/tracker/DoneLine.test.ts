import { afterEach, describe, expect, it, vi } from 'vitest'
import { useEdits } from '@/features/cell/edits'
import { answering, changes, put, refusing, settled } from '@/testing'
import DoneLine from './DoneLine.vue'

const edits = useEdits()
afterEach(() => {
  document.body.innerHTML = ''
  edits.last.value = undefined
  vi.unstubAllGlobals()
})

describe('the line of what was done', () => {
  it('takes it back by one press', async () => {
    const asked = answering({ 'POST /api/trackers/1/undo': { seq: 8 } })
    const shown = put(DoneLine)
    await settled()
    expect(shown.find('p').exists()).toBe(false)
    edits.remember(1, { seq: 7, did: 'changed the role Warden' })
    await settled()
    expect(shown.text()).toContain('You changed the role Warden.')
    await shown.get('button').trigger('click')
    await settled()
    expect(changes(asked)[0]!.body).toEqual({ seq: 7 })
    expect(shown.text()).toContain('Undone: you changed the role Warden.')
  })

  it('says why it can’t be taken back', async () => {
    answering({ 'POST /api/trackers/1/undo': refusing(409, 'The role was changed since.') })
    const shown = put(DoneLine)
    await settled()
    edits.remember(1, { seq: 7, did: 'changed the role Warden' })
    await settled()
    await shown.get('button').trigger('click')
    await settled()
    expect(shown.get('[role=alert]').text()).toContain('The role was changed since.')
  })

  it('goes when one goes elsewhere', async () => {
    const shown = put(DoneLine)
    await settled()
    edits.remember(1, { seq: 7, did: 'changed the role Warden' })
    await shown.vm.$router.push({ name: 'forms', params: { tracker: 1 } })
    await settled()
    expect(shown.find('p').exists()).toBe(false)
  })
})
