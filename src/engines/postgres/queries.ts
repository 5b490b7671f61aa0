// Every catalog query of the survey, for PostgreSQL 12 to 18 unless its comment says otherwise. Columns are aliased to the
// fields of the row types. $1 is the list of the surveyed schemas' oids. Objects that an extension owns are left out.

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

/** $1: names asked for, or null for every user schema. */
export const schemas = `
  select n.oid, n.nspname as name, n.nspacl is not null as granted
  from pg_namespace n
  where n.nspname !~ '^pg_' and n.nspname <> 'information_schema' and not ${ofExtension('pg_namespace', 'n.oid')}
    and ($1::text[] is null or n.nspname = any ($1::text[]))`

export const comments = `
  select classoid::regclass::text as catalog, objoid as oid, objsubid as part, description as comment
  from pg_description where objoid >= 16384 or classoid = 'pg_namespace'::regclass`

export const relations = `
  select c.oid, n.nspname as schema, c.relname as name, c.relkind as kind, c.relispartition as "isPartition",
    c.relpersistence as persistence, coalesce(c.reloptions, '{}') as options,
    case when c.relkind = 'p' then pg_get_partkeydef(c.oid) end as "partitionKey",
    case when c.relispartition then pg_get_expr(c.relpartbound, c.oid) end as bound,
    (select pn.nspname from pg_inherits i join pg_class p on p.oid = i.inhparent join pg_namespace pn on pn.oid = p.relnamespace where i.inhrelid = c.oid and c.relispartition) as "parentSchema",
    (select p.relname from pg_inherits i join pg_class p on p.oid = i.inhparent where i.inhrelid = c.oid and c.relispartition) as "parentName",
    case when c.relkind in ('v', 'm') then pg_get_viewdef(c.oid) end as definition,
    c.relreplident as replica,
    (select x.relname from pg_index ix join pg_class x on x.oid = ix.indexrelid where ix.indrelid = c.oid and ix.indisreplident) as "replicaIndex",
    c.relrowsecurity as "rowSecurity", c.relforcerowsecurity as "forceRowSecurity",
    c.reltuples::float8 as rows, c.relpages as pages, c.relacl is not null as granted,
    has_table_privilege(c.oid, 'SELECT') as readable
  from pg_class c join pg_namespace n on n.oid = c.relnamespace
  where c.relnamespace = any ($1::oid[]) and c.relkind in ('r', 'p', 'v', 'm', 'c') and not ${ofExtension('pg_class', 'c.oid')}`

/** Columns carry the oid of their type: the texts of the few different ones come once, from `types`. attcompression came with 14, attgenerated with 12; attstattarget is null instead of -1 from 17 on. */
export const columns = (version: number) => `
  select a.attrelid as relation, a.attnum as number, a.attname as name, a.atttypid as type, a.atttypmod as modifier,
    not a.attnotnull as nullable, a.attidentity as identity, a.attgenerated as generated, a.attcollation as collation, a.attstorage as storage,
    ${version >= 140000 ? 'a.attcompression' : "''"} as compression, coalesce(a.attstattarget, -1) as statistics
  from pg_attribute a
  where a.attrelid in (select c.oid from pg_class c where c.relnamespace = any ($1::oid[]) and c.relkind in ('r', 'p', 'v', 'm', 'c'))
    and a.attnum > 0 and not a.attisdropped`

export const types = `
  select u.type, u.modifier, format_type(u.type, u.modifier) as text, t.typcollation as collation, t.typstorage as storage
  from (select distinct a.atttypid as type, a.atttypmod as modifier from pg_attribute a
      where a.attrelid in (select c.oid from pg_class c where c.relnamespace = any ($1::oid[]) and c.relkind in ('r', 'p', 'v', 'm', 'c')) and not a.attisdropped) u
    join pg_type t on t.oid = u.type`

