// What a finding would have the database changed to: schema edits that its ruling does not make by itself.
import { type Catalog, indexOver, parseAddress, type Relation, type RelationAddress } from '../catalog/index.ts'
import { hasPlans, isChangeable, type Outcome, type SchemaEdit, schemaEditText, withSchemaEdits } from '../change/index.ts'
import { makeObjectName } from '../dialect/postgres/madeUpNames.ts'
import { type EntryBody, type Finding, type LedgerEntry, type Relationship, schemaEditsOf } from '../model/index.ts'

export interface SchemaProposal {
  readonly label: string
  readonly says: string
  readonly entry: EntryBody
  /** `there`: the database has it, or it is asked for already. */
  readonly is: Outcome['is']
  readonly because: string
}

interface Wish {
  readonly label: string
  readonly edits: readonly SchemaEdit[]
}

/** Proposals of one finding; none for engines that no migration is written for. `x`: the relationship it is read as. */
export function schemaProposals(f: Finding, x: Relationship | null, catalog: Catalog, entries: readonly LedgerEntry[]): readonly SchemaProposal[] {
  if (!hasPlans(catalog)) return []
  const wishes = f.kind === 'reference' && x ? referenceWishes(x, catalog) : f.kind === 'structure' ? structureWishes(f, catalog) : []
  if (wishes.length === 0) return []
  const now = withSchemaEdits(
    catalog,
    schemaEditsOf(entries).flatMap((e) => e.edits),
  ).catalog
  return wishes.map((w) => {
    const { outcomes } = withSchemaEdits(now, w.edits)
    const refused = outcomes.find((o) => o.is === 'refused')
    return {
      label: w.label,
      says: w.edits.map(schemaEditText).join('; '),
      entry: { kind: 'schema-edit', edits: structuredCloneOf(w.edits), note: null },
      is: refused ? 'refused' : outcomes.every((o) => o.is === 'there') ? 'there' : 'planned',
      because: refused?.is === 'refused' ? refused.because : '',
    }
  })
}

/** Ledger entries are plain values that may be changed; edits are not. */
const structuredCloneOf = (edits: readonly SchemaEdit[]) => JSON.parse(JSON.stringify(edits)) as Extract<EntryBody, { kind: 'schema-edit' }>['edits']

const find = (c: Catalog, text: string): Relation | undefined => {
  const a = parseAddress(text)
  return c.relations.find((r) => a !== null && r.schema === a.schema && r.name === a.name)
}
const at = (r: Relation): RelationAddress => ({ schema: r.schema, name: r.name })

const indexEdit = (r: Relation, columns: readonly string[]): SchemaEdit => ({
  do: 'add index',
  table: at(r),
  columns,
  name: makeObjectName(r.name, columns.join('_'), 'idx'),
})

function referenceWishes(x: Relationship, catalog: Catalog): readonly Wish[] {
  const child = find(catalog, x.from.entity)
  const parent = find(catalog, x.to.entity)
  if (x.through || !isChangeable(catalog, child)) return []
  const { columns } = x.from
  const guard: readonly Wish[] = x.to.claimed
    ? [
        {
          label: 'Guard it by a unique rule',
          edits: [{ do: 'make unique', table: at(child), columns, name: makeObjectName(child.name, columns.join('_'), 'key') }],
        },
      ]
    : []
  if (x.state === 'enforced' || !isChangeable(catalog, parent)) return guard
  const declared: SchemaEdit = {
    do: 'declare reference',
    table: at(child),
    columns,
    target: at(parent),
    targetColumns: x.to.columns,
    name: makeObjectName(child.name, columns.join('_'), 'fkey'),
    onDelete: x.onDelete ?? 'no action',
    onUpdate: x.onUpdate ?? 'no action',
  }
  const indexed = indexOver(child, columns) !== null
  return [...guard, { label: indexed ? 'Declare it' : 'Declare and index it', edits: indexed ? [declared] : [declared, indexEdit(child, columns)] }]
}

