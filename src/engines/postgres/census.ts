// The count that keeps the survey honest: every object class of the server, what of it is the user's own, and whether it is read or reported.

/** How a class of objects is accounted for. */
export interface ObjectClass {
  readonly catalog: string
  /** The column whose letter tells kinds apart, if any. */
  readonly letter: string | null
  /** What of this catalog is the user's own and stands for itself; the alias is `o`. */
  readonly own: string
  /** Letters (or `*` for all) that the survey reads; everything else is reported by name. */
  readonly reads: readonly string[]
  /** What of them it reads, where that takes more than the letter; a condition on `o`. */
  readonly readsOnly?: string
}

const inSchemas = (column: string) => `o.${column} = any ($1::oid[])`
const notOfExtension = (catalog: string) =>
  `not exists (select 1 from pg_depend e where e.classid = 'pg_catalog.${catalog}'::regclass and e.objid = o.oid and e.deptype = 'e')`
/** A composite type belongs to an extension by its type, not by the relation behind it. */
const rowTypeNotOfExtension =
  "not exists (select 1 from pg_depend e where e.classid = 'pg_catalog.pg_type'::regclass and e.objid = o.reltype and e.deptype = 'e')"
const ofUser = 'o.oid >= 16384'
const notInternal = (catalog: string) =>
  `not exists (select 1 from pg_depend i where i.classid = 'pg_catalog.${catalog}'::regclass and i.objid = o.oid and i.deptype = 'i')`
/** Relations that are read, looked up once for all classes. */
const readRelations = `with read as materialized (select r.oid from pg_class r where r.relnamespace = any ($1::oid[]) and r.relkind in ('r', 'p', 'v', 'm', 'f')
  and not exists (select 1 from pg_depend e where e.classid = 'pg_catalog.pg_class'::regclass and e.objid = r.oid and e.deptype = 'e'))`
const onRead = (column: string) => `o.${column} in (select oid from read)`

/** Classes that live in a schema or on a relation, then classes of the whole database. */
export const objectClasses: readonly ObjectClass[] = [
  {
    catalog: 'pg_class',
    letter: 'relkind',
    own: `${inSchemas('relnamespace')} and o.relkind <> 't' and (o.relkind <> 'c' or ${rowTypeNotOfExtension}) and (o.relkind not in ('i', 'I') or o.oid in (select x.indexrelid from pg_index x where x.indrelid in (select oid from read)))`,
    reads: ['r', 'p', 'v', 'm', 'c', 'f', 'S', 'i', 'I'],
  },
  { catalog: 'pg_attrdef', letter: null, own: onRead('adrelid'), reads: ['*'] },
  {
    catalog: 'pg_constraint',
    letter: 'contype',
    own: `${inSchemas('connamespace')} and not (o.contype = 'f' and o.conparentid <> 0) and o.contype not in ('t', 'n') and (o.conrelid = 0 or ${onRead('conrelid')})`,
    reads: ['p', 'u', 'f', 'c', 'x'],
  },
  { catalog: 'pg_trigger', letter: null, own: `${onRead('tgrelid')} and not o.tgisinternal and o.tgparentid = 0`, reads: ['*'] },
  { catalog: 'pg_rewrite', letter: null, own: `${onRead('ev_class')} and o.rulename <> '_RETURN'`, reads: ['*'] },
  { catalog: 'pg_policy', letter: null, own: onRead('polrelid'), reads: ['*'] },
  {
    catalog: 'pg_type',
    letter: 'typtype',
    own: `${inSchemas('typnamespace')} and ${notInternal('pg_type')} and o.typtype not in ('m') and not (o.typcategory = 'A' and o.typelem <> 0) and (o.typtype <> 'c')`,
    reads: ['e', 'd', 'r', 'b', 'p'],
  },
  { catalog: 'pg_proc', letter: 'prokind', own: `${inSchemas('pronamespace')} and ${notInternal('pg_proc')}`, reads: ['f', 'p', 'w', 'a'] },
  { catalog: 'pg_statistic_ext', letter: null, own: inSchemas('stxnamespace'), reads: ['*'] },
  { catalog: 'pg_collation', letter: null, own: inSchemas('collnamespace'), reads: ['*'], readsOnly: `o.collprovider in ('c', 'i', 'b')` },
  { catalog: 'pg_conversion', letter: null, own: inSchemas('connamespace'), reads: ['*'] },
  { catalog: 'pg_operator', letter: null, own: inSchemas('oprnamespace'), reads: ['*'], readsOnly: 'o.oprcode <> 0' },
  { catalog: 'pg_opclass', letter: null, own: inSchemas('opcnamespace'), reads: ['*'] },
  { catalog: 'pg_opfamily', letter: null, own: `${inSchemas('opfnamespace')} and ${notInternal('pg_opfamily')}`, reads: ['*'] },
  { catalog: 'pg_ts_config', letter: null, own: inSchemas('cfgnamespace'), reads: ['*'] },
  { catalog: 'pg_ts_dict', letter: null, own: inSchemas('dictnamespace'), reads: ['*'] },
  { catalog: 'pg_ts_parser', letter: null, own: inSchemas('prsnamespace'), reads: ['*'] },
  { catalog: 'pg_ts_template', letter: null, own: inSchemas('tmplnamespace'), reads: ['*'] },
  { catalog: 'pg_extension', letter: null, own: `o.extname <> 'plpgsql'`, reads: ['*'] },
  {
    catalog: 'pg_cast',
    letter: null,
    own: `${ofUser} and ${notInternal('pg_cast')}`,
    reads: ['*'],
    readsOnly: `o.castmethod in ('f', 'b', 'i') and o.castcontext in ('e', 'a', 'i')`,
  },
  { catalog: 'pg_language', letter: null, own: ofUser, reads: ['*'] },
  { catalog: 'pg_am', letter: null, own: ofUser, reads: ['*'], readsOnly: `o.amtype in ('i', 't')` },
  { catalog: 'pg_transform', letter: null, own: ofUser, reads: ['*'] },
  { catalog: 'pg_event_trigger', letter: null, own: ofUser, reads: ['*'], readsOnly: `o.evtenabled in ('O', 'D', 'R', 'A')` },
  { catalog: 'pg_foreign_data_wrapper', letter: null, own: ofUser, reads: ['*'] },
  { catalog: 'pg_foreign_server', letter: null, own: ofUser, reads: ['*'] },
  { catalog: 'pg_publication', letter: null, own: ofUser, reads: ['*'] },
  { catalog: 'pg_default_acl', letter: null, own: ofUser, reads: [] },
  { catalog: 'pg_largeobject_metadata', letter: null, own: ofUser, reads: [] },
]

