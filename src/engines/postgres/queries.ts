// Every catalog query of the survey, for PostgreSQL 13 to 18 unless its comment says otherwise. Columns are aliased to the
// fields of the row types. $1 is the list of the surveyed schemas' oids. Objects that an extension owns are left out.
import { columnOptionNames } from '../../core/dialect/postgres/settable.ts'

/** An object that CREATE EXTENSION made (manual 54.18, pg_depend, deptype "e"). */
const ofExtension = (catalog: string, oid: string) =>
  `exists (select 1 from pg_depend e where e.classid = 'pg_catalog.${catalog}'::regclass and e.objid = ${oid} and e.deptype = 'e')`

/** Pinned so that two surveys of one structure are byte-identical, whatever the role's or the database's own settings are. */
export const pinSession = `
  begin transaction isolation level repeatable read, read only;
  set local search_path = pg_catalog;
  set local timezone = 'UTC';
  set local datestyle = 'ISO, YMD';
  set local intervalstyle = 'postgres';
  set local extra_float_digits = 1;
  set local bytea_output = 'hex';
  set local standard_conforming_strings = on;
  set local quote_all_identifiers = off;
  set local client_encoding = 'UTF8';
  set local statement_timeout = '120s';
  set local lock_timeout = '5s';
  set local idle_in_transaction_session_timeout = '120s';
  set local jit = off;
  set local max_parallel_workers_per_gather = 0`

export const serverFacts = `
  select current_setting('server_version') as version, current_setting('server_version_num')::int as number,
    current_database()::text as database, session_user::text as "user", to_char(clock_timestamp() at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS"Z"') as at`

/** What the comment on a schema begins with that holds the journal of applied plans: it is no part of what is surveyed. */
export const journalMark = 'pelvok.journal/1'

/** $1: names asked for, or null for every user schema. */
export const schemas = `
  select n.oid, n.nspname as name, n.nspacl is not null as granted
  from pg_namespace n
  where n.nspname !~ '^pg_' and n.nspname <> 'information_schema' and not ${ofExtension('pg_namespace', 'n.oid')}
    and not exists (select from pg_description d where d.classoid = 'pg_namespace'::regclass and d.objoid = n.oid and d.description like '${journalMark}%')
    and ($1::text[] is null or n.nspname = any ($1::text[]))`

export const comments = `
  select classoid::regclass::text as catalog, objoid as oid, objsubid as part, description as comment
  from pg_description where objoid >= 16384 or classoid = 'pg_namespace'::regclass`

/** Options of the overflow table (TOAST) stand with the table's own, as CREATE TABLE takes them. */
export const relations = `
  select c.oid, n.nspname as schema, c.relname as name, c.relkind as kind, c.relispartition as "isPartition", nullif(c.reltype, 0) as "rowType",
    c.relpersistence as persistence, nullif(coalesce(c.reloptions, '{}') || case when o.reloptions is null then '{}' else array(select 'toast.' || x from unnest(o.reloptions) x) end, '{}') as options,
    case when c.relkind = 'p' then pg_get_partkeydef(c.oid) end as "partitionKey",
    case when c.relispartition then pg_get_expr(c.relpartbound, c.oid) end as bound,
    case when c.relkind in ('v', 'm') then pg_get_viewdef(c.oid) end as definition,
    c.relreplident as replica, x.relname as "replicaIndex",
    c.relrowsecurity as "rowSecurity", c.relforcerowsecurity as "forceRowSecurity",
    nullif(c.reloftype, 0) as "ofType", nullif(a.amname, 'heap') as "accessMethod", s.srvname as server, f.ftoptions as "foreignOptions",
    c.reltuples::float8 as rows, c.relpages as pages, c.relacl is not null as granted,
    has_table_privilege(c.oid, 'SELECT') as readable
  from pg_class c join pg_namespace n on n.oid = c.relnamespace
    left join pg_class o on o.oid = c.reltoastrelid
    left join pg_am a on a.oid = c.relam
    left join pg_index i on c.relreplident = 'i' and i.indrelid = c.oid and i.indisreplident
    left join pg_class x on x.oid = i.indexrelid
    left join pg_foreign_table f on f.ftrelid = c.oid left join pg_foreign_server s on s.oid = f.ftserver
  where c.relnamespace = any ($1::oid[]) and c.relkind in ('r', 'p', 'v', 'm', 'c', 'f') and not ${ofExtension('pg_class', 'c.oid')}
    and not (c.relkind = 'c' and ${ofExtension('pg_type', 'c.reltype')})`

