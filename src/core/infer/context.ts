// What several kinds of finding look up in a catalog, made once.
import { type Catalog, type Column, columnsText, compareAddress, type ForeignKey, nullTest, type Relation, relationText } from '../catalog/index.ts'
import { singular, tablePrefixes, tableWords } from '../names/index.ts'

/** Foreign keys of one relation over the same columns to the same target columns: usually one, two where it was declared twice. */
export interface Reference {
  /** Canonical address of the referencing columns; with `>target` where the same columns refer to several tables. */
  readonly subject: string
  readonly child: Relation
  readonly parent: Relation
  readonly declared: readonly [ForeignKey, ...ForeignKey[]]
}

export interface Context {
  readonly catalog: Catalog
  /** Relations that become entities or join tables: all but partitions, which are parts of their parent. */
  readonly relations: readonly Relation[]
  readonly byText: ReadonlyMap<string, Relation>
  /** Singular words of the class, by relation text, without the schema's prefix. */
  readonly words: ReadonlyMap<string, readonly string[]>
  readonly prefixes: ReadonlyMap<string, ReadonlySet<string>>
  readonly references: readonly Reference[]
  readonly acceptsNull: (c: Column) => boolean
  /** Foreign keys whose target is not in the catalog. */
  readonly dangling: readonly { readonly child: Relation; readonly key: ForeignKey }[]
}

export function inferenceContext(catalog: Catalog): Context {
  const relations = catalog.relations.filter((r) => r.kind !== 'partition').toSorted(compareAddress)
  const byText = new Map(relations.map((r) => [relationText(r), r]))
  const prefixes = tablePrefixes(relations)
  const words = new Map(relations.map((r) => [relationText(r), singular(tableWords(r, prefixes))]))
  const dangling: { child: Relation; key: ForeignKey }[] = []
  const references = relations.flatMap((child) => {
    const { found, lost } = referencesOf(child, byText)
    dangling.push(...lost.map((key) => ({ child, key })))
    return found
  })
  return { catalog, relations, byText, words, prefixes, references, acceptsNull: nullTest(catalog), dangling }
}

function referencesOf(child: Relation, byText: ReadonlyMap<string, Relation>): { readonly found: readonly Reference[]; readonly lost: readonly ForeignKey[] } {
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
      return { subject: i === 0 ? columns : `${columns}>${columnsText(parent, declared[0].target.columns)}`, child, parent, declared }
    }),
  )
  return { found, lost }
}
