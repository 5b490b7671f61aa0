'use client'

import { useMemo, useState } from 'react'
import type { DocketItem } from '../../core/review/index.ts'

export const filters = ['waiting', 'relationships', 'classes', 'ruled', 'asked', 'folded'] as const
export type DocketFilter = (typeof filters)[number]

/** Halves of a many-to-many are reached through it. */
const inFilter: Readonly<Record<DocketFilter, (i: DocketItem) => boolean>> = {
  waiting: (i) => i.status === 'open' || i.changed,
  relationships: (i) => i.kind !== 'entity' && i.partOf === null && i.status !== 'folded',
  classes: (i) => i.kind === 'entity',
  ruled: (i) => i.status === 'accepted' || i.status === 'amended' || i.status === 'rejected' || i.status === 'asked',
  asked: (i) => i.status === 'asked',
  folded: (i) => i.status === 'folded',
}

/** What the docket shows: a filter, and a search over sentences and addresses. */
export function useDocket(all: readonly DocketItem[]) {
  const [filter, setFilter] = useState<DocketFilter>('relationships')
  const [search, setSearch] = useState('')
  const counts = useMemo(() => Object.fromEntries(filters.map((f) => [f, all.filter(inFilter[f]).length])) as Record<DocketFilter, number>, [all])
  const items = useMemo(() => {
    const needle = search.trim().toLowerCase()
    const matches = (i: DocketItem) =>
      needle === '' ||
      i.subject.toLowerCase().includes(needle) ||
      i.says.some((s) =>
        s
          .map((r) => r.text)
          .join('')
          .toLowerCase()
          .includes(needle),
      )
    return all.filter((i) => inFilter[filter](i) && matches(i))
  }, [all, filter, search])
  return { filter, setFilter, search, setSearch, counts, items }
}
