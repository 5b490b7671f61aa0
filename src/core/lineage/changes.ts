// What changed between two snapshots, object by object, with before and after.
import { type Catalog, compareCatalogs, compareText, type Difference } from '../catalog/index.ts'

export interface FieldChange {
  readonly field: string
  /** As people read them: texts without quotes, the rest as JSON; null where there was nothing. */
  readonly was: string | null
  readonly is: string | null
}

export interface ObjectChange {
  /** `relation field.crate`, `routine field.area(integer)`. */
  readonly object: string
  readonly what: 'new' | 'gone' | 'changed'
  readonly fields: readonly FieldChange[]
}

function shown(value: string | null): string | null {
  if (value === null) return null
  try {
    const parsed: unknown = JSON.parse(value)
    if (typeof parsed === 'string') return parsed
    return parsed === null ? 'none' : JSON.stringify(parsed)
  } catch {
    return value
  }
}

/** Parts that follow from others and would only repeat them. */
const derived = (d: Difference) => /(^|\.)dependsOn(\[|$)/.test(d.field)

/** Gone first, then changed, then new; within them in order of name. Equal snapshots give an empty list. */
export function changesBetween(was: Catalog, is: Catalog): readonly ObjectChange[] {
  const byObject = new Map<string, Difference[]>()
  for (const d of compareCatalogs(was, is)) if (!derived(d)) byObject.set(d.object, [...(byObject.get(d.object) ?? []), d])
  const rank = { gone: 0, changed: 1, new: 2 } as const
  return [...byObject]
    .map(([object, list]): ObjectChange => {
      const whole = list.find((d) => d.field === '')
      if (whole) return { object, what: whole.was === null ? 'new' : 'gone', fields: [] }
      return { object, what: 'changed', fields: list.map((d) => ({ field: d.field, was: shown(d.was), is: shown(d.is) })) }
    })
    .sort((a, b) => rank[a.what] - rank[b.what] || compareText(a.object, b.object))
}
