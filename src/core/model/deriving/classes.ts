// Classes with their properties, and the other types of the code.
import { type Column, columnText, identityRules, type Relation, relationText } from '../../catalog/index.ts'
import { camelCase, pascalCase, splitWords } from '../../names/index.ts'
import { isView } from '../../views/index.ts'
import type { Facet, TypeTarget } from '../edit.ts'
import type { ColumnGroup, Entity, EntityId, EntityModel, ModelDiagnostic, Property } from '../entityModel.ts'
import type { Facets } from '../facets.ts'
import { groupsOf, groupsSaid } from '../groups.ts'
import { ofTypes, typeNames } from '../typeNames.ts'
import type { Ground } from './ground.ts'
import type { Joins } from './links.ts'
import { Scope } from './scope.ts'
import type { Touched } from './touched.ts'

/** A class before it has a name of its own. */
interface ClassRead {
  readonly entity: Omit<Entity, 'name'>
  readonly wanted: string
  /** Names that its properties have. */
  readonly scope: Scope
}

export interface Classes {
  readonly reads: ReadonlyMap<string, ClassRead>
  readonly entities: readonly Entity[]
  readonly groups: readonly ColumnGroup[]
  readonly types: Pick<EntityModel, 'enumerations' | 'namedTypes' | 'composites' | 'typeTargets' | 'typeNames'>
  readonly problems: readonly ModelDiagnostic[]
}

/** What is said of a class and its columns. */
const ownFacets = [
  'entity.name',
  'entity.identity',
  'property.name',
  'column.values',
  'column.flag',
  'column.role',
  'json.schema',
  'type.target',
] as const satisfies readonly Facet[]
const facetsOfTypes = ['type.name', 'columns.group'] as const satisfies readonly Facet[]

export function readClasses(
  ground: Ground,
  facets: Facets,
  { hidden }: Joins,
  before: { readonly joins: Joins; readonly classes: Classes } | null,
  touched: Touched,
): Classes {
  if (before && before.joins.hidden === hidden && [...ownFacets, ...facetsOfTypes].every((f) => touched.of(f).size === 0)) return before.classes
  const anew = touched.relations(ownFacets)
  const said = ofColumns(facets)
  const reads = new Map<string, ClassRead>()
  const problems: ModelDiagnostic[] = []
  const names = new Scope('' as EntityId)
  const known = new Map<string, Entity>(before?.classes.entities.map((e) => [e.id, e]))
  const entities: Entity[] = []
  for (const r of ground.relations) {
    const subject = relationText(r)
    if (hidden.has(subject)) continue
    const read = (anew.has(subject) ? null : before?.classes.reads.get(subject)) ?? readClass(r, subject, ground, facets, said)
    reads.set(subject, read)
    const name = names.claim(read.wanted)
    const was = known.get(subject)
    entities.push(was && was.name === name && before?.classes.reads.get(subject) === read ? was : { ...read.entity, name })
    problems.push(...read.scope.problems, ...names.told())
  }
  const ownNames = ofTypes(facets, 'type.name', (wanted) => names.claim(wanted))
  const groups = groupsOf(groupsSaid(facets), entities, (wanted) => names.claim(wanted))
  const types = typeNames(ground.catalog, [...entities.map((e) => e.name), ...Object.values(ownNames), ...groups.map((g) => g.typeName)])
  problems.push(...names.told())
  return { reads, entities, groups, types: { ...types, typeTargets: ofTypes(facets, 'type.target', (t) => t as TypeTarget), typeNames: ownNames }, problems }
}

const written = (c: Column): Property['written'] =>
  c.generated !== null || c.identity?.generation === 'always' ? 'never' : c.default !== null || c.identity !== null ? 'has default' : 'always'

const setText = (columns: readonly string[]) => (columns.length === 1 ? (columns[0] as string) : columns.toSorted().join('\n'))

/** Indexes that find rows by equal values of their columns. */
const ordinary: ReadonlySet<string> = new Set(['btree', 'hash'])

/** Unique rules over plain columns, whatever says them, each once; and what other indexes of all rows begin with. */
function rulesOf(r: Relation): Pick<Entity, 'uniques' | 'indexed'> {
  const seen = new Set(r.primaryKey ? [setText(r.primaryKey.columns)] : [])
  const uniques: { readonly name: string; readonly columns: readonly string[] }[] = []
  const firsts = new Set<string>()
  const add = (name: string, columns: readonly string[]) => {
    const set = setText(columns)
    if (!seen.has(set)) uniques.push({ name, columns })
    seen.add(set)
  }
  for (const u of r.uniques) add(u.name, u.columns)
  for (const x of r.indexes) {
    const first = x.columns[0]?.column
    if (!x.valid || x.predicate !== null || first === null || first === undefined || !ordinary.has(x.method)) continue
    if (!x.unique) firsts.add(first)
    else if (x.columns.every((c) => c.column !== null))
      add(
        x.name,
        x.columns.map((c) => c.column as string),
      )
  }
  return { uniques, indexed: [...firsts].filter((c) => !seen.has(c)) }
}

/** What is said of a column; facets that nothing is said by are not looked for at each. */
function ofColumns(facets: Facets) {
  const used = new Set((['column.values', 'column.flag', 'column.role', 'json.schema', 'type.target'] as const).filter((f) => facets.subjects(f).size > 0))
  type ColumnFacet = typeof used extends Set<infer F> ? F : never
  return <F extends ColumnFacet>(facet: F, subject: string) => (used.has(facet) ? (facets.get(facet, subject) ?? null) : null)
}

/** The unique rule over these columns, where none of them is ever null: what may stand for a primary key. */
function identityRule(r: Relation, columns: readonly string[] | null): { readonly name: string; readonly columns: readonly string[] } | null {
  const rule = columns === null ? undefined : identityRules(r).find((u) => u.columns.toSorted().join('\n') === columns.toSorted().join('\n'))
  return rule ?? null
}

function readClass(r: Relation, subject: string, { acceptsNull, lineages }: Ground, facets: Facets, said: ReturnType<typeof ofColumns>): ClassRead {
  const id = subject as EntityId
  const scope = new Scope(id)
  const properties = r.columns.map((c): Property => {
    const own = columnText(subject, c.name)
    const wanted = facets.get('property.name', own) ?? camelCase(splitWords(c.name))
    return {
      name: scope.claim(wanted),
      column: c.name,
      type: c.type,
      nullable: acceptsNull(c),
      written: written(c),
      values: said('column.values', own),
      flag: said('column.flag', own),
      role: said('column.role', own),
      shape: said('json.schema', own),
      target: said('type.target', own),
      comment: c.comment,
    }
  })
  const byRule = r.primaryKey ? null : identityRule(r, facets.get('entity.identity', subject) ?? null)
  const key = r.primaryKey ?? byRule
  const keyColumns = key ? r.columns.filter((c) => key.columns.includes(c.name)) : []
  const lineage = lineages.get(subject)
  const entity: Omit<Entity, 'name'> = {
    id,
    relation: { schema: r.schema, name: r.name },
    kind: r.kind,
    properties,
    identity: key
      ? {
          kind: 'primary key',
          columns: key.columns,
          ...(byRule ? { rule: byRule.name } : {}),
          generated: keyColumns.some((c) => c.identity !== null || c.default !== null),
        }
      : lineage?.key.columns
        ? { kind: 'view key', columns: lineage.key.columns }
        : { kind: 'none' },
    ...rulesOf(r),
    readOnly: isView(r) || key === null,
    comment: r.comment,
  }
  return { entity, wanted: facets.get('entity.name', subject) ?? pascalCase(splitWords(r.name)), scope }
}
