// One answer as it is typed, and what is sent of it. Whether it fits is the server's to say.
import type { AnswerKind, Attachment, Input, QuestionView, RecordName, Value } from '@/api/types'

export type Item = Extract<Value, { checklist: unknown }>['checklist'][number]

export interface Answer {
  text: string
  /** The end of a range. */
  end: string
  /** Of a place. */
  latitude: string
  longitude: string
  choice?: number
  choices: number[]
  yes?: boolean
  links: RecordName[]
  /** New ones, to be sent along. */
  files: File[]
  /** Of those that stand there, the ones that stay. */
  held: Attachment[]
  /** Things to tick off, where some stand there already. */
  items?: Item[]
  lines: Record<number, Answer>[]
}

export const blank = (): Answer => ({
  text: '',
  end: '',
  latitude: '',
  longitude: '',
  choices: [],
  links: [],
  files: [],
  held: [],
  lines: [],
})

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
    if ('files' in value) answer.held = value.files
    if ('checklist' in value) answer.items = value.checklist
    if ('place' in value)
      Object.assign(answer, { text: value.place.label, latitude: value.place.latitude, longitude: value.place.longitude })
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
    case 'place':
      if (!given.latitude && !given.longitude) return text ? { text } : undefined
      return { text: `${text} (${given.latitude}, ${given.longitude})`.trim() }
    case 'list':
      if (!given.items) return text ? { text } : undefined
      return given.items.length ? { value: { checklist: given.items } } : undefined
    case 'files':
      return given.held.length ? { value: { files: given.held } } : undefined
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

/** A question of a line, as it stands with what else was answered in that line. */
export function inLine(question: QuestionView, line: Record<number, Answer>): QuestionView {
  const { answer } = question
  if (answer.type !== 'choice' || answer.on == null) return question
  const under = line[answer.on]?.choice
  return { ...question, answer: { ...answer, options: answer.options.filter((o) => o.under != null && o.under === under) } }
}

/** The lines of these questions, each with its inputs. */
export function linesOf(questions: QuestionView[], answers: Record<number, Answer>): Record<number, Inputs[]> {
  const all: Record<number, Inputs[]> = {}
  for (const { field, answer } of questions) {
    const given = answers[field]?.lines ?? []
    if (answer.type === 'lines' && given.length)
      all[field] = given.map((line) =>
        inputs(
          answer.questions.map((q) => inLine(q, line)),
          line,
        ),
      )
  }
  return all
}

/** The files of these questions, each under the name by which it is sent. */
export function filesOf(questions: QuestionView[], answers: Record<number, Answer>): [string, File][] {
  const named = (name: string, files: File[] = []) => files.map((file): [string, File] => [name, file])
  return questions.flatMap(({ field, answer }) => {
    if (answer.type !== 'lines') return named(`file-${field}`, answers[field]?.files)
    const lines = answers[field]?.lines ?? []
    return lines.flatMap((line, place) => answer.questions.flatMap((q) => named(`file-${field}-${place}-${q.field}`, line[q.field]?.files)))
  })
}

/** What can be kept as text: files can't. */
export function withoutFiles(answers: Record<number, Answer>): Record<number, Answer> {
  const bare = ([field, answer]: [string, Answer]) => [field, { ...answer, files: [], lines: answer.lines.map(withoutFiles) }]
  return Object.fromEntries(Object.entries(answers).map(bare)) as Record<number, Answer>
}
