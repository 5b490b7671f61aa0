// What inference says on real schemas: which kinds of finding fire where and stay silent where they must, join tables and why, and that no
// schema fares worse than by the plainest rule for names. The figures are printed.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import type { Catalog } from '../../src/core/catalog/index.ts'
import { nullableAmong, relationText, uniqueRules } from '../../src/core/catalog/index.ts'
import { readScript } from '../../src/core/ddl/index.ts'
import { parseDialect, semanticsOf } from '../../src/core/dialect/guess.ts'
import { infer } from '../../src/core/infer/index.ts'
import { derive, type Finding, findingStatuses, printedRelationships } from '../../src/core/model/index.ts'
import { singularWord } from '../../src/core/names/index.ts'
import { pairKey, readSamples } from '../calibrate/corpus.ts'
import { catalogOf, column, reference, table } from '../support/catalogs.ts'

const folder = '../shared/corpus'
const read = (text: string, dialect: string): Catalog => {
  const choice = parseDialect(dialect)
  if (!choice) throw new Error(dialect)
  return readScript([{ name: 'a.sql', text }], semanticsOf(choice)).catalog
}
const corpus = readdirSync(folder)
  .filter((d) => existsSync(`${folder}/${d}/normalized.sql`))
  .map((name) => ({ name, catalog: read(readFileSync(`${folder}/${name}/normalized.sql`, 'utf8'), readFileSync(`${folder}/${name}/dialect`, 'utf8').trim()) }))
const torture = ['postgresql', 'mariadb', 'sqlite'].map((d) => ({
  name: `a script of everything, ${d}`,
  catalog: read(readFileSync(`tests/scripts/torture.${d}.sql`, 'utf8'), d),
}))
const all = [...corpus, ...torture].map((s) => ({ ...s, findings: infer(s.catalog).findings }))

const refs = (...pairs: readonly [string, string][]) => pairs.map(([c, t], i) => reference(`f${i}`, [c], t, ['id']))
const bay = table('bay', ['id', 'label'], ['id'])
const lane = table('lane', ['id', 'label'], ['id'])
/** A kind of finding, and tables that look like it and are none. */
const kinds: readonly { readonly kind: string; readonly is: (f: Finding) => boolean; readonly lookAlikes: readonly Catalog[] }[] = [
  {
    kind: 'declared reference',
    is: (f) => f.kind === 'reference' && f.alternatives[0].key === 'declared',
    lookAlikes: [
      catalogOf(bay, table('crate', ['id', 'bay_id'], ['id'])),
      catalogOf(bay, table('crate', ['id', 'bay'], ['id'])),
      catalogOf(table('crate', ['id', 'gone_id'], ['id'], { foreignKeys: refs(['gone_id', 'gone']) })),
    ],
  },
  {
    kind: 'guessed reference at 0.5 or more',
    is: (f) => f.kind === 'reference' && f.alternatives.some((a) => a.key === 'none') && f.alternatives[0].key !== 'none',
    lookAlikes: [
      catalogOf(bay, table('crate', ['id', column('bay', { type: 'boolean' })], ['id'])),
      catalogOf(bay, table('crate', ['id', 'bay_count', 'bays'], ['id'])),
      catalogOf(bay, table('crate', ['id', 'height', 'weight', column('bay_label', { type: 'text' })], ['id'])),
    ],
  },
  {
    kind: 'reference of a view',
    is: (f) => f.kind === 'reference' && f.alternatives[0].key === 'lineage',
    lookAlikes: ['select id + 1 as id from bay', 'select count(*) as id from bay', 'select 1 as bay_id'].map((q) =>
      read(`create table bay (id int primary key); create view v as ${q};`, 'postgresql'),
    ),
  },
  {
    kind: 'many-to-many',
    is: (f) => f.kind === 'join-table' && f.alternatives[0].key === 'many-to-many',
    lookAlikes: [
      catalogOf(
        bay,
        lane,
        table('bay_lane', ['id', 'bay_id', 'lane_id', 'since', 'note'], ['id'], { foreignKeys: refs(['bay_id', 'bay'], ['lane_id', 'lane']) }),
      ),
      catalogOf(bay, lane, table('bay_lane', ['bay_id', 'nr'], ['bay_id', 'nr'], { foreignKeys: refs(['bay_id', 'bay']) })),
      catalogOf(bay, lane, table('bay_lane', ['bay_id', 'lane_id?'], ['bay_id'], { foreignKeys: refs(['bay_id', 'bay'], ['lane_id', 'lane']) })),
    ],
  },
  {
    kind: 'join table read as an entity',
    is: (f) => f.kind === 'join-table' && f.alternatives[0].key === 'entity',
    lookAlikes: [
      catalogOf(bay, lane, table('bay_lane', ['bay_id', 'lane_id'], ['bay_id', 'lane_id'], { foreignKeys: refs(['bay_id', 'bay'], ['lane_id', 'lane']) })),
      catalogOf(bay, table('crate', ['id', 'bay_id'], ['id'], { foreignKeys: refs(['bay_id', 'bay']) })),
      catalogOf(bay, table('pair', ['nr', 'bay_id'], ['nr', 'bay_id'], { foreignKeys: refs(['bay_id', 'bay']) })),
    ],
  },
  {
    kind: 'kind and id',
    is: (f) => f.kind === 'polymorphic',
    lookAlikes: [
      catalogOf(bay, table('tag', ['id', column('bay_type', { type: 'text' }), 'bay_id'], ['id'])),
      catalogOf(bay, table('tag', ['id', column('owner_kind', { type: 'text' })], ['id'])),
      catalogOf(bay, table('tag', ['id', column('content_type', { type: 'text' }), 'owner_id'], ['id'])),
    ],
  },
  {
    kind: 'class',
    is: (f) => f.kind === 'entity',
    lookAlikes: [catalogOf(), read('create type t as (a int);', 'postgresql'), read('create sequence s;', 'postgresql')],
  },
]