/** Parents by INHERITS and of partitions, in the order in which they were said. */
export const parents = `
  select h.inhrelid as relation, n.nspname as schema, p.relname as name
  from pg_inherits h join pg_class c on c.oid = h.inhrelid join pg_class p on p.oid = h.inhparent join pg_namespace n on n.oid = p.relnamespace
  where c.relnamespace = any ($1::oid[]) and c.relkind in ('r', 'p', 'f') order by h.inhrelid, h.inhseqno`

/**
 * Columns carry the oid of their type: the texts of the few different ones come from `types`. What few columns have comes as one
 * value, `rest`, so that a row is short. Columns of indexes come where they have parameters of their operator class or a statistics target. attcompression came with 14, attgenerated with 12; attstattarget is null instead of -1 from 17 on.
 */
export const columns = (version: number) => `
  select a.attrelid as relation, a.attnum as number, a.attname as name, a.atttypid as type, a.atttypmod as modifier, not a.attnotnull as nullable,
    case when a.attidentity <> '' or a.attgenerated <> '' or a.attcollation <> t.typcollation or a.attstorage <> t.typstorage or ${compression(version)} <> ''
        or a.attstattarget >= 0 or not a.attislocal or ${hasSettableOption} or a.attfdwoptions is not null
      then json_build_object('identity', a.attidentity, 'generated', a.attgenerated, 'collation', a.attcollation::int8, 'storage', a.attstorage, 'compression', ${compression(version)},
        'statistics', coalesce(a.attstattarget, -1), 'local', a.attislocal, 'options', a.attoptions, 'foreignOptions', a.attfdwoptions) end as rest
  from pg_attribute a join pg_class c on c.oid = a.attrelid join pg_type t on t.oid = a.atttypid
  where c.relnamespace = any ($1::oid[]) and a.attnum > 0 and not a.attisdropped
    and (c.relkind in ('r', 'p', 'v', 'm', 'c', 'f') or c.relkind in ('i', 'I') and (a.attoptions is not null or a.attstattarget >= 0))`

/** A server may keep an entry of its own with every column: no reason to send more of it. What may be set is told exactly when the catalog is made. */
const hasSettableOption = `a.attoptions is not null and (c.relkind in ('i', 'I') or array_to_string(a.attoptions, ',') ~ '(^|,)(${columnOptionNames.join('|')})=')`

/**
 * Names of options, by what they hang on, with how often: those that nobody can have set are told. An index's kind is its access method,
 * and columns of an index have options of an operator class.
 */
export const optionNames = `
  select u.kind, u.method, split_part(u.option, '=', 1) as name, count(*)::int as n from (
    select case when c.relkind in ('i', 'I') then 'operator class' else 'column' end as kind, ''::text as method, unnest(a.attoptions) as option
      from pg_attribute a join pg_class c on c.oid = a.attrelid
      where c.relnamespace = any ($1::oid[]) and a.attoptions is not null and a.attnum > 0 and not a.attisdropped and not (c.relkind in ('i', 'I') and exists (
        select 1 from pg_index x join pg_opclass o on o.oid = x.indclass[a.attnum - 1] where x.indexrelid = c.oid and o.opcnamespace <> 'pg_catalog'::regnamespace))
    union all
    select case c.relkind when 'v' then 'view' when 'p' then 'partitioned table' when 'i' then 'index' when 'I' then 'index' else 'table' end, coalesce(am.amname, '')::text, unnest(c.reloptions)
      from pg_class c left join pg_am am on am.oid = c.relam and c.relkind in ('i', 'I') where c.relnamespace = any ($1::oid[]) and c.reloptions is not null
    union all
    select 'table', '', 'toast.' || unnest(o.reloptions) from pg_class c join pg_class o on o.oid = c.reltoastrelid where c.relnamespace = any ($1::oid[]) and o.reloptions is not null
  ) u group by 1, 2, 3`