/** Names of collations, and of operator classes that are not the default for their type. */
export const collations = `
  select o.oid, n.nspname as schema, o.collname as name from pg_collation o join pg_namespace n on n.oid = o.collnamespace`

export const operatorClasses = `
  select o.oid, n.nspname as schema, o.opcname as name from pg_opclass o join pg_namespace n on n.oid = o.opcnamespace where not o.opcdefault`

/** Lists of numbers come as text: `1 2`. confdelsetcols came with 15. */
export const constraints = (version: number) => `
  select k.oid, k.conname as name, k.contype as kind, k.conrelid as relation, k.contypid as domain, k.conindid as index,
    array_to_string(k.conkey, ' ') as columns, k.confrelid as target, array_to_string(k.confkey, ' ') as "targetColumns", k.confupdtype as "onUpdate", k.confdeltype as "onDelete",
    ${version >= 150000 ? "array_to_string(k.confdelsetcols, ' ')" : "''"} as "onDeleteColumns", k.confmatchtype as match,
    k.condeferrable as deferrable, k.condeferred as deferred, k.convalidated as validated, k.connoinherit as "noInherit",
    k.conislocal as local, k.conparentid as parent, fn.nspname as "targetSchema", f.relname as "targetName",
    case when k.contype = 'c' then pg_get_expr(k.conbin, k.conrelid) end as expression,
    case when k.contype = 'f' then exists (select 1 from pg_trigger t where t.tgconstraint = k.oid and t.tgenabled = 'D') else false end as disabled
  from pg_constraint k
    left join pg_class f on f.oid = k.confrelid
    left join pg_namespace fn on fn.oid = f.relnamespace
  where k.connamespace = any ($1::oid[]) and k.contype in ('p', 'u', 'f', 'c') and not ${ofExtension('pg_constraint', 'k.oid')}`

/** indnullsnotdistinct came with 15. */
export const indexes = (version: number) => `
  select x.indexrelid as oid, x.indrelid as relation, c.relname as name, am.amname as method, x.indisunique as unique,
    x.indnkeyatts as "keyColumns", x.indkey::text as columns, x.indoption::text as flags, x.indisvalid as valid, x.indisclustered as clustered,
    ${version >= 150000 ? 'x.indnullsnotdistinct' : 'false'} as "nullsNotDistinct", coalesce(c.reloptions, '{}') as options,
    pg_get_expr(x.indpred, x.indrelid) as predicate, k.oid as constraint, k.contype as "constraintKind",
    case when x.indexprs is not null then array(select case when x.indkey[i] = 0 then pg_get_indexdef(x.indexrelid, i + 1, false) end from generate_series(0, x.indnkeyatts - 1) i order by i) end as expressions,
    x.indclass::text as classes, x.indcollation::text as collations, p.relname as "attachedTo"
  from pg_index x
    join pg_class c on c.oid = x.indexrelid
    join pg_class r on r.oid = x.indrelid
    join pg_am am on am.oid = c.relam
    left join pg_constraint k on k.conindid = x.indexrelid and k.contype in ('p', 'u', 'x') and k.conrelid = x.indrelid
    left join pg_inherits h on h.inhrelid = x.indexrelid
    left join pg_class p on p.oid = h.inhparent
  where r.relnamespace = any ($1::oid[]) and r.relkind in ('r', 'p', 'm') and not ${ofExtension('pg_class', 'c.oid')}`

/** Index columns with parameters of their operator class or a statistics target of their own. */
export const tunedColumns = `
  select a.attrelid as index, a.attnum as position, coalesce(a.attoptions, '{}') as options, coalesce(a.attstattarget, -1) as target
  from pg_attribute a join pg_class c on c.oid = a.attrelid
  where c.relnamespace = any ($1::oid[]) and c.relkind in ('i', 'I') and (a.attoptions is not null or coalesce(a.attstattarget, -1) >= 0)
  order by a.attrelid, a.attnum`

