// Small schemas of one cause each, with what is true of them: how they are read, and how an answer is judged. No weight is fitted on them.
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Catalog, Relation } from '../../src/core/catalog/index.ts'
import { readScript } from '../../src/core/ddl/index.ts'
import { parseDialect, semanticsOf } from '../../src/core/dialect/guess.ts'
import { infer } from '../../src/core/infer/index.ts'
import { guessReferences } from '../../src/core/infer/undeclared/index.ts'
import type { Edit, Finding, ReferenceTarget } from '../../src/core/model/index.ts'

interface End {
  readonly table: string
  readonly columns: readonly string[]
}

interface TrueReference {
  readonly from: End
  readonly to: End
}

type JoinKind = 'many-to-many' | 'entity' | 'one-to-one'

interface Truth {
  readonly note: string
  readonly references: readonly TrueReference[]
  /** What follows from others: neither wanted nor wrong. */
  readonly implied?: readonly TrueReference[]
  readonly polymorphic?: readonly End[]
  readonly not_polymorphic?: readonly End[]
  readonly joins?: Readonly<Record<string, JoinKind>>
  readonly names?: {
    readonly classes?: Readonly<Record<string, string>>
    readonly ends?: Readonly<Record<string, { readonly with?: readonly string[]; readonly without?: readonly string[] }>>
  }
}

export interface Case {
  readonly name: string
  readonly catalog: Catalog
  readonly truth: Truth
}

const folder = 'tests/cases'

/** All cases, in order of name. `dir`: another folder of the same form. */
export function readCases(dir = process.env['PELVOK_CASES'] ?? folder): readonly Case[] {
  return readdirSync(dir)
    .filter((d) => /^\d/.test(d))
    .map((name) => {
      const file = (f: string) => readFileSync(join(dir, name, f), 'utf8')
      const dialect = parseDialect(file('dialect').trim())
      if (!dialect) throw new Error(`${name}: no known dialect`)
      const { catalog } = readScript([{ name: 'schema.sql', text: file('schema.sql') }], semanticsOf(dialect))
      return { name, catalog, truth: JSON.parse(file('truth.json')) as Truth }
    })
}

const tableOf = (r: { readonly schema: string; readonly name: string }) => (r.schema === '' ? r.name : `${r.schema}.${r.name}`)

function textOf(from: End, to: End): string {
  const pairs = from.columns.map((c, i) => `${c}>${to.columns[i] ?? ''}`).toSorted()
  return `${from.table} → ${to.table}: ${pairs.join(', ')}`
}

export interface Judged {
  /** `table → target: column>key`, with how sure it is. */
  readonly found: ReadonlyMap<string, number>
  readonly missed: ReadonlyMap<string, number | null>
  readonly wrong: ReadonlyMap<string, number>
}

/** What is said of references nobody declared, against the truth. `stripped`: those that are declared are removed first. */
export function judgeReferences(c: Case, stripped: boolean): Judged {
  const catalog = stripped ? { ...c.catalog, relations: c.catalog.relations.map((r): Relation => ({ ...r, foreignKeys: [] })) } : c.catalog
  const said = new Map<string, number>()
  for (const g of guessReferences(catalog, catalog.relations))
    for (const a of g.answers) {
      const text = textOf({ table: tableOf(g.child), columns: a.columns }, { table: tableOf(a.parent), columns: a.targetColumns })
      said.set(text, Math.max(said.get(text) ?? 0, a.confidence))
    }
  for (const r of catalog.relations)
    for (const k of r.foreignKeys) {
      const to = { table: tableOf({ schema: k.target.schema, name: k.target.table }), columns: k.target.columns }
      said.set(textOf({ table: tableOf(r), columns: k.columns }, to), 1)
    }
  const truth = c.truth.references.map((r) => textOf(r.from, r.to))
  const allowed = new Set([...truth, ...(c.truth.implied ?? []).map((r) => textOf(r.from, r.to))])
  return {
    found: new Map(truth.flatMap((t) => ((said.get(t) ?? 0) >= 0.5 ? [[t, said.get(t) as number] as const] : []))),
    missed: new Map(truth.flatMap((t) => ((said.get(t) ?? 0) >= 0.5 ? [] : [[t, said.get(t) ?? null] as const]))),
    wrong: new Map([...said].filter(([t, p]) => p >= 0.5 && !allowed.has(t))),
  }
}

