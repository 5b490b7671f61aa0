'use client'

import { autocompletion, type CompletionContext, completionKeymap } from '@codemirror/autocomplete'
import { defaultKeymap, history, historyKeymap } from '@codemirror/commands'
import { syntaxHighlighting } from '@codemirror/language'
import { lintGutter, setDiagnostics } from '@codemirror/lint'
import { highlightSelectionMatches, search, searchKeymap } from '@codemirror/search'
import { EditorState, RangeSetBuilder, StateEffect, StateField } from '@codemirror/state'
import { Decoration, type DecorationSet, EditorView, highlightActiveLine, keymap, lineNumbers } from '@codemirror/view'
import { type RefObject, useEffect, useImperativeHandle, useRef } from 'react'
import type { Completions } from '../../core/notation/index.ts'
import { ink } from '../common/SourceText.tsx'
import { notationLanguage } from './notationLanguage.ts'

interface Mark {
  readonly from: number
  readonly to: number
  readonly text: string
}

export interface EditorHandle {
  readonly text: () => string
  readonly put: (text: string) => void
  /** Scroll to an offset and stand there. */
  readonly go: (offset: number) => void
}

interface Props {
  readonly handle: RefObject<EditorHandle | null>
  readonly initial: string
  readonly problems: readonly Mark[]
  /** Offsets of what would change the review. */
  readonly changed: readonly number[]
  readonly onChange: (text: string) => void
  readonly complete: (text: string, at: number) => Promise<Completions | null>
}

const setChanged = StateEffect.define<readonly number[]>()
const changedLine = Decoration.line({ class: 'cm-changesReview' })
const changedField = StateField.define<DecorationSet>({
  create: () => Decoration.none,
  update(before, tr) {
    const moved = before.map(tr.changes)
    const set = tr.effects.find((e) => e.is(setChanged))
    if (!set) return moved
    const builder = new RangeSetBuilder<Decoration>()
    const starts = new Set((set.value as readonly number[]).filter((o) => o <= tr.state.doc.length).map((o) => tr.state.doc.lineAt(o).from))
    for (const from of [...starts].sort((a, b) => a - b)) builder.add(from, from, changedLine)
    return builder.finish()
  },
  provide: (f) => EditorView.decorations.from(f),
})

const look = EditorView.theme({
  '&': { height: '100%' },
  '.cm-scroller': { overflow: 'auto' },
  '.cm-changesReview': { boxShadow: 'inset 3px 0 0 var(--color-settled)' },
  '.cm-activeLine': { background: 'color-mix(in srgb, var(--color-ink) 4%, transparent)' },
  '.cm-cursor': { borderLeftColor: 'var(--color-ink)' },
  '.cm-lintRange-error': { backgroundImage: 'none', textDecoration: 'underline wavy 1.5px var(--color-needs)', textUnderlineOffset: '3px' },
  '.cm-lint-marker-error': { content: '"!"', color: 'var(--color-needs)', fontWeight: '700', textAlign: 'center', width: '0.8em' },
  '.cm-tooltip': { background: 'var(--color-card)', color: 'var(--color-ink)', border: '1px solid var(--color-soft)' },
  '.cm-tooltip.cm-tooltip-autocomplete > ul > li[aria-selected]': { background: 'var(--color-ink)', color: 'var(--color-paper)' },
  '.cm-completionDetail': { fontStyle: 'normal', marginLeft: '1.5em', opacity: '0.75' },
  '.cm-panels': { background: 'var(--color-card)', color: 'var(--color-ink)', borderColor: 'var(--color-rule)' },
})

/** The text, with its words coloured, what could stand at the cursor, and what is wrong underlined. */
export function NotationEditor({ handle, initial, problems, changed, onChange, complete }: Props) {
  const host = useRef<HTMLDivElement>(null)
  const view = useRef<EditorView | null>(null)
  const now = useRef({ onChange, complete, initial })
  now.current = { onChange, complete, initial: now.current.initial }
  useImperativeHandle(handle, () => ({
    text: () => view.current?.state.doc.toString() ?? '',
    put: (text) => view.current?.dispatch({ changes: { from: 0, to: view.current.state.doc.length, insert: text } }),
    go: (offset) => {
      const v = view.current
      if (!v) return
      const at = Math.min(offset, v.state.doc.length)
      v.dispatch({ selection: { anchor: at }, effects: EditorView.scrollIntoView(at, { y: 'center' }) })
      v.focus()
    },
  }))
  useEffect(() => {
    if (!host.current) return
    const source = async (c: CompletionContext) => {
      const word = c.matchBefore(/[\p{L}\p{N}_$]+/u)
      if (!word && !c.explicit && !/[\s(.:]$/.test(c.state.sliceDoc(Math.max(0, c.pos - 1), c.pos))) return null
      const found = await now.current.complete(c.state.doc.toString(), c.pos)
      if (!found || c.aborted || found.options.length === 0) return null
      // Between words nothing pops up by itself that would be in the way of typing on.
      if (!word && !c.explicit && found.options.length > 400) return null
      return { from: found.from, options: found.options.map((o) => ({ label: o.label, detail: o.detail })), validFor: /^[\p{L}\p{N}_$]*$/u }
    }
    const made = new EditorView({
      parent: host.current,
      state: EditorState.create({
        doc: now.current.initial,
        extensions: [
          lineNumbers(),
          lintGutter(),
          history(),
          highlightActiveLine(),
          highlightSelectionMatches(),
          search({ top: true }),
          notationLanguage,
          syntaxHighlighting(ink),
          changedField,
          autocompletion({ override: [source], icons: false, activateOnTyping: true }),
          keymap.of([...completionKeymap, ...defaultKeymap, ...historyKeymap, ...searchKeymap]),
          EditorView.contentAttributes.of({ 'aria-label': 'Notation', spellcheck: 'false' }),
          EditorView.updateListener.of((u) => {
            if (u.docChanged) now.current.onChange(u.state.doc.toString())
          }),
          look,
        ],
      }),
    })
    view.current = made
    return () => made.destroy()
  }, [])
  useEffect(() => {
    const v = view.current
    if (!v) return
    const end = v.state.doc.length
    v.dispatch(
      setDiagnostics(
        v.state,
        problems.map((p) => ({ from: Math.min(p.from, end), to: Math.min(Math.max(p.to, p.from + 1), end), severity: 'error' as const, message: p.text })),
      ),
    )
    v.dispatch({ effects: setChanged.of(changed) })
  }, [problems, changed])
  return <div ref={host} className="h-full min-h-0" />
}