/** Catalogs with oids that need no line: their rows are part of an object above, or belong to the whole server. The test of the census holds this list against the server. */
export const countedElsewhere: Readonly<Record<string, string>> = {
  pg_namespace: 'read as the list of schemas',
  pg_enum: 'labels of an enumerated type',
  pg_amop: 'part of an operator family',
  pg_amproc: 'part of an operator family',
  pg_user_mapping: 'secrets of a foreign server',
  pg_publication_rel: 'part of a publication',
  pg_publication_namespace: 'part of a publication',
  pg_authid: 'of the server',
  pg_auth_members: 'of the server',
  pg_database: 'of the server',
  pg_tablespace: 'of the server',
  pg_subscription: 'of the server, visible to superusers only',
  pg_parameter_acl: 'of the server',
  pg_replication_origin: 'of the server',
}

const onlyOwn = (c: ObjectClass) => `${c.own} and ${notOfExtension(c.catalog)}`

/** Rows `class`, `n`. */
export function countQuery(): string {
  const counts = objectClasses.map(
    (c) =>
      `select '${c.catalog}' || ${c.letter ? `' ' || o.${c.letter}::text` : `''`} as class, count(*)::int as n from ${c.catalog} o where ${onlyOwn(c)} group by 1`,
  )
  return `${readRelations}\n${counts.join('\nunion all\n')}`
}

/** Rows `class`, `kind`, `identity`: everything of the user's own that the survey does not read, by the server's own name for it (manual 9.26.5, pg_identify_object). */
export function reportQuery(): string {
  const lists = objectClasses
    .filter((c) => !c.reads.includes('*') || c.readsOnly !== undefined)
    .map((c) => {
      const unread =
        c.reads.includes('*') || c.letter === null
          ? 'false'
          : c.reads.length === 0
            ? 'true'
            : `o.${c.letter} not in (${c.reads.map((l) => `'${l}'`).join(', ')})`
      const all = c.letter === null && c.reads.length === 0
      return `select '${c.catalog}' || ${c.letter ? `' ' || o.${c.letter}::text` : `''`} as class, '${c.catalog}'::regclass::oid as classid, o.oid from ${c.catalog} o where (${all ? 'true' : unread} or not (${c.readsOnly ?? 'true'})) and ${onlyOwn(c)}`
    })
  return `${readRelations} select u.class, i.type as kind, i.identity from (${lists.join('\nunion all\n')}) u, lateral pg_identify_object(u.classid, u.oid, 0) i`
}

/** Rows `kind`, `identity`: properties of relations that are read but not yet described. */
export const propertyQuery = (version: number) => `
  select p.kind, i.identity from (
    select 'tablespace' as kind, c.oid from pg_class c where c.reltablespace <> 0 and c.relnamespace = any ($1::oid[])
  ) p, lateral pg_identify_object('pg_class'::regclass, p.oid, 0) i
  where not exists (select 1 from pg_depend e where e.classid = 'pg_class'::regclass and e.objid = p.oid and e.deptype = 'e')
  union all
  select 'trigger of a partition', i.identity from pg_trigger t join pg_trigger f on f.oid = t.tgparentid join pg_class c on c.oid = t.tgrelid, lateral pg_identify_object('pg_trigger'::regclass, t.oid, 0) i
  where c.relnamespace = any ($1::oid[]) and not t.tgisinternal and t.tgenabled <> f.tgenabled${version >= 180000 ? notNullQuery : ''}`

/**
 * From 18 on, NOT NULL is a constraint with a name. One with a name that the server made up is the column's or domain's property and no
 * more; what was said beyond that is told. Names that are made up end alike (ChooseConstraintName, pg_constraint.c), with a number where
 * one is taken, and stay what they were when a table or column is renamed, copied by LIKE or inherited.
 */
const notNullQuery = `
  union all
  select 'not-null constraint' || case when not p.convalidated then ' (not valid)' when p.connoinherit then ' (not inherited)' else ' (its name)' end, i.identity
  from (
    select k.oid, k.convalidated, k.connoinherit, k.conname ~ '_not_null[0-9]*$' as "hasMadeUpName"
    from pg_constraint k
    where k.contype = 'n' and k.connamespace = any ($1::oid[]) and (k.conislocal or k.contypid <> 0)
      and not exists (select 1 from pg_depend e where e.classid in ('pg_class'::regclass, 'pg_type'::regclass) and e.objid in (k.conrelid, k.contypid) and e.deptype = 'e')
  ) p, lateral pg_identify_object('pg_constraint'::regclass, p.oid, 0) i
  where not p.convalidated or p.connoinherit or not p."hasMadeUpName"`
