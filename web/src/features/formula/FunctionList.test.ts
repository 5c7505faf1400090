import { expect, it } from 'vitest'
import type { FunctionHelp } from '@/api/types'
import { put } from '@/testing'
import FunctionList from './FunctionList.vue'

const help = (name: string, group: string): FunctionHelp =>
  ({ name, group, signature: `${name}(text)`, help: `What ${name} does`, example: `${name}("a")`, gives: 'a' }) as FunctionHelp
const functions = [help('TRIM', 'Texts'), help('UPPER', 'Texts'), help('ROUND', 'Numbers')]

it('is one stop of the Tab key, walked through by the arrows', async () => {
  const shown = put(FunctionList, { props: { functions } })
  const stops = () => shown.findAll('button').map((one) => one.attributes('tabindex'))
  expect(stops()).toEqual(['0', '-1', '-1'])
  shown.get('button').element.focus()
  await shown.get('.list').trigger('keydown', { key: 'ArrowDown' })
  expect(document.activeElement?.textContent).toContain('UPPER')
  expect(stops()).toEqual(['-1', '0', '-1'])
  await shown.get('.list').trigger('keydown', { key: 'End' })
  await shown.get('.list').trigger('keydown', { key: 'ArrowDown' })
  expect(document.activeElement?.textContent).toContain('ROUND')
  await shown.findAll('button')[2]!.trigger('click')
  expect(shown.emitted('put')).toEqual([['ROUND(']])
})

it('finds by name and by what it does, and begins at the first that is found', async () => {
  const shown = put(FunctionList, { props: { functions } })
  await shown.get('input').setValue('round does')
  expect(shown.findAll('button').map((one) => one.get('b').text())).toEqual(['ROUND(text)'])
  expect(shown.get('button').attributes('tabindex')).toBe('0')
  await shown.get('input').setValue('nothing like it')
  expect(shown.text()).toContain('No function does that by name.')
})
