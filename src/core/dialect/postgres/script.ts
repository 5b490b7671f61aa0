// What PostgreSQL makes of a script.
import { type Catalog, emptyCatalog } from '../../catalog/index.ts'
import { asWritten, at, type Draft, type DraftColumn, type DraftRelation, lookup, relationKey, written } from '../../ddl/draft.ts'
import { ownType, rangeNamed } from '../../ddl/makeObject.ts'
import { sequenceOptions } from '../../ddl/makeOther.ts'
import { noSettings } from '../../ddl/sequences.ts'
import type { ColumnDefinition, TypeName } from '../../ddl/statement.ts'
import type { Semantics } from '../../ddl/types.ts'
import { postgresLexis } from './lexis.ts'
import { checkName, indexName, keyName, referenceName, sequenceName, statisticsName } from './madeUpNames.ts'
import { quoteAddress, quoteIdent, quoteLiteral } from './quote.ts'
import { scriptDependencies } from './scriptDependencies.ts'
import { withSettableOptions } from './settable.ts'
import { builtInType, typeStorage } from './typeNames.ts'

function type(t: TypeName | null, d: Draft, column: string): string {
  if (t === null) return ''
  const known = builtInType(t)
  if (known !== null) return known
  const own = lookup(d, d.enums, t) ?? lookup(d, d.domains, t) ?? lookup(d, d.composites, t) ?? rangeNamed(d, t) ?? ownType(d, t) ?? lookup(d, d.relations, t)
  const suffix = t.array ? '[]' : ''
  if (own) return quoteAddress(own) + suffix
  const parameters = t.parameters.length === 0 ? '' : `(${t.parameters.join(',')})`
  const schema = t.schema ?? d.extensions.get(t.name)?.schema ?? null
  if (schema === null && t.name.endsWith('%type')) return t.written
  if (schema === null && column !== '') d.complain({ code: 'unknown-type', name: t.written, column })
  return `${quoteAddress({ schema: schema ?? d.searchPath[0] ?? 'public', name: t.name })}${parameters}${suffix}`
}

const serials: ReadonlySet<string> = new Set(['serial', 'serial2', 'serial4', 'serial8', 'smallserial', 'bigserial'])
/** Reserved words (manual, appendix C): no column may be called so without quotes. */
const reservedWords: ReadonlySet<string> = new Set(
  `all analyse analyze and any array as asc asymmetric both case cast check collate column constraint create current_catalog current_date current_role current_time current_timestamp current_user default
deferrable desc distinct do else end except false fetch for foreign from grant group having in initially intersect into lateral leading limit localtime localtimestamp not null offset on only or order
placing primary references returning select session_user some symmetric table then to trailing true union unique user using variadic when where window with`.split(
    /\s+/,
  ),
)

const nextValue = (q: { readonly schema: string; readonly name: string }) => `nextval(${quoteLiteral(quoteAddress(q))}::regclass)`

/** A new sequence under a name made up for the column; it shares the space of relation names. */
function ownedSequence(d: Draft, r: DraftRelation, c: string) {
  const address = { schema: r.schema, name: sequenceName(d, r, c) }
  d.classNames.add(at(address.schema, address.name))
  return address
}

function column(d: Draft, r: DraftRelation, c: DraftColumn, def: ColumnDefinition): void {
  if (def.type && !def.type.quoted && def.type.schema === null && serials.has(def.type.name)) {
    const address = ownedSequence(d, r, c.name)
    d.sequences.set(relationKey(d, address.schema, address.name), {
      ...address,
      options: sequenceOptions(noSettings, c.type, null),
      unlogged: r.unlogged,
      ownedBy: { schema: r.schema, table: r.name, column: c.name },
      comment: null,
    })
    c.default = written(nextValue(address))
    c.nullable = false
  }
  if (def.identity) {
    const named = def.identity.settings.name
    const address = named ? { schema: named.schema ?? r.schema, name: named.name } : ownedSequence(d, r, c.name)
    c.identity = { generation: def.identity.generation, sequence: address, options: sequenceOptions(def.identity.settings, c.type, null), comment: null }
    c.nullable = false
  }
}

/** Operator classes that are not the default for their type and method (pg_opclass.dat, opcdefault => 'f'); a class that no list knows belongs to an extension. */
const otherClasses =
  /^(text|varchar|bpchar)_pattern_ops$|^varchar_ops$|^cidr_ops$|^jsonb_path_ops$|_bloom_ops$|_minmax_multi_ops$|^(kd_point|quad_point)_ops$|^record_image_ops$|^inet_inclusion_ops$|^text_ops_spgist$/
const extensionClasses = /^(gin|gist)_|^(hstore|ltree|citext|isbn|cube|seg)/

/** A script may come from a server that keeps options of its own: they are told once each. */
function onlySettable(c: Catalog, d: Draft): Catalog {
  const left = new Map<string, number>()
  const settled = withSettableOptions(c, null, (kind, name) => left.set(`"${name}" of a ${kind}`, (left.get(`"${name}" of a ${kind}`) ?? 0) + 1))
  for (const [name, n] of left) d.complain({ code: 'ignored-by-server', what: 'the option', name: n === 1 ? name : `${name}, said ${n} times,` })
  return settled
}

export const postgresScript: Semantics = {
  dialect: 'postgresql',
  lexis: postgresLexis,
  // Manual, appendix K; a view has 64 more.
  mostColumns: 1600,
  fixedSchema: false,
  defaultSchema: 'public',
  relationKey: (name) => name,
  columnKey: asWritten,
  quote: quoteIdent,
  reserved: reservedWords,
  type,
  keyIsNotNull: () => true,
  referenceTakesIndexName: false,
  indexesReferences: false,
  inlineReferences: true,
  keepsChecks: true,
  mergesEqualKeys: true,
  uniqueIndexIsKey: false,
  keyName,
  indexName,
  statisticsName,
  referenceName,
  checkName,
  primaryKeyName: null,
  defaultMethod: 'btree',
  column,
  table: () => {},
  settings: () => {},
  nextValue,
  finish: scriptDependencies,
  settle: onlySettable,
  ownedSequence,
  collation: (n, d) => {
    if (n.name === 'default') return null
    const name = quoteIdent(n.name)
    const own =
      n.schema === null ? [...d.objects.values()].find((o) => o.kind === 'collation' && o.name === name && d.searchPath.includes(o.schema)) : undefined
    return { schema: n.schema ?? own?.schema ?? 'pg_catalog', name: n.name }
  },
  operatorClass: (n, method, d) => {
    const others = otherClasses.test(n.name) || (n.name === 'inet_ops' && method !== 'btree' && method !== 'hash')
    if (n.schema !== null && n.schema !== 'pg_catalog') return { schema: n.schema, name: n.name }
    if (others) return { schema: 'pg_catalog', name: n.name }
    const own = [...d.objects.values()].find((o) => o.kind === 'operator class' && o.name === `${quoteIdent(n.name)} USING ${method}`)
    if (own) return / DEFAULT\s+FOR /i.test(own.definition[0]?.written ?? '') ? null : { schema: own.schema, name: n.name }
    if (!extensionClasses.test(n.name)) return null
    return { schema: [...d.extensions.values()][0]?.schema ?? 'public', name: n.name }
  },
  base: emptyCatalog('postgresql'),
  storage: (storage, of) => {
    const known = storage === 'plain' || storage === 'external' || storage === 'extended' || storage === 'main' ? storage : null
    return known === typeStorage(of) ? null : known
  },
}
