'use client'

import { javascript } from '@codemirror/lang-javascript'
import { PostgreSQL, sql } from '@codemirror/lang-sql'
import { HighlightStyle, syntaxHighlighting } from '@codemirror/language'
import { EditorState } from '@codemirror/state'
import { EditorView, lineNumbers } from '@codemirror/view'
import { tags } from '@lezer/highlight'
import { useEffect, useRef } from 'react'

export const ink = HighlightStyle.define([
  { tag: [tags.keyword, tags.modifier, tags.operatorKeyword], color: 'var(--color-ink)', fontWeight: '600' },
  { tag: [tags.string, tags.special(tags.string)], color: 'var(--color-code-string)' },
  { tag: [tags.comment, tags.lineComment, tags.blockComment], color: 'var(--color-soft)', fontStyle: 'italic' },
  { tag: [tags.number, tags.bool, tags.null], color: 'var(--color-code-number)' },
  { tag: [tags.typeName, tags.className, tags.standard(tags.name)], color: 'var(--color-code-type)' },
  { tag: [tags.propertyName, tags.definition(tags.propertyName)], color: 'var(--color-code-name)' },
])

const languages = { typescript: () => javascript({ typescript: true }), sql: () => sql({ dialect: PostgreSQL }) } as const

/** How source that is only read looks, wherever it stands. */
export const sourceLook = (language: keyof typeof languages, label: string) => [
  EditorState.readOnly.of(true),
  EditorView.contentAttributes.of({ 'aria-label': label, tabindex: '0' }),
  EditorView.editable.of(false),
  syntaxHighlighting(ink),
  languages[language](),
]

/** Read-only source with highlighting. */
export function SourceText({ text, language, label, numbers = true }: { text: string; language: keyof typeof languages; label: string; numbers?: boolean }) {
  const host = useRef<HTMLDivElement>(null)
  useEffect(() => {
    if (!host.current) return
    const view = new EditorView({
      parent: host.current,
      state: EditorState.create({
        doc: text,
        extensions: [...(numbers ? [lineNumbers()] : [EditorView.lineWrapping]), ...sourceLook(language, label)],
      }),
    })
    return () => view.destroy()
  }, [text, language, label, numbers])
  return <div ref={host} className="h-full min-h-0" />
}
