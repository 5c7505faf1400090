import { beforeEach, describe, expect, it, vi } from 'vitest'
import { answering, changes, field, put, refusing, settled, table } from '@/testing'
import RunPanel from './RunPanel.vue'

beforeEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const AT = '/api/trackers/1/automations/9/run'
const home = table([field({ type: 'text', limit: 99 }, { id: 41 })])

async function panel(answers: Record<string, unknown>) {
  const asked = answering(answers)
  const automation = { id: 9, name: 'Ask the office', does: 'mail to warden' }
  const shown = put(RunPanel, { props: { tracker: 1, table: home, records: [7, 8], automation } })
  await settled()
  return { asked, shown }
}

describe('an automation that is run by hand', () => {
  it('says before what follows, and leaves out whom it has reached unless one says otherwise', async () => {
    const { asked, shown } = await panel({
      [`POST ${AT}/rehearsal`]: { says: ['1 mail goes to Tamsin Oake.'], reached: 1 },
      [`POST ${AT}`]: { seq: 4, did: 'ran it' },
    })
    expect(shown.get('[data-test=run-says]').text()).toBe('1 mail goes to Tamsin Oake.')
    expect(changes(asked)).toMatchObject([{ path: `${AT}/rehearsal`, body: { records: [7, 8], only_new: true } }])
    await shown.get('[data-test=only-new]').setValue(false)
    await settled()
    await shown.get('[data-test=do-it]').trigger('click')
    await settled()
    expect(changes(asked).at(-1)).toMatchObject({ path: AT, body: { records: [7, 8], only_new: false } })
    expect(shown.emitted('done')).toHaveLength(1)
  })

  it('asks nothing about those reached where there are none', async () => {
    const { shown } = await panel({ [`POST ${AT}/rehearsal`]: { says: ['2 mails go to Tamsin Oake.'], reached: 0 } })
    expect(shown.find('[data-test=only-new]').exists()).toBe(false)
  })

  it('does nothing where it is refused, and says why', async () => {
    const { shown } = await panel({ [`POST ${AT}/rehearsal`]: refusing(403, 'You can look at this fault but not change it.') })
    expect(shown.text()).toContain('You can look at this fault but not change it.')
    expect(shown.get('[data-test=do-it]').attributes('disabled')).toBeDefined()
  })
})