function structureWishes(f: Finding, catalog: Catalog): readonly Wish[] {
  const a = parseAddress(f.subject)
  const r = a ? catalog.relations.find((x) => x.schema === a.schema && x.name === a.name) : undefined
  if (!a || !isChangeable(catalog, r)) return []
  switch (f.topic) {
    case 'reference without index': {
      const key = r.foreignKeys.find((k) => k.columns.toSorted().join() === a.columns.toSorted().join())
      return [{ label: 'Index it', edits: [indexEdit(r, key?.columns ?? a.columns)] }]
    }
    case 'duplicate index': {
      const name = f.id.slice(f.id.lastIndexOf('/') + 1)
      return [{ label: 'Drop it', edits: [{ do: 'drop index', table: at(r), name }] }]
    }
    case 'duplicate constraint':
      return duplicateWishes(r, a.columns)
    case 'nullable unique':
      return [
        {
          label: 'Accept null no more',
          edits: a.columns.filter((c) => r.columns.some((x) => x.name === c && x.nullable)).map((column) => ({ do: 'require', table: at(r), column })),
        },
      ]
    case 'type mismatch':
      return mismatchWishes(r, a.columns, catalog)
    case 'no key': {
      const unique = r.uniques.find((u) => u.columns.every((c) => r.columns.some((x) => x.name === c && !x.nullable)))
      return unique
        ? [{ label: 'Make it the key', edits: [{ do: 'set key', table: at(r), columns: unique.columns, name: makeObjectName(r.name, null, 'pkey') }] }]
        : []
    }
    default:
      return valueWishes(f, r, a.columns[0] ?? '')
  }
}

/** A list of words becomes a type, two words a boolean. */
function valueWishes(f: Finding, r: Relation, column: string): readonly Wish[] {
  const edit = f.alternatives.flatMap((x) => x.edits).find((e) => e.facet === 'column.values' || e.facet === 'column.flag')
  if (edit?.facet === 'column.values' && edit.value)
    return [
      {
        label: 'Make it an enumerated type',
        edits: [{ do: 'make enumerated', table: at(r), column, type: { schema: r.schema, name: makeObjectName(r.name, column, 'kind') }, labels: edit.value }],
      },
    ]
  if (edit?.facet === 'column.flag' && edit.value)
    return [{ label: 'Make it a boolean', edits: [{ do: 'make boolean', table: at(r), column, yes: edit.value.yes, no: edit.value.no }] }]
  return []
}

function duplicateWishes(r: Relation, columns: readonly string[]): readonly Wish[] {
  const over = (list: readonly string[]) => list.toSorted().join('\u0000') === columns.toSorted().join('\u0000')
  const keys = r.foreignKeys.filter((k) => over(k.columns))
  const rules = [...(r.primaryKey ? [r.primaryKey] : []), ...r.uniques].filter((u) => over(u.columns))
  const [, key] = keys
  const rule = rules.find((u, i) => i > 0 && r.uniques.includes(u))
  if (key && keys[0] && key.target.table === keys[0].target.table)
    return [{ label: 'Drop the second', edits: [{ do: 'drop reference', table: at(r), name: key.name }] }]
  return rule ? [{ label: 'Drop the second', edits: [{ do: 'drop unique', table: at(r), name: rule.name }] }] : []
}

/** The referring column gets the type of what it refers to. */
function mismatchWishes(r: Relation, columns: readonly string[], catalog: Catalog): readonly Wish[] {
  const key = r.foreignKeys.find((k) => k.columns.toSorted().join() === columns.toSorted().join())
  const target = key && catalog.relations.find((x) => x.schema === key.target.schema && x.name === key.target.table)
  if (!key || !target) return []
  const edits = key.columns.flatMap((column, i): SchemaEdit[] => {
    const [own, other] = [r.columns.find((c) => c.name === column), target.columns.find((c) => c.name === key.target.columns[i])]
    return own && other && own.type !== other.type ? [{ do: 'set type', table: at(r), column, type: other.type }] : []
  })
  return edits.length > 0 ? [{ label: 'Give it the same type', edits }] : []
}
