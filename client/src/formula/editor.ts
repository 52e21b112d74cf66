/** The text field of formulas: CodeMirror with completion, problems at their place, and Kagero's look. */
import {
  acceptCompletion,
  autocompletion,
  closeBrackets,
  closeBracketsKeymap,
  completionKeymap,
  startCompletion,
  type Completion,
  type CompletionContext,
} from '@codemirror/autocomplete'
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands'
import { python } from '@codemirror/lang-python'
import { bracketMatching, HighlightStyle, syntaxHighlighting } from '@codemirror/language'
import { setDiagnostics, type Diagnostic } from '@codemirror/lint'
import { Annotation, EditorState } from '@codemirror/state'
import { drawSelection, EditorView, keymap, placeholder } from '@codemirror/view'
import { tags } from '@lezer/highlight'
import type { FormulaAnswer, FormulaProblem } from '../wire/types'

const look = EditorView.theme(
  {
    '&': {
      backgroundColor: 'var(--color-ink)',
      color: 'var(--color-paper)',
      height: '100%',
      fontSize: '13px',
      borderRadius: '6px',
    },
    '&.cm-focused': { outline: 'none' },
    '.cm-scroller': {
      fontFamily: 'var(--font-mono)',
      fontVariantLigatures: 'none',
      lineHeight: '1.45',
      overflow: 'auto',
    },
    '.cm-content': { padding: '6px 0', caretColor: 'var(--color-paper)' },
    '.cm-line': { padding: '0 10px' },
    '.cm-cursor': { borderLeftColor: 'var(--color-paper)' },
    '&.cm-focused .cm-selectionBackground, .cm-selectionBackground': {
      backgroundColor: 'var(--color-line) !important',
    },
    '.cm-matchingBracket': {
      backgroundColor: 'var(--color-line)',
      color: 'var(--color-paper) !important',
      outline: 'none',
    },
    '.cm-tooltip': {
      backgroundColor: 'var(--color-ink)',
      border: '1px solid var(--color-line)',
      borderRadius: '6px',
      color: 'var(--color-paper)',
      fontSize: '12px',
      boxShadow: '0 8px 24px #0009',
    },
    '.cm-tooltip.cm-tooltip-autocomplete > ul': { fontFamily: 'var(--font-mono)', maxHeight: '15em' },
    '.cm-tooltip-autocomplete ul li[aria-selected]': {
      backgroundColor: 'var(--color-line)',
      color: 'var(--color-paper)',
    },
    '.cm-completionDetail': { color: 'var(--color-quiet)', fontStyle: 'normal', float: 'right', marginLeft: '1.5em' },
    '.cm-completionMatchedText': { textDecoration: 'none', color: 'var(--color-teal)' },
    '.cm-tooltip.cm-completionInfo': { maxWidth: '280px', padding: '6px 9px', fontFamily: 'var(--font-sans)' },
    '.cm-diagnostic': {
      borderLeft: '3px solid var(--color-amber)',
      padding: '4px 9px',
      fontFamily: 'var(--font-sans)',
    },
    '.cm-lintRange-error': { backgroundImage: 'none', borderBottom: '2px solid var(--color-amber)' },
    '.cm-lintRange-info': { backgroundImage: 'none', borderBottom: '2px dotted var(--color-quiet)' },
    '.cm-placeholder': { color: 'var(--color-quiet)' },
  },
  { dark: true },
)
const colours = HighlightStyle.define([
  { tag: tags.comment, color: 'var(--color-quiet)' },
  { tag: tags.keyword, color: 'var(--color-paper)', fontWeight: '700' },
  { tag: [tags.function(tags.variableName)], color: 'var(--color-paper)' },
  { tag: tags.number, color: 'var(--color-paper)' },
  { tag: [tags.variableName, tags.propertyName], color: 'var(--color-teal)' },
  { tag: tags.operator, color: 'var(--color-quiet)' },
])

const fromOutside = Annotation.define<boolean>()

/** What completion offers; apply: what is put in. why: it cannot be used here. */
export type Offered = {
  label: string
  apply?: string
  detail: string
  info: string
  kind: 'name' | 'function' | 'step'
  why?: string
}

export type Editor = {
  view: EditorView
  show: (answer: FormulaAnswer | null) => void
  set: (text: string) => void
  insert: (text: string) => void
  offer: () => void
}