const compression = (version: number) => (version >= 140000 ? 'a.attcompression' : "''")

/** The texts of the types that columns have. */
export const types = (pairs: readonly { readonly type: number; readonly modifier: number }[]) => `
  select u.type, u.modifier, format_type(u.type, u.modifier) as text, t.typcollation as collation, t.typstorage as storage
  from unnest('{${pairs.map((p) => Number(p.type)).join(',')}}'::oid[], '{${pairs.map((p) => Number(p.modifier)).join(',')}}'::int[]) u (type, modifier) join pg_type t on t.oid = u.type`

/** Names by oid: of collations, of operator classes that are not the default for their type, and of the types of typed tables. */
export const names = `
  select 'pg_collation' as catalog, o.oid, n.nspname as schema, o.collname as name from pg_collation o join pg_namespace n on n.oid = o.collnamespace
  union all select 'pg_opclass', o.oid, n.nspname, o.opcname from pg_opclass o join pg_namespace n on n.oid = o.opcnamespace where not o.opcdefault
  union all select 'pg_type', t.oid, n.nspname, t.typname from pg_type t join pg_namespace n on n.oid = t.typnamespace
    where t.oid in (select c.reloftype from pg_class c where c.relnamespace = any ($1::oid[]) and c.reloftype <> 0)`

/** Lists of numbers come as text: `1 2`. What few constraints have comes as one value, as with columns. confdelsetcols came with 15, conenforced and conperiod with 18. */
export const constraints = (version: number) => {
  const enforced = version >= 180000 ? 'k.conenforced' : 'true'
  const period = version >= 180000 ? 'k.conperiod' : 'false'
  const deleted = version >= 150000 ? "array_to_string(k.confdelsetcols, ' ')" : "''"
  return `
  select k.oid, k.conname as name, k.contype as kind, k.conrelid as relation, k.conindid as index, array_to_string(k.conkey, ' ') as columns,
    case when k.contype = 'f' then k.confrelid end as target, array_to_string(k.confkey, ' ') as "targetColumns",
    case when k.contype = 'f' then k.confupdtype::text || k.confdeltype::text end as actions, fn.nspname as "targetSchema", f.relname as "targetName",
    case when k.contype = 'c' then pg_get_expr(k.conbin, k.conrelid) end as expression,
    case when k.contypid <> 0 or k.conparentid <> 0 or k.condeferrable or not k.convalidated or not k.conislocal or k.contype = 'c' and k.connoinherit or k.contype = 'x' or not ${enforced} or ${period}
        or k.contype = 'f' and (k.confmatchtype <> 's' or off.tgconstraint is not null or ${deleted} <> '')
      then json_build_object('domain', k.contypid::int8, 'parent', k.conparentid::int8, 'deferrable', k.condeferrable, 'deferred', k.condeferred, 'validated', k.convalidated,
        'local', k.conislocal, 'notEnforced', not ${enforced}, 'period', ${period}, 'noInherit', k.connoinherit, 'match', k.confmatchtype, 'onDeleteColumns', ${deleted}, 'disabled', off.tgconstraint is not null,
        'operators', case when k.contype = 'x' then array(select on_.nspname || '.' || op.oprname from unnest(k.conexclop) with ordinality u (oid, place) join pg_operator op on op.oid = u.oid join pg_namespace on_ on on_.oid = op.oprnamespace order by u.place) end) end as rest
  from pg_constraint k
    left join pg_class f on f.oid = k.confrelid
    left join pg_namespace fn on fn.oid = f.relnamespace
    left join (select distinct t.tgconstraint from pg_trigger t where t.tgconstraint <> 0 and t.tgenabled = 'D') off on off.tgconstraint = k.oid
  where k.connamespace = any ($1::oid[]) and k.contype in ('p', 'u', 'f', 'c', 'x') and not ${ofExtension('pg_constraint', 'k.oid')}`
}

