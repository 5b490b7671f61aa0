// What is dropped and made again gets its owner and its privileges back, on the way up and on the way back.

import type { Catalog } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { type Part, partsOf } from './parts.ts'
import type { Plan } from './plan.ts'
import type { Change } from './step.ts'

/** Parts that have an owner and privileges of their own, and lose them where they are made anew. Tables that are copied see to theirs. */
export function holderOf(p: Part | undefined): ReturnType<typeof pg.relationHolder> | null {
  if (p?.kind === 'view') return pg.relationHolder(p.value, 'TABLE')
  if (p?.kind === 'sequence') return pg.relationHolder(p.value, 'SEQUENCE')
  return p?.kind === 'routine' ? pg.routineHolder(p.value, p.value.argumentTypes) : null
}

/** The steps that drop an object for a while and make it again, with its rights remembered before and given back after. */
export function keepingRights(list: readonly Change[], a: Part, b: Part): readonly Change[] {
  const [was, is] = [holderOf(a), holderOf(b)]
  if (!was || !is) return list
  return list.map((c) => {
    if (c.phase === 'drop') return { ...c, up: { ...c.up, sql: [pg.rememberRights(was), ...c.up.sql] }, down: [...c.down, pg.giveRights(was)] }
    return c.phase === 'make' ? { ...c, up: { ...c.up, sql: [...c.up.sql, pg.giveRights(is)] }, down: [pg.rememberRights(is), ...c.down] } : c
  })
}

/** Steps that make something anew, each with a query of what is given back: a place and a statement a row. */
export function rightsKept(plan: Plan, base: Catalog): readonly { readonly step: number; readonly query: string }[] {
  const parts = partsOf(base)
  return plan.steps.flatMap((s) => {
    if (!s.hazards.some((h) => h.code === 'made-anew')) return []
    const holders = s.sets.flatMap(([key, p]) => (p === null ? (holderOf(parts.get(key)) ?? []) : []))
    return holders.map((h) => ({ step: s.number, query: `select * from (${pg.rightsQuery(h)}) r order by 1, 2` }))
  })
}
