// The answers to a form while they are typed: kept in the browser until sent, so that a reload or a lost line loses none.
// Which questions are asked is the server's to say: it is asked again whenever an answer changes on which something depends.
import { onScopeDispose, reactive, ref, watch } from 'vue'
import { Problem, saying, send } from '@/api/client'
import type { FormView, QuestionView, Sent } from '@/api/types'
import { sleep, untilTaken } from './resend'
import { begun, filesOf, inputs, linesOf, withoutFiles, type Answer } from './answer'

/** How long after the last change the server is asked, in milliseconds. */
const SETTLED = 200
/** The server takes what comes sooner for a program's; whoever is as fast as that waits a moment. In milliseconds. */
const SOONEST = 1_700

export function useAnswers(link: string, first: FormView) {
  const parameters = Object.fromEntries(new URLSearchParams(location.search))
  const place = `westerfall form ${link}`
  const address = `/api/public/forms/${encodeURIComponent(link)}`
  const kept = JSON.parse(localStorage.getItem(place) ?? '{}') as { key?: string; opened?: number; answers?: Record<number, Answer> }
  // One key for an opened form: sent twice, it is one record.
  let key = kept.key ?? crypto.randomUUID()
  // Since when it is being answered, over reloads too.
  let opened = kept.opened ?? Date.now()
  const form = ref(first)
  const answers = reactive<Record<number, Answer>>({})
  const state = ref<'open' | 'sending' | 'sent'>('open')
  const trouble = ref('')
  const faults = ref<Record<string, string>>({})
  const sent = ref<Sent>()
  /** How much of it is sent, from 0 to 1, while it is on its way. */
  const share = ref(0)
  /** Too much is going on at the server: it waits here, and is sent again by itself. */
  const waiting = ref(false)
  let stopping = new AbortController()
  const stop = () => stopping.abort()
  /** The server did not answer; what is typed stays here. */
  const offline = ref(false)
  /** The question that was looked at last. */
  let at: number | undefined

  function take(view: FormView) {
    form.value = view
    for (const question of view.questions) answers[question.field] ??= { ...begun(question), ...kept.answers?.[question.field], files: [] }
  }
  take(first)

  const body = () => ({ answers: inputs(form.value.questions, answers), lines: linesOf(form.value.questions, answers), parameters })
  const deciding = () => {
    const questions = form.value.questions.filter((q) => q.decides)
    return JSON.stringify([inputs(questions, answers), linesOf(questions, answers)])
  }

  let round = 0
  async function look() {
    const mine = ++round
    try {
      const response = await fetch(`${address}/look`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify(body()),
      })
      if (mine !== round) return
      offline.value = false
      if (response.ok) take((await response.json()) as FormView)
    } catch {
      if (mine === round) offline.value = true
    }
  }

  let timer: ReturnType<typeof setTimeout> | undefined
  watch(deciding, () => {
    clearTimeout(timer)
    timer = setTimeout(() => void look(), SETTLED)
  })
  // Answers that were kept may decide what else is asked.
  if (kept.answers) void look()

  const back = () => {
    offline.value = false
    void look()
  }
  const away = () => (offline.value = true)
  // Numbers only: that the form was opened, and at which question it was left.
  const count = (what: unknown) => navigator.sendBeacon(`${address}/count`, new Blob([JSON.stringify(what)], { type: 'application/json' }))
  const leave = () => {
    if (document.visibilityState === 'hidden' && state.value === 'open' && at !== undefined) {
      count({ left: at })
      at = undefined
    }
  }
  count('opened')
  addEventListener('online', back)
  addEventListener('offline', away)
  document.addEventListener('visibilitychange', leave)
  onScopeDispose(() => {
    clearTimeout(timer)
    removeEventListener('online', back)
    removeEventListener('offline', away)
    document.removeEventListener('visibilitychange', leave)
  })

  watch(answers, () => {
    if (state.value !== 'open') return
    try {
      localStorage.setItem(place, JSON.stringify({ key, opened, answers: withoutFiles(answers) }))
    } catch {
      // A full or forbidden store only means that a reload loses what was typed.
    }
  })

  function data(website: string): FormData {
    const all = new FormData()
    const { answers: given, lines } = body()
    all.append('answers', JSON.stringify(given))
    all.append('lines', JSON.stringify(lines))
    all.append('parameters', JSON.stringify(parameters))
    all.append('took', String(Date.now() - opened))
    all.append('website', website)
    for (const [name, file] of filesOf(form.value.questions, answers)) all.append(name, file)
    return all
  }

  /** Whether a question on the page is at this place of what was sent. */
  function isShown(pointer: string): boolean {
    const [, sort, field] = pointer.split('/')
    return (sort === 'answers' || sort === 'lines') && form.value.questions.some((q) => String(q.field) === field)
  }

  async function submit(website: string) {
    if (state.value === 'sending') return
    state.value = 'sending'
    trouble.value = ''
    faults.value = {}
    try {
      await new Promise((done) => setTimeout(done, SOONEST - (Date.now() - opened)))
      share.value = 0
      stopping = new AbortController()
      const { signal } = stopping
      const wait = (seconds: number) => {
        waiting.value = true
        return sleep(seconds, signal)
      }
      sent.value = await untilTaken(() => send<Sent>(address, data(website), key, (now) => (share.value = now), signal), wait)
      state.value = 'sent'
      localStorage.removeItem(place)
    } catch (error) {
      state.value = 'open'
      if (!(error instanceof Problem)) return void (trouble.value = saying(error))
      offline.value = error.status === 0
      faults.value = Object.fromEntries(error.faults.map((fault) => [fault.pointer, fault.message]))
      const number = error.faults.filter((fault) => isShown(fault.pointer)).length
      // What is wrong with something that nobody is asked stands at no question.
      trouble.value = error.faults.length && !number ? error.faults.map((fault) => fault.message).join(' ') : error.message
    } finally {
      waiting.value = false
    }
  }

  /** Begins a new answer. */
  function again() {
    key = crypto.randomUUID()
    opened = Date.now()
    kept.answers = undefined
    for (const field of Object.keys(answers)) delete answers[Number(field)]
    state.value = 'open'
    sent.value = undefined
    take(first)
    void look()
  }

  const visit = (question: QuestionView) => (at = question.field)
  return { form, answers, state, trouble, faults, sent, offline, share, waiting, stop, submit, again, visit, body }
}
