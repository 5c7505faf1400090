import { afterEach, expect, it, vi } from 'vitest'
import { answering, put, refusing, settled } from '@/testing'
import TemplateSheet from './TemplateSheet.vue'

afterEach(() => {
  document.body.innerHTML = ''
  vi.unstubAllGlobals()
})

const ASK = 'GET /api/templates/loans'
async function sheet(answer: unknown) {
  answering({ [ASK]: answer })
  const shown = put(TemplateSheet, { props: { template: { key: 'loans', title: 'Lending tools' } as never } })
  await settled()
  return shown
}
const tools = { name: 'Tools', count: '12 tools', fields: ['Name', 'Where'], rows: [['Spade', 'Shed'], ['Saw', 'Van']], views: [{ name: 'Lent', sentence: 'Tools of which lent is yes.' }] } // prettier-ignore

it('shows the tables that one would get, with their views in words and their first records', async () => {
  const shown = await sheet({ tables: [tools], forms: ['Lend a tool'], automations: ['Remind'] })
  expect(shown.attributes('aria-label')).toBe('Lending tools')
  expect(shown.get('.quiet').text()).toBe('Form: Lend a tool. Automation: Remind, off until you switch it on.')
  expect([shown.get('h3').text(), shown.get('.view').text()]).toEqual(['Tools 12 tools', 'Lent: Tools of which lent is yes.'])
  expect(shown.findAll('tr').map((row) => row.findAll('th, td').map((one) => one.text()))).toEqual([
    ['Name', 'Where'],
    ['Spade', 'Shed'],
    ['Saw', 'Van'],
  ])
})

it('speaks of no forms and automations where there are none', async () => {
  expect((await sheet({ tables: [tools], forms: [], automations: [] })).text()).not.toMatch(/Form|Automation/)
})

it('says why it can’t be shown', async () => {
  expect((await sheet(refusing(404, 'This template was withdrawn.'))).get('[role=alert]').text()).toBe('This template was withdrawn.')
})
