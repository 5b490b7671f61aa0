// Indexes and keys that become other ones: built under a passing name while the old one is there, and exchanged in one short transaction.
import type { RelationAddress } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { freeName } from './freeName.ts'
import { hangingKey, keyOf, type Part, type PartOf } from './parts.ts'
import { duplicateCheck } from './preChecks.ts'
import { goneProbe, indexOf, indexProbe, makeConcurrently, partText, work } from './statements.ts'
import { type Change, canAsk, change, type Making, makeRank, statusOf } from './step.ts'

type Key = PartOf<'unique'> | PartOf<'primary key'>
type Indexed = PartOf<'index'> | Key

const isIndexed = (p: Part | undefined): p is Indexed => p?.kind === 'index' || p?.kind === 'unique' || p?.kind === 'primary key'

/** Can the old one stay until the new one is built? Not where something rests on it, its columns go or get other types, or partitions take part. */
export function canExchange(a: Part | undefined, b: Part | undefined, m: Making): boolean {
  if (!isIndexed(a) || !isIndexed(b) || a.kind !== b.kind) return false
  const [was, is] = [m.ga.relation(a.on), m.gb.relation(b.on)]
  if (was?.kind !== 'table' || is?.kind !== 'table' || was.partitionOf || is.partitionOf || m.ga.childrenOf(a.on).length > 0) return false
  const stays = (key: string) => {
    const s = statusOf(m, key)
    return s === undefined || s.what === 'same' || (s.what === 'alter' && !s.by.some((x) => x.retypes))
  }
  const own = keyOf(b)
  const rests = (g: Making['ga']) => [...g.parts.values()].some((p) => p.kind !== 'column' && g.needsOf(p).includes(own))
  return m.ga.needsOf(a).every(stays) && m.gb.needsOf(b).every((k) => stays(k) || statusOf(m, k)?.what === 'make') && !rests(m.ga) && !rests(m.gb)
}

/** Three steps, the same both ways: one is built beside the other, they are exchanged, the old one goes. */
export function exchanging(a: Part, b: Part, m: Making): readonly Change[] {
  if (!isIndexed(a) || !isIndexed(b)) return []
  const { on } = b
  const at = (name: string): RelationAddress => ({ schema: on.schema, name })
  const under = (p: Indexed, name: string): PartOf<'index'> => ({
    kind: 'index',
    on,
    value: p.kind === 'index' ? { ...p.value, name, valid: true } : { ...indexOf(p.value, true), name },
  })
  const taken = new Set([m.ga, m.gb].flatMap((g) => [...g.parts.values()].flatMap((p) => ('name' in p.value ? [p.value.name] : []))))
  const beside = (name: string, word: string) => freeName(name, word, (n) => taken.has(n))
  const next = under(b, beside(b.value.name, 'next'))
  const before = under(a, beside(a.value.name, 'before'))
  const key = keyOf(b)
  const keys = { next: hangingKey('index', on, next.value.name), before: hangingKey('index', on, before.value.name) }
  const drop = (p: PartOf<'index'>) => `DROP INDEX CONCURRENTLY IF EXISTS ${pg.quoteAddress(at(p.value.name))};`
  const columns = b.kind === 'index' ? b.value.columns.flatMap((c) => c.column ?? []) : b.value.columns
  const whole = b.kind !== 'index' || b.value.columns.length === columns.length
  const unique = b.kind !== 'index' || b.value.unique
  const asks = unique && whole && canAsk(m, on, columns)
  const where = b.kind === 'index' ? (b.value.predicate?.written ?? null) : null
  const exchange = exchangeSql(a, b, next.value.name, before.value.name)
  const dropped = work([drop(before)], [{ relation: pg.quoteAddress(on), mode: 'share update exclusive' }])
  return [
    change(
      next,
      'make',
      makeRank.index,
      'is built beside the one there is, while others read and write',
      makeConcurrently(next, m.gb),
      [drop(next)],
      [[keys.next, next]],
      {
        key,
        object: partText(b),
        running: 'outside',
        probe: indexProbe(on.schema, next.value.name),
        preChecks: asks ? [duplicateCheck(on, b.value.name, columns, { where, nulls: b.value.nullsNotDistinct })] : [],
      },
    ),
    change(
      b,
      'alter',
      makeRank.index + 41,
      'takes the place of the one there was',
      work(exchange.up, [{ relation: pg.quoteAddress(on), mode: 'access exclusive' }]),
      exchange.down,
      [[keys.next, null], ...(a.kind === 'index' ? [[keys.before, before] as const] : []), [key, b]],
    ),
    change(
      before,
      'alter',
      makeRank.index + 2,
      a.kind === 'index' ? 'the one there was is dropped' : 'on the way back the one there was is built here, while others read and write',
      a.kind === 'index' ? dropped : work([]),
      [drop(before), ...makeConcurrently(before, m.ga).sql],
      [[keys.before, null]],
      { key, object: partText(a), running: 'outside', probe: a.kind === 'index' ? goneProbe(at(before.value.name)) : null },
    ),
  ]
}

/** An index is renamed; a key takes the index that was built for it as it goes (manual, ALTER TABLE, ADD table_constraint_using_index). */
function exchangeSql(a: Indexed, b: Indexed, next: string, before: string): { readonly up: readonly string[]; readonly down: readonly string[] } {
  const { on } = b
  if (a.kind === 'index' || b.kind === 'index') {
    const rename = (from: string, to: string) => `ALTER INDEX ${pg.quoteAddress({ schema: on.schema, name: from })} RENAME TO ${pg.quoteIdent(to)};`
    const name = b.value.name
    return { up: [rename(name, before), rename(next, name)], down: [rename(name, next), rename(before, name)] }
  }
  const turn = (gone: Key, k: Key, index: string) => [
    `${pg.alterTable(on)} DROP CONSTRAINT ${pg.quoteIdent(gone.value.name)}, ADD CONSTRAINT ${pg.quoteIdent(k.value.name)} ${k.kind === 'unique' ? 'UNIQUE' : 'PRIMARY KEY'} USING INDEX ${pg.quoteIdent(index)}${pg.deferrableWords[k.value.deferrable]};`,
    ...(k.value.clustered ? [`${pg.alterTable(on)} CLUSTER ON ${pg.quoteIdent(k.value.name)};`] : []),
    ...(k.value.comment === null ? [] : [pg.setComment(`CONSTRAINT ${pg.quoteIdent(k.value.name)} ON ${pg.quoteAddress(on)}`, k.value.comment)]),
    ...(k.value.indexComment === null ? [] : [pg.setComment(`INDEX ${pg.quoteAddress({ schema: on.schema, name: k.value.name })}`, k.value.indexComment)]),
  ]
  return { up: turn(a, b, next), down: turn(b, a, before) }
}
