'use client'

import { unifiedMergeView } from '@codemirror/merge'
import { EditorState } from '@codemirror/state'
import { EditorView, lineNumbers } from '@codemirror/view'
import { useEffect, useRef } from 'react'
import { sourceLook } from './SourceText.tsx'

/** What comes is settled green and underlined, what goes has the accent and is struck out; both have a bar beside them. Grounds stay pale: comments are read on them. */
const look = EditorView.theme({
  '.cm-changedLine': { background: 'color-mix(in srgb, var(--color-settled) 6%, transparent) !important' },
  '.cm-insertedLine': { background: 'none !important', textDecoration: 'none' },
  '.cm-changedText': { background: 'none !important', textDecoration: 'underline 1px var(--color-settled)', textUnderlineOffset: '3px' },
  '.cm-changedLineGutter': { background: 'var(--color-settled) !important' },
  '.cm-deletedChunk': { background: 'color-mix(in srgb, var(--color-needs) 6%, transparent) !important' },
  '.cm-deletedChunk .cm-deletedText': { background: 'none !important', textDecoration: 'line-through 1px var(--color-needs)' },
  '.cm-deletedLineGutter': { background: 'var(--color-needs) !important' },
  '.cm-collapsedLines': {
    background: 'var(--color-paper) !important',
    color: 'var(--color-soft) !important',
    border: '1px solid var(--color-rule)',
    padding: '0 12px',
    // Our fonts have no sign for torn paper.
    '&:before': { content: '"…" !important' },
    '&:after': { content: '"…" !important' },
  },
})

/** Two texts as one, read-only: what goes and what comes, and around it what stays. */
export function Difference({ before, after, label }: { before: string; after: string; label: string }) {
  const host = useRef<HTMLDivElement>(null)
  useEffect(() => {
    if (!host.current) return
    const view = new EditorView({
      parent: host.current,
      state: EditorState.create({
        doc: after,
        extensions: [
          lineNumbers(),
          EditorState.phrases.of({ '$ unchanged lines': '$ lines stay as they are' }),
          ...sourceLook('typescript', label),
          look,
          unifiedMergeView({
            original: before,
            mergeControls: false,
            collapseUnchanged: { margin: 3, minSize: 6 },
            highlightChanges: before !== '' && after !== '',
          }),
        ],
      }),
    })
    return () => view.destroy()
  }, [before, after, label])
  return <div ref={host} className="h-full min-h-0" />
}