const editOf = <F extends Edit['facet']>(f: Finding, facet: F) =>
  f.alternatives[0].edits.find((e): e is Extract<Edit, { readonly facet: F }> => e.facet === facet)

/** What is said otherwise than the truth of polymorphic pairs, join tables and names, in words; empty where all holds. */
export function judgeReadings(c: Case): readonly string[] {
  const { findings } = infer(c.catalog)
  return [...judgePairs(c.truth, findings), ...judgeJoins(c.truth, findings), ...judgeNames(c.truth, findings)]
}

function judgePairs(truth: Truth, findings: readonly Finding[]): readonly string[] {
  const pairs = findings.flatMap((f) => {
    const value = editOf(f, 'reference.kinds')?.value
    return value ? [{ subject: f.subject, columns: [value.kindColumn, value.idColumn] }] : []
  })
  const saysPair = (p: End) => pairs.some((x) => x.subject.startsWith(`${p.table}(`) && p.columns.every((col) => x.columns.includes(col)))
  const text = (p: End) => `${p.table}(${p.columns.join(', ')})`
  return [
    ...(truth.polymorphic ?? []).flatMap((p) => (saysPair(p) ? [] : [`${text(p)} is a pair of several tables`])),
    ...(truth.not_polymorphic ?? []).flatMap((p) => (saysPair(p) ? [`${text(p)} is no pair of several tables`] : [])),
  ]
}

const judgeJoins = (truth: Truth, findings: readonly Finding[]): readonly string[] =>
  Object.entries(truth.joins ?? {}).flatMap(([table, kind]) => {
    const reading = readingOf(findings, table)
    return reading === kind ? [] : [`${table} is ${kind}, and is read as ${reading}`]
  })

function judgeNames(truth: Truth, findings: readonly Finding[]): readonly string[] {
  const of = (kind: Finding['kind'], subject: string) => findings.find((f) => f.kind === kind && f.subject === subject)
  const classes = Object.entries(truth.names?.classes ?? {}).flatMap(([table, name]) => {
    const finding = of('entity', table)
    const given = finding && editOf(finding, 'entity.name')?.value
    return given === name ? [] : [`the class of ${table} is ${name}, not ${given}`]
  })
  const ends = Object.entries(truth.names?.ends ?? {}).flatMap(([table, words]) => {
    const finding = of('join-table', table)
    const given = finding ? [editOf(finding, 'join.firstName')?.value ?? '', editOf(finding, 'join.secondName')?.value ?? ''] : []
    const holds = (w: string) => given.map((e) => e.toLowerCase().includes(w))
    return [
      ...(words.with ?? []).flatMap((w) =>
        given.length === 0 || holds(w).includes(false) ? [`both ends past ${table} hold "${w}": ${given.join(', ')}`] : [],
      ),
      ...(words.without ?? []).flatMap((w) => (holds(w).includes(true) ? [`no end past ${table} holds "${w}": ${given.join(', ')}`] : [])),
    ]
  })
  return [...classes, ...ends]
}

function readingOf(findings: readonly Finding[], table: string): JoinKind {
  const join = findings.find((f) => f.kind === 'join-table' && f.subject === table)
  if (join && editOf(join, 'join.reading')?.value.as === 'many-to-many') return 'many-to-many'
  const references = findings.flatMap((f) => {
    const target = f.kind === 'reference' && f.subject.startsWith(`${table}(`) ? editOf(f, 'reference.target')?.value : null
    return target ? [{ target: target as ReferenceTarget, evidence: f.alternatives[0].evidence }] : []
  })
  return references.some((r) => r.evidence.some((e) => e.kind === 'unique rule') && r.evidence.some((e) => e.kind === 'shared key')) ? 'one-to-one' : 'entity'
}
