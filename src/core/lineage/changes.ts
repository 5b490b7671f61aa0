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

const says = (v: unknown): boolean => v !== null && v !== false && v !== '' && !(Array.isArray(v) && v.length === 0)

/** A value without what says nothing: `name: bay_id, type: integer, nullable: false`. An expression stands as it is written. */
function plain(v: unknown): string {
  if (v === null) return 'none'
  if (Array.isArray(v)) return v.length === 0 ? 'none' : v.map(plain).join(', ')
  if (typeof v !== 'object') return String(v)
  const o = v as Readonly<Record<string, unknown>>
  if (typeof o['written'] === 'string') return o['written']
  return Object.entries(o)
    .filter(([key, x]) => says(x) || key === 'nullable')
    .map(([key, x]) => `${key}: ${typeof x === 'object' && x !== null && !('written' in x) ? `(${plain(x)})` : plain(x)}`)
    .join(', ')
}

function shown(value: string | null): string | null {
  if (value === null) return null
  try {
    return plain(JSON.parse(value))
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
