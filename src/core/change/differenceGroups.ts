// Many differences of one kind are one thing to look at.
import type { Difference } from '../catalog/index.ts'

export interface DifferenceGroup {
  /** `relation, columns[].options` */
  readonly kind: string
  /** At least one; the first is the example. */
  readonly all: readonly Difference[]
}

/** The kind of object and the field without the names in it: `relation app.bay`, `columns[id].options` → `relation, columns[].options, different`. */
function kindOf(d: Difference): string {
  const object = d.object.slice(0, d.object.includes(' ') ? d.object.indexOf(' ') : d.object.length)
  const field = withoutNames(d.field)
  const what = d.was === null ? 'only found' : d.is === null ? 'only planned' : 'different'
  return `${object}${field === '' ? '' : `, ${field}`}, ${what}`
}

/** Brackets may stand in names, too: everything up to the last bracket that a dot, a space or the end follows goes. O(length). */
function withoutNames(field: string): string {
  let out = ''
  let i = 0
  while (i < field.length) {
    const open = field.indexOf('[', i)
    if (open < 0) return out + field.slice(i)
    let close = field.indexOf(']', open)
    while (close >= 0 && close + 1 < field.length && field[close + 1] !== '.' && field[close + 1] !== ' ') close = field.indexOf(']', close + 1)
    if (close < 0) return `${out}${field.slice(i, open)}[]`
    out += `${field.slice(i, open)}[]`
    i = close + 1
  }
  return out
}

/** Groups in order of their first difference. O(differences). */
export function differenceGroups(differences: readonly Difference[]): readonly DifferenceGroup[] {
  const groups = new Map<string, Difference[]>()
  for (const d of differences) {
    const kind = kindOf(d)
    const own = groups.get(kind)
    if (own) own.push(d)
    else groups.set(kind, [d])
  }
  return [...groups].map(([kind, all]) => ({ kind, all }))
}

export const plannedAndFound = (d: Difference): string =>
  `${d.object}${d.field === '' ? '' : ` ${d.field}`}: ${d.was ?? 'absent'} planned, ${d.is ?? 'absent'} found`

/** One line for each kind: how many, and one of them. */
export const groupLine = (g: DifferenceGroup): string =>
  g.all.length === 1 ? plannedAndFound(g.all[0] as Difference) : `${g.all.length} × ${g.kind}, such as ${plannedAndFound(g.all[0] as Difference)}`
