import { afterEach, describe, expect, it, vi } from 'vitest'
import { answering, changes, opened, put, refusing, settled } from '@/testing'
import StageSheet from './StageSheet.vue'

afterEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const STAGE = 'POST /api/trackers/1/stage'
const says = ['7 other people lose it from sight at once.', 'Nothing is lost, and it can be taken back.']
const reply = { rehearsal: { title: 'Path upkeep is removed', says }, done: { seq: 9, did: 'removed Path upkeep' } }

async function sheet(over: object = reply) {
  const asked = answering({ [STAGE]: over })
  const shown = put(StageSheet, { props: { tracker: 1, to: 'removed' } }, opened({ tables: [] } as never))
  await settled()
  return { shown, asked }
}

describe('another stage of a tracker', () => {
  it('is said before it is done, and does nothing when it is left', async () => {
    const { shown, asked } = await sheet()
    expect(shown.get('[data-test=rehearsal]').text()).toContain(says[0])
    await shown.get('[data-test=leave-it]').trigger('click')
    expect(shown.emitted('close')).toHaveLength(1)
    expect(changes(asked).map((one) => one.body)).toEqual([{ to: 'removed', rehearse: true }])
  })

  it('is done with one press, and one is led home from what is gone', async () => {
    const { shown, asked } = await sheet()
    expect(shown.get('[data-test=do-it]').text()).toBe('Remove it')
    await shown.get('[data-test=do-it]').trigger('click')
    await settled()
    expect(changes(asked).at(-1)!.body).toEqual({ to: 'removed', rehearse: false })
    expect(shown.vm.$route.name).toBe('home')
  })

  it('says why it can not be done', async () => {
    const { shown } = await sheet(refusing(403, 'Only a tracker’s stewards close it, put it away or remove it.'))
    expect(shown.get('[data-test=rehearsal-trouble]').text()).toContain('Only a tracker’s stewards')
  })
})
