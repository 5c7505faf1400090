<script setup lang="ts">
// Typing a formula: names and functions are offered, faults are underlined at their place.
import { onBeforeUnmount, onMounted, ref, watch } from 'vue'
import { autocompletion, completionKeymap, type Completion, type CompletionContext } from '@codemirror/autocomplete'
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands'
import { bracketMatching } from '@codemirror/language'
import { setDiagnostics } from '@codemirror/lint'
import { EditorState } from '@codemirror/state'
import { EditorView, keymap, placeholder } from '@codemirror/view'
import type { FormulaFault, FunctionHelp, Table, Tracker } from '@/api/types'
import { follow, nameAt, scopesAt, written } from './text'

const props = defineProps<{
  tracker: Tracker
  table: Table
  functions: FunctionHelp[]
  faults: FormulaFault[]
}>()
const text = defineModel<string>({ required: true })
/** The cursor's place. */
const place = defineModel<number>('place', { required: true })

const host = ref<HTMLElement>()
let view: EditorView | undefined

function offers(context: CompletionContext) {
  const whole = context.state.doc.toString()
  const { from, path, typed } = nameAt(whole, context.pos)
  if (!typed && !path.length && !context.explicit) return null
  const scopes = scopesAt(props.tracker, props.table, whole, context.pos)
  const tables = path.length ? scopes.flatMap((t) => follow(props.tracker, t, path) ?? []).slice(0, 1) : scopes
  const fields = tables.flatMap((table, depth): Completion[] =>
    table.fields
      .filter((f) => f.kind.type !== 'button')
      .map((f) => ({
        label: f.name,
        apply: written(f.name),
        type: 'property',
        detail: `${f.kind.type.replaceAll('_', ' ')}, ${table.name}`,
        boost: 2 - depth,
      })),
  )
  const functions: Completion[] = path.length
    ? []
    : props.functions.map((f) => ({
        label: f.name,
        apply: `${f.name}(`,
        type: 'function',
        detail: f.signature.slice(f.name.length),
        info: f.help,
      }))
  return { from, options: [...fields, ...functions], validFor: /^[^+\-*/^&=<>%(),;".]*$/ }
}

const look = EditorView.theme({
  '&': {
    fontSize: '16px',
    backgroundColor: 'var(--sheet)',
    color: 'var(--ink)',
    border: '1px solid var(--line-strong)',
    borderRadius: 'var(--corner)',
  },
  '&.cm-focused': { outline: '2px solid var(--moss)', outlineOffset: '1px' },
  '.cm-content': { fontFamily: 'var(--sans)', padding: '10px 12px', minHeight: '96px', caretColor: 'var(--ink)' },
  '.cm-line': { padding: '0' },
  '.cm-tooltip': {
    backgroundColor: 'var(--sheet)',
    color: 'var(--ink)',
    border: '1px solid var(--line-strong)',
    borderRadius: 'var(--corner)',
  },
  '.cm-tooltip.cm-tooltip-autocomplete > ul': { fontFamily: 'var(--sans)', fontSize: '13.5px' },
  '.cm-tooltip-autocomplete > ul > li': { padding: '4px 8px' },
  '.cm-tooltip-autocomplete ul li[aria-selected]': { backgroundColor: 'var(--moss-soft)', color: 'var(--ink)' },
  '&.cm-focused .cm-matchingBracket': { backgroundColor: 'var(--moss-soft)' },
  '.cm-placeholder': { color: 'var(--quiet)' },
  '.cm-completionMatchedText': { textDecoration: 'none', fontWeight: '600' },
  '.cm-completionDetail': { color: 'var(--quiet)', fontStyle: 'normal' },
  '.cm-completionInfo': { padding: '6px 10px', maxWidth: '280px' },
  '.cm-lintRange-error': { backgroundImage: 'none', textDecoration: 'underline wavy var(--fault) 1.5px', textUnderlineOffset: '4px' },
  '.cm-diagnostic-error': { borderLeft: '3px solid var(--fault)' },
})

onMounted(() => {
  const nonce = document.querySelector<HTMLMetaElement>('meta[name=csp-nonce]')?.content
  const state = EditorState.create({
    doc: text.value,
    extensions: [
      history(),
      bracketMatching(),
      autocompletion({ override: [offers], icons: false }),
      keymap.of([...completionKeymap, ...defaultKeymap, ...historyKeymap]),
      EditorView.lineWrapping,
      placeholder('Such as Length * Rate per metre'),
      EditorView.contentAttributes.of({ 'aria-label': 'Formula', 'data-test': 'formula', spellcheck: 'false' }),
      EditorView.updateListener.of((update) => {
        if (update.docChanged) text.value = update.state.doc.toString()
        if (update.selectionSet || update.docChanged) place.value = update.state.selection.main.head
      }),
      look,
      nonce ? EditorView.cspNonce.of(nonce) : [],
    ],
  })
  view = new EditorView({ state, parent: host.value! })
  view.focus()
})
onBeforeUnmount(() => view?.destroy())

watch(text, (now) => {
  if (view && now !== view.state.doc.toString()) view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: now } })
})
watch(
  () => props.faults,
  (faults) => {
    if (!view) return
    const end = view.state.doc.length
    const marks = faults.map((fault) => {
      const from = Math.min(fault.span.from, Math.max(0, end - 1))
      return { from, to: Math.min(Math.max(fault.span.to, from + 1), end), severity: 'error' as const, message: fault.message }
    })
    view.dispatch(setDiagnostics(view.state, end ? marks : []))
  },
)

/** Puts something in where the cursor is, or in place of a part. */
function put(insert: string, from?: number, to?: number) {
  if (!view) return
  const main = view.state.selection.main
  view.dispatch({
    changes: { from: from ?? main.from, to: to ?? main.to, insert },
    selection: { anchor: (from ?? main.from) + insert.length },
  })
  view.focus()
}
defineExpose({ put })
</script>

<template>
  <div ref="host" class="host" />
</template>