const unlike = (version: number) => (version >= 150000 ? 'x.indnullsnotdistinct' : 'false')

/** What few indexes have comes as one value, as with columns. indnullsnotdistinct came with 15; 100 is the collation "default" (pg_collation.dat). */
export const indexes = (version: number) => `
  select x.indexrelid as oid, x.indrelid as relation, c.relname as name, am.amname as method, x.indisunique as unique,
    x.indnkeyatts as "keyColumns", x.indkey::text as columns, k.oid as constraint, k.contype as "constraintKind",
    case when not x.indisvalid or x.indisclustered or ${unlike(version)} or c.reloptions is not null or x.indpred is not null or x.indexprs is not null or p.oid is not null
        or x.indoption::text ~ '[1-9]' or x.indclass::oid[] && (select array_agg(o.oid) from pg_opclass o where not o.opcdefault) or exists (select 1 from unnest(x.indcollation::oid[]) u where u not in (0, 100))
      then json_build_object('flags', x.indoption::text, 'valid', x.indisvalid, 'clustered', x.indisclustered, 'nullsNotDistinct', ${unlike(version)}, 'options', c.reloptions,
        'predicate', pg_get_expr(x.indpred, x.indrelid), 'classes', x.indclass::text, 'collations', x.indcollation::text, 'attachedTo', p.relname,
        'expressions', case when x.indexprs is not null then array(select case when x.indkey[i] = 0 then pg_get_indexdef(x.indexrelid, i + 1, false) end from generate_series(0, x.indnkeyatts - 1) i order by i) end) end as rest
  from pg_index x
    join pg_class c on c.oid = x.indexrelid
    join pg_class r on r.oid = x.indrelid
    join pg_am am on am.oid = c.relam
    left join pg_constraint k on k.conindid = x.indexrelid and k.contype in ('p', 'u', 'x') and k.conrelid = x.indrelid
    left join pg_inherits h on h.inhrelid = x.indexrelid
    left join pg_class p on p.oid = h.inhparent
  where r.relnamespace = any ($1::oid[]) and r.relkind in ('r', 'p', 'm') and not ${ofExtension('pg_class', 'c.oid')}`

/** tgparentid came with 13: triggers that a partition has from its parent are left to the parent. */
export const triggers = (version: number) => `
  select t.oid, t.tgrelid as relation, t.tgname as name, pg_get_triggerdef(t.oid) as definition, t.tgenabled as fires
  from pg_trigger t join pg_class c on c.oid = t.tgrelid
  where c.relnamespace = any ($1::oid[]) and not t.tgisinternal and ${version >= 130000 ? 't.tgparentid = 0' : 'true'} and not ${ofExtension('pg_trigger', 't.oid')}`

/** Rules; that of a view or materialized view itself comes without its text, for its dependencies alone. */
export const rules = `
  select r.oid, r.ev_class as relation, r.rulename as name, case when r.rulename <> '_RETURN' then pg_get_ruledef(r.oid) end as definition, r.ev_enabled as fires
  from pg_rewrite r join pg_class c on c.oid = r.ev_class
  where c.relnamespace = any ($1::oid[]) and not ${ofExtension('pg_rewrite', 'r.oid')}`

/** Roles come by name; the role 0 is PUBLIC. */
export const policies = `
  select p.oid, p.polrelid as relation, p.polname as name, p.polcmd as command, p.polpermissive as permissive,
    array(select r.rolname from pg_roles r where r.oid = any (p.polroles))::text[] as roles, pg_get_expr(p.polqual, p.polrelid) as using, pg_get_expr(p.polwithcheck, p.polrelid) as "check"
  from pg_policy p join pg_class c on c.oid = p.polrelid
  where c.relnamespace = any ($1::oid[]) and not ${ofExtension('pg_policy', 'p.oid')}`

