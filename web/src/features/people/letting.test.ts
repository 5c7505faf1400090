import { expect, it } from 'vitest'
import { linesOf, newcomers } from './letting'

it.each([
  ['Kester Lowe, kester@walkers.example, mends walls', { name: 'Kester Lowe', mail: 'kester@walkers.example', about: 'mends walls' }],
  ['"Lowe, K." <kester@walkers.example>', { name: 'Lowe', mail: 'kester@walkers.example', about: 'K.' }],
  ['Kester Lowe <kester@walkers.example>', { name: 'Kester Lowe', mail: 'kester@walkers.example', about: '' }],
  ['kester@walkers.example\tKester Lowe\tmends walls', { name: 'Kester Lowe', mail: 'kester@walkers.example', about: 'mends walls' }],
  ['kester.lowe@walkers.example', { name: 'Kester Lowe', mail: 'kester.lowe@walkers.example', about: '' }],
  ['Pim Reed', { name: 'Pim Reed', mail: '', about: '' }],
])('reads %s', (line, person) => {
  expect(newcomers(line)).toEqual([person])
})

it('reads a line each, and none where nothing is said', () => {
  expect(newcomers('Pim Reed\n\n  \r\nAda Wren, ada@walkers.example\n').map((one) => one.name)).toEqual(['Pim Reed', 'Ada Wren'])
})

it('takes of records those who have an address that is not known, each once, as lines that read back', () => {
  const rows = [
    ['Ada Wren', 'ada@walkers.example'],
    ['Reed, Pim', ' pim@walkers.example '],
    ['Ada again', 'ADA@walkers.example'],
    ['No address', undefined],
    ['Here already', 'Tamsin@paths.example'],
    [undefined, 'nameless.one@walkers.example'],
  ]
  const lines = linesOf(rows, ['tamsin@paths.example'])
  expect(lines).toEqual(['Ada Wren, ada@walkers.example', 'Reed Pim, pim@walkers.example', ', nameless.one@walkers.example'])
  expect(newcomers(lines.join('\n')).map((one) => one.name)).toEqual(['Ada Wren', 'Reed Pim', 'Nameless One'])
})
