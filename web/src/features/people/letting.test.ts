import { expect, it } from 'vitest'
import { newcomers } from './letting'

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