/** Multiranges came with 14. A subtype's default operator class and collation are not told. */
export const ranges = (version: number) => `
  select t.oid, n.nspname as schema, t.typname as name, t.typacl is not null as granted, format_type(r.rngsubtype, null) as subtype,
    ${version >= 140000 ? 'r.rngmultitypid' : '0'} as multirange, mn.nspname as "multirangeSchema", m.typname as "multirangeName",
    r.rngsubopc as "operatorClass", case when r.rngcollation <> s.typcollation then r.rngcollation else 0 end as collation,
    cn.nspname as "canonicalSchema", cp.proname as "canonicalName", dn.nspname as "differenceSchema", dp.proname as "differenceName"
  from pg_range r join pg_type t on t.oid = r.rngtypid join pg_namespace n on n.oid = t.typnamespace join pg_type s on s.oid = r.rngsubtype
    left join pg_type m on m.oid = ${version >= 140000 ? 'r.rngmultitypid' : '0'} left join pg_namespace mn on mn.oid = m.typnamespace
    left join pg_proc cp on cp.oid = r.rngcanonical left join pg_namespace cn on cn.oid = cp.pronamespace
    left join pg_proc dp on dp.oid = r.rngsubdiff left join pg_namespace dn on dn.oid = dp.pronamespace
  where t.typnamespace = any ($1::oid[]) and not ${ofExtension('pg_type', 't.oid')}`

export const enums = `
  select t.oid, n.nspname as schema, t.typname as name, array(select l.enumlabel from pg_enum l where l.enumtypid = t.oid order by l.enumsortorder)::text[] as labels, t.typacl is not null as granted
  from pg_type t join pg_namespace n on n.oid = t.typnamespace
  where t.typnamespace = any ($1::oid[]) and t.typtype = 'e' and not ${ofExtension('pg_type', 't.oid')}`

export const domains = `
  select t.oid, n.nspname as schema, t.typname as name, format_type(t.typbasetype, t.typtypmod) as type, not t.typnotnull as nullable,
    pg_get_expr(t.typdefaultbin, 0) as expression, t.typacl is not null as granted,
    t.typcollation as collation, b.typcollation as "typeCollation"
  from pg_type t join pg_namespace n on n.oid = t.typnamespace join pg_type b on b.oid = t.typbasetype
  where t.typnamespace = any ($1::oid[]) and t.typtype = 'd' and not ${ofExtension('pg_type', 't.oid')}`

/** The owning column, if any: deptype "a" for OWNED BY, "i" for identity columns (manual 54.18). */
export const sequences = `
  select c.oid, n.nspname as schema, c.relname as name, c.relpersistence as persistence, format_type(s.seqtypid, null) as type, c.relacl is not null as granted,
    s.seqstart::text as start, s.seqincrement::text as increment, s.seqmin::text as minimum, s.seqmax::text as maximum, s.seqcache::text as cache, s.seqcycle as cycle,
    d.deptype as "ownerKind", d.refobjid as "ownerRelation", d.refobjsubid as "ownerColumn"
  from pg_class c join pg_namespace n on n.oid = c.relnamespace join pg_sequence s on s.seqrelid = c.oid
    left join pg_depend d on d.classid = 'pg_class'::regclass and d.objid = c.oid and d.refclassid = 'pg_class'::regclass and d.deptype in ('a', 'i')
  where c.relnamespace = any ($1::oid[]) and c.relkind = 'S' and not ${ofExtension('pg_class', 'c.oid')}`