/** tgparentid came with 13: triggers that a partition has from its parent are left to the parent. */
export const triggers = (version: number) => `
  select t.oid, t.tgrelid as relation, t.tgname as name, pg_get_triggerdef(t.oid) as definition, t.tgenabled as fires
  from pg_trigger t join pg_class c on c.oid = t.tgrelid
  where c.relnamespace = any ($1::oid[]) and not t.tgisinternal and ${version >= 130000 ? 't.tgparentid = 0' : 'true'} and not ${ofExtension('pg_trigger', 't.oid')}`

export const rules = `
  select r.oid, r.ev_class as relation, r.rulename as name, pg_get_ruledef(r.oid) as definition, r.ev_enabled as fires
  from pg_rewrite r join pg_class c on c.oid = r.ev_class
  where c.relnamespace = any ($1::oid[]) and r.rulename <> '_RETURN' and not ${ofExtension('pg_rewrite', 'r.oid')}`

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

/** Constructors that the server makes for range types are part of the type (deptype "i"). */
export const routines = `
  select p.oid, n.nspname as schema, p.proname as name, p.prokind as kind, oidvectortypes(p.proargtypes) as "argumentTypes", pg_get_function_arguments(p.oid) as arguments,
    pg_get_function_result(p.oid) as returns, l.lanname as language, p.proacl is not null as granted,
    case when p.prokind <> 'a' then pg_get_functiondef(p.oid) end as definition
  from pg_proc p join pg_namespace n on n.oid = p.pronamespace join pg_language l on l.oid = p.prolang
  where p.pronamespace = any ($1::oid[]) and not ${ofExtension('pg_proc', 'p.oid')}
    and not exists (select 1 from pg_depend i where i.classid = 'pg_catalog.pg_proc'::regclass and i.objid = p.oid and i.deptype = 'i')`

/** Plain aggregates only; ordered-set and hypothetical-set ones are reported. */
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

/** Who needs whom, as far as it decides an order of creation. Types stand for what they are made of: arrays for their element, row types for their relation. */
export const dependencies = `
  select d.classid::regclass::text as catalog, d.objid as oid, d.objsubid as part, d.refclassid::regclass::text as "targetCatalog", d.refobjsubid as "targetPart",
    case when t.typelem <> 0 and t.typcategory = 'A' then t.typelem else d.refobjid end as target,
    x.extname as extension
  from pg_depend d
    left join pg_type t on d.refclassid = 'pg_type'::regclass and t.oid = d.refobjid
    left join pg_depend e on e.classid = d.refclassid and e.objid = d.refobjid and e.deptype = 'e'
    left join pg_extension x on x.oid = e.refobjid
  where d.deptype = 'n' and d.refobjid >= 16384 and d.refclassid in ('pg_class'::regclass, 'pg_type'::regclass, 'pg_proc'::regclass, 'pg_operator'::regclass)
    and d.classid in ('pg_class'::regclass, 'pg_attrdef'::regclass, 'pg_constraint'::regclass, 'pg_rewrite'::regclass, 'pg_proc'::regclass, 'pg_type'::regclass)`

/** Relations' own row types, to follow a dependency on a type to the relation or composite it stands for. */
export const rowTypes = `
  select t.oid as type, t.typrelid as relation from pg_type t where t.typnamespace = any ($1::oid[]) and t.typrelid <> 0`

/** The view's own rewrite rule, to follow its dependencies to the view. */
export const viewRules = `
  select r.oid, r.ev_class as relation from pg_rewrite r join pg_class c on c.oid = r.ev_class where c.relnamespace = any ($1::oid[]) and r.rulename = '_RETURN'`

export const defaultsOf = `
  select d.oid, d.adrelid as relation, d.adnum as number, pg_get_expr(d.adbin, d.adrelid) as expression from pg_attrdef d join pg_class c on c.oid = d.adrelid where c.relnamespace = any ($1::oid[])`
