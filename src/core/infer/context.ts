// What several kinds of finding look up in a catalog, made once.
import { type Catalog, type Column, columnsText, compareAddress, type ForeignKey, type Relation, relationText } from '../catalog/index.ts'
import { type Naming, splitWords, tablePrefixes, wordsWithoutPrefix } from '../names/index.ts'
import type { RowEvidence } from '../rows/index.ts'
import { acceptsNullIn } from '../views/index.ts'
import { classWords } from './tableNumber.ts'
import { type Ground, groundOf } from './undeclared/ground.ts'
import { type Guess, guessesOn } from './undeclared/index.ts'
import { type LineageReference, viewReferences } from './viewReferences.ts'

/** Columns that refer to another table, by declaration or by all that speaks for it. */
export interface Reference {
  /** Canonical address of the referencing columns; with `>target` where the same columns refer to several tables. */
  readonly subject: string
  readonly child: Relation
  readonly parent: Relation
  /** In key order. */
  readonly columns: readonly string[]
  readonly targetColumns: readonly string[]
  /** Foreign keys over these columns to these target columns: usually one, two where it was declared twice, none where it is guessed. */
  readonly declared: readonly ForeignKey[]
  readonly confidence: number
}

export type DeclaredReference = Reference & { readonly declared: readonly [ForeignKey, ...ForeignKey[]] }

/** A guess at least this sure takes part in the model until somebody rules otherwise. */
export const takenFrom = 0.5

export interface Context {
  readonly catalog: Catalog
  /** Relations that become entities or join tables: all but partitions, which are parts of their parent. */
  readonly relations: readonly Relation[]
  readonly byText: ReadonlyMap<string, Relation>
  /** Singular words of the class, by relation text, without the schema's prefix. */
  readonly words: ReadonlyMap<string, readonly string[]>
  /** Relations whose prefix is left out of the class. */
  readonly unprefixed: ReadonlySet<Relation>
  /** The declared ones first: they keep the plain names. */
  readonly references: readonly Reference[]
  readonly declared: readonly DeclaredReference[]
  readonly guesses: readonly Guess[]
  /** Of views, by what their columns are. */
  readonly lineage: readonly LineageReference[]
  readonly ground: Ground
  /** What the project says about names. */
  readonly naming: Naming
  /** Schemas whose tables are named in the singular, with the words that are plurals by their looks only. */
  readonly kept: ReadonlySet<string>
  /** Tables that others inherit from, by address text. */
  readonly inheritedFrom: ReadonlySet<string>
  readonly rows: RowEvidence | null
  readonly acceptsNull: (c: Column) => boolean
  /** Foreign keys whose target is not in the catalog. */
  readonly dangling: readonly { readonly child: Relation; readonly key: ForeignKey }[]
}

export function inferenceContext(catalog: Catalog, rows: RowEvidence | null, naming: Naming): Context {
  const relations = catalog.relations.filter((r) => r.kind !== 'partition').toSorted(compareAddress)
  const byText = new Map(relations.map((r) => [relationText(r), r]))
  const prefixes = withRules(tablePrefixes(relations), relations, naming)
  const ground = groundOf(catalog, relations, (rows?.inclusions.length ?? 0) > 0, rows?.joins)
  const read = (list: readonly string[]) => list.flatMap((w) => wordsIn(w, ground, naming))
  const unprefixed = wordsWithoutPrefix(relations, prefixes, (list) => naming.singular(read(list)).join(' '))
  const { words, kept } = classWords(relations, (r) => read(unprefixed.words.get(r) ?? []), ground.lexicon.spelled, naming)
  const dangling: { child: Relation; key: ForeignKey }[] = []
  const declared = relations.flatMap((child) => {
    const { found, lost } = referencesOf(child, byText)
    dangling.push(...lost.map((key) => ({ child, key })))
    return found
  })
  const guesses = guessesOn(ground, rows)
  const ofTables = [...declared, ...guesses.flatMap(takenGuess)]
  const lineage = viewReferences(catalog, relations, byText, ofTables)
  const references = [...ofTables, ...lineage]
  const inheritedFrom = new Set(relations.flatMap((r) => r.inherits.map(relationText)))
  return {
    catalog,
    relations,
    byText,
    words,
    unprefixed: unprefixed.dropped,
    references,
    declared,
    guesses,
    lineage,
    ground,
    naming,
    kept,
    inheritedFrom,
    rows,
    acceptsNull: acceptsNullIn(catalog),
    dangling,
  }
}

/** What a project's dictionary reads a word as; else the words that it falls into, each as the dictionary reads it. */
function wordsIn(word: string, ground: Ground, naming: Naming): readonly string[] {
  const whole = naming.read([word])
  return whole.length === 1 && whole[0] === word ? naming.read(ground.lexicon.spelled(word)) : whole
}

/** The words of an identifier as names are made of them. */
export const spelledIn = (x: Pick<Context, 'ground' | 'naming'>, identifier: string): readonly string[] =>
  splitWords(identifier).flatMap((w) => wordsIn(w, x.ground, x.naming))

/** Prefixes found, and what rules say of them. */
function withRules(found: ReadonlyMap<string, ReadonlySet<string>>, relations: readonly Relation[], naming: Naming): ReadonlyMap<string, ReadonlySet<string>> {
  const schemas = [...new Set(relations.map((r) => r.schema))]
  return new Map(
    schemas.map((schema) => {
      const said = naming.prefixes(schema)
      const dropped = [...said].flatMap(([prefix, drop]) => (drop ? [prefix] : []))
      return [schema, new Set([...(found.get(schema) ?? [])].filter((p) => said.get(p) !== false).concat(dropped))]
    }),
  )
}

function takenGuess(g: Guess): readonly Reference[] {
  const [best] = g.answers
  return best.confidence < takenFrom ? [] : [{ subject: g.subject, child: g.child, ...best, declared: [] }]
}

function referencesOf(
  child: Relation,
  byText: ReadonlyMap<string, Relation>,
): { readonly found: readonly DeclaredReference[]; readonly lost: readonly ForeignKey[] } {
  const groups = new Map<string, Map<string, [ForeignKey, ...ForeignKey[]]>>()
  const lost: ForeignKey[] = []
  for (const key of child.foreignKeys) {
    const target = relationText({ schema: key.target.schema, name: key.target.table })
    if (!byText.has(target)) {
      lost.push(key)
      continue
    }
    const columns = columnsText(child, key.columns.toSorted())
    const pairs = key.columns.map((c, i) => `${c}=${key.target.columns[i]}`).toSorted()
    const perTarget = groups.get(columns) ?? new Map<string, [ForeignKey, ...ForeignKey[]]>()
    const same = perTarget.get(`${target} ${pairs.join()}`)
    if (same) same.push(key)
    else perTarget.set(`${target} ${pairs.join()}`, [key])
    groups.set(columns, perTarget)
  }
  const found = [...groups].flatMap(([columns, perTarget]) =>
    [...perTarget.values()].map((declared, i) => {
      const parent = byText.get(relationText({ schema: declared[0].target.schema, name: declared[0].target.table })) as Relation
      const { columns: own, target } = declared[0]
      const subject = i === 0 ? columns : `${columns}>${columnsText(parent, target.columns)}`
      return { subject, child, parent, columns: own, targetColumns: target.columns, declared, confidence: 1 }
    }),
  )
  return { found, lost }
}