/** Where sequences stand; statistics, not structure. */
export const positions = `
  select c.oid, case when has_sequence_privilege(c.oid, 'SELECT, USAGE') then pg_sequence_last_value(c.oid)::text end as position
  from pg_class c where c.relnamespace = any ($1::oid[]) and c.relkind = 'S' and not ${ofExtension('pg_class', 'c.oid')}`

/** Parameters that SET takes and pg_settings does not list (GUC_NO_SHOW_ALL, guc_tables.c). */
const unlistedSettings = "('role', 'session_authorization', 'is_superuser', 'seed')"

/**
 * Constructors that the server makes for range types are part of the type (deptype "i"). A setting of a function that is neither one
 * of the server's parameters nor an extension's own (those have a dot) is nothing that a person can have said.
 */
export const routines = `
  with known as materialized (select lower(name) as name from pg_settings)
  select p.oid, n.nspname as schema, p.proname as name, p.prokind as kind, oidvectortypes(p.proargtypes) as "argumentTypes", pg_get_function_arguments(p.oid) as arguments,
    pg_get_function_result(p.oid) as returns, l.lanname as language, p.proacl is not null as granted,
    pg_get_function_identity_arguments(p.oid) as identity, case when p.prokind <> 'a' then pg_get_functiondef(p.oid) end as definition,
    case when p.proconfig is not null then (select array_agg(x order by x) from (select x, lower(split_part(x, '=', 1)) as name from unnest(p.proconfig) x) y
      where position('.' in y.name) = 0 and y.name not in ${unlistedSettings} and y.name not in (select k.name from known k)) end as "ownSettings"
  from pg_proc p join pg_namespace n on n.oid = p.pronamespace join pg_language l on l.oid = p.prolang
  where p.pronamespace = any ($1::oid[]) and not ${ofExtension('pg_proc', 'p.oid')}
    and not exists (select 1 from pg_depend i where i.classid = 'pg_catalog.pg_proc'::regclass and i.objid = p.oid and i.deptype = 'i')`

/** Kind `n` is plain, `o` ordered-set, `h` hypothetical-set (manual 54.2). */
export const aggregates = `
  select p.oid, a.aggkind as kind, a.aggtransfn::regproc::text as "transition", format_type(a.aggtranstype, null) as "stateType", a.aggtransspace as space, a.agginitval as initial,
    nullif(a.aggfinalfn::oid, 0)::regproc::text as final, a.aggfinalextra as "finalExtra", a.aggfinalmodify as "finalModify",
    nullif(a.aggcombinefn::oid, 0)::regproc::text as combine, nullif(a.aggserialfn::oid, 0)::regproc::text as serial, nullif(a.aggdeserialfn::oid, 0)::regproc::text as deserial,
    nullif(a.aggmtransfn::oid, 0)::regproc::text as "movingTransition", nullif(a.aggminvtransfn::oid, 0)::regproc::text as "movingInverse", format_type(nullif(a.aggmtranstype, 0), null) as "movingType",
    a.aggmtransspace as "movingSpace", nullif(a.aggmfinalfn::oid, 0)::regproc::text as "movingFinal", a.aggmfinalextra as "movingFinalExtra", a.aggmfinalmodify as "movingFinalModify", a.aggminitval as "movingInitial",
    (select format('operator(%I.%s)', sn.nspname, o.oprname) from pg_operator o join pg_namespace sn on sn.oid = o.oprnamespace where o.oid = a.aggsortop) as sort, p.proparallel as parallel
  from pg_aggregate a join pg_proc p on p.oid = a.aggfnoid
  where p.pronamespace = any ($1::oid[])`

export const extensions = `
  select e.oid, e.extname as name, n.nspname as schema, e.extversion as version
  from pg_extension e join pg_namespace n on n.oid = e.extnamespace where e.extname <> 'plpgsql'`

const needed = `('pg_class'::regclass, 'pg_type'::regclass, 'pg_proc'::regclass, 'pg_operator'::regclass, 'pg_opclass'::regclass, 'pg_opfamily'::regclass, 'pg_collation'::regclass, 'pg_language'::regclass, 'pg_am'::regclass,
  'pg_ts_parser'::regclass, 'pg_ts_template'::regclass, 'pg_ts_dict'::regclass, 'pg_ts_config'::regclass, 'pg_foreign_data_wrapper'::regclass, 'pg_foreign_server'::regclass)`
