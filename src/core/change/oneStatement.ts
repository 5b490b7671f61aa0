// Changes of type of one table become one statement: its rows are written once.
import * as pg from '../dialect/postgres/index.ts'
import type { Part } from './parts.ts'
import type { Change, Making } from './step.ts'

/** One statement both ways: one that sets a time zone for itself stays alone. */
const canJoin = (c: Change) => c.retypes === true && c.up.sql.length === 1 && c.down.length === 1

/** The clause of a statement that begins with ALTER TABLE and its name. */
const clauseOf = (statement: string, head: string) => statement.slice(head.length + 1, -1)

/** The same steps, those that change types of one table together as one where the first of them stands. */
export function typesTogether(list: readonly Change[], m: Making): readonly Change[] {
  const byTable = new Map<string, Change[]>()
  const tableOf = (c: Change): string | null => {
    const p: Part | undefined = m.gb.parts.get(c.key)
    return p?.kind === 'column' && canJoin(c) ? pg.alterTable(p.on) : null
  }
  for (const c of list) {
    const head = tableOf(c)
    if (head !== null && c.up.sql[0]?.startsWith(`${head} `)) byTable.set(head, [...(byTable.get(head) ?? []), c])
  }
  const merged = new Map<Change, Change | null>()
  for (const [head, all] of byTable) {
    const [first, ...others] = all as [Change, ...Change[]]
    if (others.length === 0) continue
    const one = (of: (c: Change) => string) => [`${head} ${all.map((c) => clauseOf(of(c), head)).join(', ')};`]
    const hazards = all.flatMap((c) => c.up.hazards)
    merged.set(first, {
      ...first,
      also: others.map((c) => c.key),
      object: `table ${head.replace('ALTER TABLE ', '')}`,
      says: all.map((c) => `${c.object.slice(c.object.lastIndexOf('.') + 1)}: ${c.says}`).join(', '),
      up: {
        sql: one((c) => c.up.sql[0] as string),
        locks: all.flatMap((c) => c.up.locks),
        hazards: hazards.filter((h, i) => h.code !== 'rewrites' || hazards.findIndex((o) => o.code === 'rewrites' && o.object === h.object) === i),
      },
      down: one((c) => c.down[0] as string),
      preChecks: all.flatMap((c) => c.preChecks),
      sets: all.flatMap((c) => c.sets),
    })
    for (const c of others) merged.set(c, null)
  }
  return merged.size === 0 ? list : list.flatMap((c) => (merged.has(c) ? (merged.get(c) ?? []) : [c]))
}
