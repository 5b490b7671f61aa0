'use client'

import { sentenceText } from '../../core/model/index.ts'
import type { DocketItem } from '../../core/review/index.ts'

/** A finding in a list outside the docket: what it says, how sure it is, and the way to it. */
export function FindingLine({ item, onSelect }: { readonly item: DocketItem; readonly onSelect: (id: string) => void }) {
  return (
    <button type="button" className="block w-full text-left font-serif text-[15px] leading-snug break-words hover:underline" onClick={() => onSelect(item.id)}>
      {item.says.map(sentenceText).join(' ')} <span className="font-sans text-[0.88em] text-soft">{item.confidence.toFixed(2)}</span>
    </button>
  )
}
