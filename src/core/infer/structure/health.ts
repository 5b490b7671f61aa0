// What slows or misleads without being wrong: references without an index or of another type, rules and indexes twice, unique columns that may be null.
import { type Index, type Relation, relationText, uniqueRules } from '../../catalog/index.ts'
import type { Finding } from '../../model/index.ts'
import type { Context } from '../context.ts'
import { fact, isTable, onColumns, structureFinding } from './common.ts'

const plain = (x: Index) => x.valid && x.predicate === null && x.columns.every((c) => c.column !== null)
const columnsOf = (x: Index) => x.columns.map((c) => c.column as string)
const begins = (whole: readonly string[], part: readonly string[]) => part.length <= whole.length && part.every((c, i) => whole[i] === c)
const sameSet = (a: readonly string[], b: readonly string[]) => a.length === b.length && a.every((c) => b.includes(c))

/** Indexes and rules that find rows by their first columns. */
const paths = (r: Relation): readonly (readonly string[])[] => [...uniqueRules(r).map((u) => u.columns), ...r.indexes.filter(plain).map(columnsOf)]

/** Deleting a parent, and reading its children, reads the whole child table. Engines that index keys by themselves have none of these. */
export function unindexedReferences({ declared, catalog }: Context): readonly Finding[] {
  if (catalog.dialect === 'mysql') return []
  return declared
    .filter((f) => isTable(f.child) && !paths(f.child).some((p) => sameSet(p.slice(0, f.columns.length), f.columns)))
    .map((f) =>
      structureFinding('reference without index', onColumns(f.child, f.columns), 1, [
        fact(
          'no index',
          `no index begins with ${f.columns.join(', ')}: each deletion in ${relationText(f.parent)}, and each reading of its children, reads all of ${relationText(f.child)}`,
        ),
      ]),
    )
}

const spelled = (type: string) => type.replace(/\s+/g, ' ').toLowerCase()

/** Both sides of a declared reference are compared as one type; where they are two, values of one do not fit the other. */
export function typeMismatches({ declared }: Context): readonly Finding[] {
  return declared.flatMap((f) => {
    const pairs = f.columns.flatMap((c, i) => {
      const [own, other] = [f.child.columns.find((x) => x.name === c)?.type, f.parent.columns.find((x) => x.name === f.targetColumns[i])?.type]
      return own !== undefined && other !== undefined && own !== other && spelled(own) !== spelled(other)
        ? [{ c, own, target: f.targetColumns[i] as string, other }]
        : []
    })
    if (pairs.length === 0) return []
    const evidence = pairs.map((p) => fact('two types', `${p.c} is ${p.own}, ${relationText(f.parent)}(${p.target}) is ${p.other}`))
    return [structureFinding('type mismatch', onColumns(f.child, f.columns), 1, evidence)]
  })
}

/** An index whose columns another begins with, or a rule has already. */
export function duplicateIndexes({ relations }: Context): readonly Finding[] {
  return relations.flatMap((r) => {
    const rules = uniqueRules(r).filter((u) => u.kind !== 'unique index')
    const indexes = r.indexes.filter((x) => plain(x) && !rules.some((u) => u.name === x.name))
    return indexes.flatMap((x, i) => {
      const own = columnsOf(x)
      const rule = rules.find((u) => begins(u.columns, own) && (!x.unique || u.columns.length === own.length))
      const index = indexes.find(
        (o, k) =>
          o !== x &&
          o.method === x.method &&
          begins(columnsOf(o), own) &&
          (!x.unique || o.unique) &&
          (columnsOf(o).length > own.length || (o.unique && !x.unique) || (o.unique === x.unique && k < i)),
      )
      const other = rule ? `${rule.kind} ${rule.name} (${rule.columns.join(', ')})` : index ? `index ${index.name} (${columnsOf(index).join(', ')})` : null
      if (other === null || (x.unique && rule === undefined && index?.unique !== true)) return []
      return [
        structureFinding(
          'duplicate index',
          onColumns(r, own),
          1,
          [fact('another serves', `index ${x.name} (${own.join(', ')}): ${other} finds the same rows; it costs room and every write`)],
          [],
          x.name,
        ),
      ]
    })
  })
}

/** The same foreign key or the same unique rule, declared twice. */
export function duplicateConstraints({ relations }: Context): readonly Finding[] {
  return relations.flatMap((r) => {
    const twice: { readonly columns: readonly string[]; readonly says: string }[] = []
    const keys = new Map<string, string>()
    for (const k of r.foreignKeys.length > 1 ? r.foreignKeys : []) {
      const key = JSON.stringify([k.columns.map((c, i) => [c, k.target.columns[i]]).sort(), k.target.schema, k.target.table])
      const before = keys.get(key)
      if (before !== undefined) twice.push({ columns: k.columns, says: `foreign keys ${before} and ${k.name} say the same` })
      else keys.set(key, k.name)
    }
    const rules = [...(r.primaryKey ? [r.primaryKey] : []), ...r.uniques]
    for (const [i, u] of rules.entries()) {
      const before = rules.slice(0, i).find((o) => sameSet(o.columns, u.columns))
      if (before) twice.push({ columns: u.columns, says: `${before.name} and ${u.name} both make (${u.columns.join(', ')}) unique` })
    }
    return twice.map((t) => structureFinding('duplicate constraint', onColumns(r, t.columns), 1, [fact('declared twice', t.says)]))
  })
}

/** Nulls are never equal: a unique rule lets any number of rows without a value in (SQL:2016, 4.18.3.3, UNIQUE NULLS DISTINCT). */
export function nullableUniques({ relations, acceptsNull }: Context): readonly Finding[] {
  return relations.flatMap((r) =>
    uniqueRules(r).flatMap((u) => {
      const open = u.columns.filter((c) => r.columns.some((x) => x.name === c && acceptsNull(x)))
      const distinct = r.uniques.some((k) => k.name === u.name && k.nullsNotDistinct) || r.indexes.some((x) => x.name === u.name && x.nullsNotDistinct)
      if (!isTable(r) || u.kind === 'primary key' || open.length === 0 || distinct) return []
      const what = u.columns.length === 1 ? 'any number of rows may have none' : `rows without ${open.join(', ')} may repeat the rest`
      return [
        structureFinding('nullable unique', onColumns(r, u.columns), 1, [
          fact('nulls are never equal', `${u.kind} ${u.name}: ${open.join(', ')} accepts null, and ${what}`),
        ]),
      ]
    }),
  )
}
