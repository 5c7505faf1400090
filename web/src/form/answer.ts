// One answer as it is typed, and what is sent of it. Whether it fits is the server's to say.
import type { AnswerKind, Input, QuestionView, RecordName } from '@/api/types'

export interface Answer {
  text: string
  /** The end of a range. */
  end: string
  choice?: number
  choices: number[]
  yes?: boolean
  links: RecordName[]
  files: File[]
  lines: Record<number, Answer>[]
}

export const blank = (): Answer => ({ text: '', end: '', choices: [], links: [], files: [], lines: [] })

/** What a question begins with. */
export function begun(question: QuestionView): Answer {
  const answer = blank()
  const { given } = question
  if (!given) return answer
  const { value } = given
  answer.text = given.text
  answer.links = given.links ?? []
  if (typeof value === 'object') {
    if ('choice' in value) answer.choice = value.choice
    if ('choices' in value) answer.choices = value.choices
    if ('logical' in value) answer.yes = value.logical
    if ('range' in value) [answer.text = '', answer.end = ''] = value.range
    if ('instant' in value) answer.text = ''
  }
  return answer
}

/** What is sent of an answer; nothing where none was given. Files and lines go on their own. */
export function input(kind: AnswerKind, given: Answer): Input | undefined {
  const text = given.text.trim()
  switch (kind.type) {
    case 'choice':
      return given.choice !== undefined && kind.options.some((o) => o.id === given.choice) ? { value: { choice: given.choice } } : undefined
    case 'choices':
      return given.choices.length ? { value: { choices: given.choices } } : undefined
    case 'yes':
      return given.yes === undefined ? undefined : { value: { logical: given.yes } }
    case 'rating':
      return text ? { value: { number: text } } : undefined
    case 'link':
      return given.links.length ? { value: { links: given.links.map((l) => l.id) } } : undefined
    case 'range':
      return text ? { value: { range: [text, given.end || text] } } : undefined
    case 'files':
    case 'lines':
      return undefined
    default:
      return text ? { text } : undefined
  }
}

type Inputs = Record<number, Input>

/** The inputs of these questions. */
export function inputs(questions: QuestionView[], answers: Record<number, Answer>): Inputs {
  const pairs = questions.map((q) => [q.field, answers[q.field] && input(q.answer, answers[q.field]!)] as const)
  return Object.fromEntries(pairs.filter(([, value]) => value !== undefined)) as Inputs
}

/** The lines of these questions, each with its inputs. */
export function linesOf(questions: QuestionView[], answers: Record<number, Answer>): Record<number, Inputs[]> {
  const all: Record<number, Inputs[]> = {}
  for (const { field, answer } of questions) {
    const given = answers[field]?.lines ?? []
    if (answer.type === 'lines' && given.length) all[field] = given.map((line) => inputs(answer.questions, line))
  }
  return all
}

/** What can be kept as text: files can't. */
export function withoutFiles(answers: Record<number, Answer>): Record<number, Answer> {
  return Object.fromEntries(Object.entries(answers).map(([field, answer]) => [field, { ...answer, files: [] }]))
}
