import { describe, expect, it } from 'vitest'
import { askedAt, partsOf, runsOf, typedOf, type Named } from './wording'

const tamsin: Named = { label: '@Tamsin Oake', part: { person: 2 } }
const tam: Named = { label: '@Tam', part: { person: 9 } }
const gate: Named = { label: '#Gate off', part: { record: { table: 3, record: 7 } } }

describe('what was typed', () => {
  it('is sent as texts, people and records', () => {
    expect(partsOf('Can @Tamsin Oake see #Gate off?', [tamsin, gate])).toEqual([
      { text: 'Can ' },
      { person: 2 },
      { text: ' see ' },
      { record: { table: 3, record: 7 } },
      { text: '?' },
    ])
    expect(partsOf('plain @somebody', [])).toEqual([{ text: 'plain @somebody' }])
    expect(partsOf('', [tamsin])).toEqual([])
  })

  it('means the longer name where two begin alike, and each as often as it stands there', () => {
    expect(partsOf('@Tamsin Oake @Tam @Tam', [tam, tamsin])).toEqual([
      { person: 2 },
      { text: ' ' },
      { person: 9 },
      { text: ' ' },
      { person: 9 },
    ])
  })

  it('comes back as it was typed, to be changed', () => {
    const parts = partsOf('Can @Tamsin Oake see #Gate off?', [tamsin, gate])
    const texts = ['Can ', 'Tamsin Oake', ' see ', 'Gate off', '?']
    const { text, named } = typedOf(parts.map((part, n) => ({ part, text: texts[n]! })))
    expect(text).toBe('Can @Tamsin Oake see #Gate off?')
    expect(partsOf(text, named)).toEqual(parts)
  })
})

describe('the caret', () => {
  it('asks for a person behind @ and a record behind #, at the beginning of a word alone', () => {
    expect(askedAt('Hello @tam', 10)).toEqual({ sign: '@', words: 'tam', from: 6 })
    expect(askedAt('#kissing gate', 13)).toEqual({ sign: '#', words: 'kissing gate', from: 0 })
    expect(askedAt('(@t', 3)).toMatchObject({ words: 't' })
    expect(askedAt('mail@post.example', 17)).toBeUndefined()
    expect(askedAt('@tam\nnext', 9)).toBeUndefined()
    expect(askedAt('Hello @tam and more', 8)).toMatchObject({ words: 't' })
  })
})

describe('small formatting', () => {
  const told = (text: string) => runsOf(text).map((run) => (run.look ? `${run.look}(${run.text})` : run.text)).join('|') // prettier-ignore
  it.each([
    ['**Yes**, it is *soft*', 'strong(Yes)|, it is |em(soft)'],
    ['run `a * b`', 'run |code(a * b)'],
    ['2 * 3 * 4', '2 * 3 * 4'],
    ['a*b*c', 'a*b*c'],
    ['see https://paths.example/x?y=1, then', 'see |link(https://paths.example/x?y=1)|, then'],
    ['javascript:alert(1) <b>x</b>', 'javascript:alert(1) <b>x</b>'],
    ['**open', '**open'],
    ['', ''],
  ])('%s', (text, wanted) => expect(told(text)).toBe(wanted))

  it('loses no letter of what was typed', () => {
    for (const text of ['**a** *b* `c`', 'x ** y', '*', '``', 'https://a.example.']) {
      const kept = runsOf(text).map((run) => run.text).join('') // prettier-ignore
      expect(text.replaceAll(/[*`]/g, '')).toBe(kept.replaceAll(/[*`]/g, ''))
    }
  })
})