describe('each kind of finding', () => {
  it.each(kinds)('$kind: fires on three schemas or more, and on no look-alike', ({ kind, is, lookAlikes }) => {
    const counts = all.map((s) => ({ name: s.name, n: s.findings.filter(is).length })).filter((c) => c.n > 0)
    console.log(`${kind}: ${counts.reduce((n, c) => n + c.n, 0)} in ${counts.length} of ${all.length} schemas`)
    expect(counts.length).toBeGreaterThanOrEqual(3)
    expect(lookAlikes.map((c) => infer(c).findings.filter(is).length)).toEqual(lookAlikes.map(() => 0))
  })
})

describe('join tables of the corpus', () => {
  it('a table whose key is exactly two declared references is a many-to-many; each other decision says why', () => {
    let pure = 0
    const others = new Map<string, number>()
    for (const s of all) {
      const findings = new Map(s.findings.map((f) => [f.id as string, f]))
      const referred = new Set(s.catalog.relations.flatMap((r) => r.foreignKeys.map((k) => relationText({ schema: k.target.schema, name: k.target.table }))))
      for (const r of s.catalog.relations) {
        const [a, b, ...more] = r.foreignKeys
        const pair = new Set([...(a?.columns ?? []), ...(b?.columns ?? [])])
        const exact = a && b && more.length === 0 && uniqueRules(r).some((u) => u.columns.length === pair.size && u.columns.every((c) => pair.has(c)))
        const known = (k: typeof a) => k && s.catalog.relations.some((x) => x.schema === k.target.schema && x.name === k.target.table)
        const plain = r.columns.every((c) => pair.has(c.name)) && nullableAmong(r, [...pair], (c) => c.nullable).length === 0
        const f = findings.get(`join-table:${relationText(r)}`)
        if (exact && plain && known(a) && known(b) && !referred.has(relationText(r)) && pair.size === a.columns.length + b.columns.length) {
          pure += 1
          expect(f?.alternatives[0].key, relationText(r)).toBe('many-to-many')
        } else if (f) {
          const because = f.alternatives[0].evidence[0]?.kind ?? ''
          others.set(`${f.alternatives[0].key}: ${because}`, (others.get(`${f.alternatives[0].key}: ${because}`) ?? 0) + 1)
          expect(f.alternatives[0].evidence.length + (f.alternatives[1]?.evidence.length ?? 0), f.id).toBeGreaterThan(0)
        }
      }
    }
    console.log(`${pure} tables whose key is two references are many-to-many; others: ${[...others].map(([k, n]) => `${k} (${n})`).join(', ')}`)
    expect(pure).toBeGreaterThan(5)
  })
})

/** A column called like a table, or like it and `id`, refers to that table's key. */
function plainNames(c: Catalog): ReadonlySet<string> {
  const tables = c.relations.filter((r) => r.primaryKey?.columns.length === 1)
  return new Set(
    c.relations.flatMap((child) =>
      child.columns.flatMap((col) => {
        const stem = singularWord(col.name.toLowerCase().replace(/_?(id|no|code|key)$/, ''))
        const hit = stem === '' ? undefined : tables.find((t) => t !== child && singularWord(t.name.toLowerCase()) === stem)
        return hit ? [pairKey(child.name, [col.name], hit.name, hit.primaryKey?.columns ?? [])] : []
      }),
    ),
  )
}

describe('undeclared references', () => {
  const f1 = (found: ReadonlySet<string>, truth: ReadonlySet<string>) =>
    found.size + truth.size === 0 ? 0 : (2 * [...found].filter((k) => truth.has(k)).length) / (found.size + truth.size)
  it('no schema fares worse than by the plainest rule', { timeout: 60_000 }, () => {
    const worse: string[] = []
    const sums = { ours: 0, plain: 0, n: 0 }
    for (const s of readSamples(folder)) {
      const { findings } = infer(s.catalog)
      const listed = printedRelationships(derive(s.catalog, findings, []), findings, findingStatuses(findings, []), 0.5)
      const ours = new Set(
        listed.filter((r) => !r.through && r.kind !== 'polymorphic').map((r) => pairKey(r.from.table, r.from.columns, r.to.table, r.to.columns)),
      )
      const [a, b] = [f1(ours, s.truth), f1(plainNames(s.catalog), s.truth)]
      sums.ours += a
      sums.plain += b
      sums.n += 1
      if (a < b) worse.push(`${s.name}: ${a.toFixed(3)} against ${b.toFixed(3)}`)
    }
    console.log(`undeclared references, mean F1 by schema: ${(sums.ours / sums.n).toFixed(3)}, by the plainest rule ${(sums.plain / sums.n).toFixed(3)}`)
    expect(worse).toEqual([])
  })
})