const needing = `('pg_class'::regclass, 'pg_attrdef'::regclass, 'pg_constraint'::regclass, 'pg_rewrite'::regclass, 'pg_proc'::regclass, 'pg_type'::regclass, 'pg_operator'::regclass, 'pg_collation'::regclass, 'pg_conversion'::regclass, 'pg_cast'::regclass,
  'pg_transform'::regclass, 'pg_language'::regclass, 'pg_am'::regclass, 'pg_ts_parser'::regclass, 'pg_ts_template'::regclass, 'pg_ts_dict'::regclass, 'pg_ts_config'::regclass, 'pg_foreign_data_wrapper'::regclass, 'pg_foreign_server'::regclass, 'pg_event_trigger'::regclass)`

const generatedBefore15 = `
    union all
    select 'pg_attrdef', g.oid, 0, m.refclassid, m.refobjid, m.refobjsubid from pg_depend m join pg_attrdef g on g.adrelid = m.objid and g.adnum = m.objsubid
      where m.classid = 'pg_class'::regclass and m.deptype = 'a' and m.refobjid >= 16384 and m.refclassid in ${needed}`

/**
 * Who needs whom, as far as it decides an order of creation. Types stand for what they are made of: arrays for their element, row
 * types for their relation. Members of an operator class or family and tables of a publication count as the whole they are part of;
 * statistics and operator classes are tied to what they need by "a" (auto), everything else by "n" (normal). References are made last
 * and need no order: theirs, the most there are, are left out. Before 15 what a generated column is made from is
 * tied to the column itself, by "a".
 */
export const dependencies = (version: number) => `
  select d.catalog, d.oid, d.part, d.refclassid::regclass::text as "targetCatalog", d.refobjsubid as "targetPart",
    case when t.typelem <> 0 and t.typcategory = 'A' then t.typelem else d.refobjid end as target,
    x.extname as extension
  from (
    select classid::regclass::text as catalog, objid as oid, objsubid as part, refclassid, refobjid, refobjsubid from pg_depend
      where refobjid >= 16384 and refclassid in ${needed} and (deptype = 'n' and classid in ${needing} or deptype in ('n', 'a') and classid in ('pg_opclass'::regclass, 'pg_statistic_ext'::regclass))
        and not exists (select 1 from pg_constraint k where classid = 'pg_constraint'::regclass and k.oid = objid and k.contype = 'f')
    union all
    select w.refclassid::regclass::text, w.refobjid, 0, m.refclassid, m.refobjid, m.refobjsubid from pg_depend m join pg_depend w on w.classid = m.classid and w.objid = m.objid and w.deptype in ('i', 'a') and w.refclassid in ('pg_opclass'::regclass, 'pg_opfamily'::regclass)
      where m.refobjid >= 16384 and m.classid in ('pg_amop'::regclass, 'pg_amproc'::regclass) and m.deptype in ('n', 'a') and m.refclassid in ${needed}
    union all
    select 'pg_publication', r.prpubid, 0, 'pg_class'::regclass, r.prrelid, 0 from pg_publication_rel r${version >= 150000 ? '' : generatedBefore15}
  ) d
    left join pg_type t on d.refclassid = 'pg_type'::regclass and t.oid = d.refobjid
    left join pg_depend e on e.classid = d.refclassid and e.objid = d.refobjid and e.deptype = 'e'
    left join pg_extension x on x.oid = e.refobjid`

export const defaultsOf = `
  select d.oid, d.adrelid as relation, d.adnum as number, pg_get_expr(d.adbin, d.adrelid) as expression from pg_attrdef d join pg_class c on c.oid = d.adrelid where c.relnamespace = any ($1::oid[])`