export function makeEditor(
  parent: HTMLElement,
  text: string,
  label: string,
  offered: () => Offered[],
  ontype: (text: string) => void,
  onleave: () => void,
  /** Told where a menu is asked for: the place in the text, and what to open it at. Returns whether there is one. */
  onmenu: (at: number, from: HTMLElement) => boolean,
): Editor {
  const complete = (context: CompletionContext) => {
    const before = context.matchBefore(/[A-Za-z_][\w.]*/)
    if (!before && !context.explicit) return null
    if (
      /#[^\n]*$/.test(
        context.state.doc.lineAt(context.pos).text.slice(0, context.pos - context.state.doc.lineAt(context.pos).from),
      )
    )
      return null
    const options: Completion[] = offered().map((o) => ({
      label: o.label,
      apply: o.apply,
      detail: o.why ? 'not here' : o.detail,
      boost: o.why ? -90 : o.kind === 'step' ? 3 : o.kind === 'name' ? 1 : 0,
      info: () => {
        const box = document.createElement('div')
        box.textContent = o.why || o.info
        if (o.why) box.style.color = 'var(--color-amber)'
        return box
      },
    }))
    return { from: before ? before.from : context.pos, options, validFor: /^[\w.]*$/ }
  }
  const view = new EditorView({
    parent,
    state: EditorState.create({
      doc: text,
      extensions: [
        look,
        history(),
        drawSelection(),
        bracketMatching(),
        closeBrackets(),
        python(),
        syntaxHighlighting(colours),
        autocompletion({ override: [complete], icons: false, activateOnTyping: true, closeOnBlur: true }),
        keymap.of([
          { key: 'Ctrl-Space', run: startCompletion },
          { key: 'Tab', run: acceptCompletion },
          ...closeBracketsKeymap,
          ...completionKeymap,
          ...historyKeymap,
          ...defaultKeymap,
        ]),
        placeholder('Write a value, such as life * 2'),
        EditorView.lineWrapping,
        EditorView.contentAttributes.of({ 'aria-label': label, spellcheck: 'false' }),
        EditorView.domEventHandlers({
          contextmenu(event, here) {
            const at = event.button === 2 ? here.posAtCoords({ x: event.clientX, y: event.clientY }) : null
            if (
              !onmenu(
                at ?? here.state.selection.main.head,
                here.domAtPos(at ?? here.state.selection.main.head).node.parentElement!,
              )
            )
              return false
            event.preventDefault()
            return true
          },
        }),
        EditorView.updateListener.of((update) => {
          if (update.docChanged && !update.transactions.every((t) => t.annotation(fromOutside)))
            ontype(update.state.doc.toString())
          if (update.focusChanged && !update.view.hasFocus) onleave()
        }),
      ],
    }),
  })
  return {
    view,
    show(answer) {
      const all = answer
        ? [
            ...answer.problems.map((p) => diagnostic(view.state, p, 'error')),
            ...answer.remarks.map((p) => diagnostic(view.state, p, 'info')),
          ]
        : []
      view.dispatch(setDiagnostics(view.state, all))
    },
    set(value) {
      if (value !== view.state.doc.toString())
        view.dispatch({
          changes: { from: 0, to: view.state.doc.length, insert: value },
          annotations: fromOutside.of(true),
        })
    },
    /** More can be offered than a moment ago: offer it to whoever is in the middle of a name. */
    offer() {
      const { head, empty } = view.state.selection.main
      if (view.hasFocus && empty && /[A-Za-z_][\w.]*$/.test(view.state.sliceDoc(Math.max(0, head - 60), head)))
        startCompletion(view)
    },
    insert(value) {
      view.dispatch({ changes: { from: 0, to: view.state.doc.length, insert: value } })
      view.focus()
    },
  }
}

function diagnostic(state: EditorState, problem: FormulaProblem, severity: 'error' | 'info'): Diagnostic {
  const at = (line: number, column: number) => {
    const there = state.doc.line(Math.min(Math.max(line, 1), state.doc.lines))
    return Math.min(there.from + column - 1, there.to)
  }
  const from = at(problem.line, problem.column)
  const to = Math.max(at(problem.end_line, problem.end_column), Math.min(from + 1, state.doc.length))
  return {
    from: Math.min(from, to),
    to,
    severity,
    message: [problem.message, problem.remedy].filter(Boolean).join(' '),
  }
}
