'use client'

import { sentenceText } from '../../core/model/index.ts'
import type { DocketItem } from '../../core/review/index.ts'

interface Props {
  readonly title: string
  readonly items: readonly DocketItem[]
  readonly onSelect: (id: string) => void
}

/** Findings listed outside the docket under a heading of their own: what each says, how sure it is, and the way to it. None, no heading. */
export function FindingList({ title, items, onSelect }: Props) {
  if (items.length === 0) return null
  return (
    <>
      <h3 className="mt-4 border-b border-rule pb-0.5 font-sans text-sm font-semibold">{title}</h3>
      <ol>
        {items.map((i) => (
          <li key={i.id} className="mt-2">
            <button
              type="button"
              className="block w-full text-left font-serif text-[15px] leading-snug break-words hover:underline"
              onClick={() => onSelect(i.id)}
            >
              {i.says.map(sentenceText).join(' ')} <span className="font-sans text-[0.88em] text-soft">{i.confidence.toFixed(2)}</span>
            </button>
          </li>
        ))}
      </ol>
    </>
  )
}
