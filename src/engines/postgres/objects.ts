// Objects that are kept as the statements that make them: one query, whose parts write the statements from the catalogs as
// pg_dump does, for PostgreSQL 12 to 18. Names come out qualified, since the session's search_path is pg_catalog alone.
import type { DefinedKind } from '../../core/catalog/index.ts'

/** One kind of the rows `catalog`, `kind`, `oid`, `schema`, `name`, `definition` (statements). */
interface Part {
  readonly kind: DefinedKind
  readonly catalog: string
  readonly from: string
  /** SQL expressions over `o`, the row, and `n`, its schema where it has one. */
  readonly schema: string
  readonly name: string
  readonly definition: string
  readonly own: string
}

const inSchema = (column: string) => ({ join: `join pg_namespace n on n.oid = o.${column}`, own: `o.${column} = any ($1::oid[])` })
const ofDatabase = { join: '', own: 'o.oid >= 16384' }
/** `{a=b,c=d}` → `a 'b', c 'd'`. */
const options = (column: string) =>
  `(select string_agg(format('%I %L', x.option_name, x.option_value), ', ' order by x.n) from (select option_name, option_value, row_number() over () as n from pg_options_to_table(${column})) x)`
const clause = (format: string, value: string) => `case when ${value} is null then '' else format('${format}', ${value}) end`
const procedure = (column: string) => `nullif(o.${column}::oid, 0)::regproc`
const full = (column: string) => `format('%I.%I', n.nspname, o.${column})`

const operands = `format('(%s, %s)', coalesce(format_type(nullif(o.oprleft, 0), null), 'NONE'), coalesce(format_type(nullif(o.oprright, 0), null), 'NONE'))`
const operatorText = (oid: string) =>
  `(select format('OPERATOR(%I.%s)', xn.nspname, x.oprname) from pg_operator x join pg_namespace xn on xn.oid = x.oprnamespace where x.oid = ${oid})`

/**
 * Members of an operator class, or of a family without a class (those that pg_depend ties to none):
 * `OPERATOR 1 s.=(integer,integer), FUNCTION 1 (integer, integer) s.f(integer,integer)`; null where there are none.
 */
function members(of: 'class' | 'family'): string {
  const tied = (catalog: string) =>
    `exists (select 1 from pg_depend d where d.classid = '${catalog}'::regclass and d.objid = m.oid and d.refclassid = 'pg_opclass'::regclass and d.deptype = 'i'${of === 'class' ? ' and d.refobjid = o.oid' : ''})`
  const test = (catalog: string) => (of === 'class' ? tied(catalog) : `not ${tied(catalog)}`)
  const family = of === 'class' ? 'o.opcfamily' : 'o.oid'
  const types = (left: string, right: string) => `format_type(m.${left}, null), format_type(m.${right}, null)`
  return `(select string_agg(t.text, ', ' order by t.rank, t.number, t.text) from (
      select 1 as rank, m.amopstrategy::int as number, format('OPERATOR %s %s%s', m.amopstrategy, m.amopopr::regoperator, case when m.amoppurpose = 'o' then (select format(' FOR ORDER BY %I.%I', sn.nspname, sf.opfname) from pg_opfamily sf join pg_namespace sn on sn.oid = sf.opfnamespace where sf.oid = m.amopsortfamily) else '' end) as text
        from pg_amop m where m.amopfamily = ${family} and ${test('pg_amop')}
      union all
      select 2, m.amprocnum::int, format('FUNCTION %s (%s, %s) %s', m.amprocnum, ${types('amproclefttype', 'amprocrighttype')}, m.amproc::regprocedure)
        from pg_amproc m where m.amprocfamily = ${family} and ${test('pg_amproc')}) t)`
}

const typeLetters = {
  alignment: `(values ('c', 'char'), ('s', 'int2'), ('i', 'int4'), ('d', 'double'))`,
  storage: `(values ('p', 'plain'), ('e', 'external'), ('x', 'extended'), ('m', 'main'))`,
}
const word = (list: keyof typeof typeLetters, column: string) => `(select w.word from ${typeLetters[list]} w (letter, word) where w.letter = o.${column})`

/** The shell that its functions need, then the type itself. How elements are reached came with 14; before, a fixed length told it. */
function baseType(version: number): string {
  const element = version >= 140000 ? `o.typsubscript <> 0 and o.typsubscript::regproc::text <> 'array_subscript_handler'` : 'o.typlen > 0'
  return `array[format('CREATE TYPE %I.%I', n.nspname, o.typname)] || case when not o.typisdefined then array[]::text[] else array[
      'CREATE TYPE ' || ${full('typname')} || ' (' || concat_ws(', ', 'INPUT = ' || o.typinput::regproc, 'OUTPUT = ' || o.typoutput::regproc, 'RECEIVE = ' || ${procedure('typreceive')}, 'SEND = ' || ${procedure('typsend')},
        'TYPMOD_IN = ' || ${procedure('typmodin')}, 'TYPMOD_OUT = ' || ${procedure('typmodout')}, 'ANALYZE = ' || ${procedure('typanalyze')},
        'INTERNALLENGTH = ' || case when o.typlen < 0 then 'VARIABLE' else o.typlen::text end, case when o.typbyval then 'PASSEDBYVALUE' end,
        'ALIGNMENT = ' || ${word('alignment', 'typalign')}, 'STORAGE = ' || ${word('storage', 'typstorage')},
        'CATEGORY = ' || quote_literal(o.typcategory::text), case when o.typispreferred then 'PREFERRED = true' end, 'DEFAULT = ' || quote_literal(o.typdefault),
        'ELEMENT = ' || case when o.typelem <> 0 and ${element} then format_type(o.typelem, null) end, 'DELIMITER = ' || quote_literal(nullif(o.typdelim::text, ',')),
        case when o.typcollation <> 0 then 'COLLATABLE = true' end) || ')'] end`
}

/** PostgreSQL 17 keeps the locale in colllocale, 15 and 16 in colliculocale, 14 and older in collcollate; rules came with 16. */
function collation(version: number): string {
  const locale = version >= 170000 ? 'o.colllocale' : version >= 150000 ? 'o.colliculocale' : "case when o.collprovider = 'i' then o.collcollate end"
  const rules = version >= 160000 ? 'o.collicurules' : 'null'
  return `array['CREATE COLLATION ' || ${full('collname')} || ' (' || concat_ws(', ',
      'PROVIDER = ' || (select w.word from (values ('c', 'libc'), ('i', 'icu'), ('b', 'builtin')) w (letter, word) where w.letter = o.collprovider),
      'LOCALE = ' || quote_literal(${locale}), case when o.collprovider = 'c' then 'LC_COLLATE = ' || quote_literal(o.collcollate) || ', LC_CTYPE = ' || quote_literal(o.collctype) end,
      'RULES = ' || quote_literal(${rules}), case when not o.collisdeterministic then 'DETERMINISTIC = false' end) || ')']`
}

/** Row filters, column lists and schemas came with 15, generated columns with 18. */
function publication(version: number): string {
  const detail =
    version >= 150000
      ? `coalesce((select ' (' || string_agg(quote_ident(a.attname), ', ' order by a.attnum) || ')' from pg_attribute a where a.attrelid = r.prrelid and a.attnum = any (r.prattrs)), '') || coalesce(' WHERE (' || pg_get_expr(r.prqual, r.prrelid) || ')', '')`
      : `''`
  const schemas =
    version >= 150000
      ? `(select string_agg('TABLES IN SCHEMA ' || quote_ident(sn.nspname), ', ' order by sn.nspname) from pg_publication_namespace p join pg_namespace sn on sn.oid = p.pnnspid where p.pnpubid = o.oid)`
      : 'null'
  const generated = version >= 180000 ? `case when o.pubgencols = 's' then 'publish_generated_columns = stored' end` : 'null'
  const root = version >= 130000 ? `case when o.pubviaroot then 'publish_via_partition_root = true' end` : 'null'
  return `array['CREATE PUBLICATION ' || quote_ident(o.pubname) || case when o.puballtables then ' FOR ALL TABLES' else coalesce(' FOR ' || nullif(concat_ws(', ',
      (select string_agg(format('TABLE ONLY %I.%I', tn.nspname, t.relname) || ${detail}, ', ' order by tn.nspname, t.relname) from pg_publication_rel r join pg_class t on t.oid = r.prrelid join pg_namespace tn on tn.oid = t.relnamespace where r.prpubid = o.oid), ${schemas}), ''), '') end
      || ' WITH (' || concat_ws(', ', 'publish = ' || quote_literal(concat_ws(', ', case when o.pubinsert then 'insert' end, case when o.pubupdate then 'update' end, case when o.pubdelete then 'delete' end, case when o.pubtruncate then 'truncate' end)), ${root}, ${generated}) || ')']`
}

const mapping = `array(select format('ALTER TEXT SEARCH CONFIGURATION %I.%I ADD MAPPING FOR %s WITH %s', n.nspname, o.cfgname,
      (select quote_ident(k.alias) from ts_token_type(o.cfgparser) k where k.tokid = m.maptokentype), string_agg(m.mapdict::regdictionary::text, ', ' order by m.mapseqno))
    from pg_ts_config_map m where m.mapcfg = o.oid group by m.maptokentype order by m.maptokentype)`

const method = (name: string, am: string) => `format('%I.%I USING %I', n.nspname, o.${name}, (select amname from pg_am where oid = o.${am}))`

function parts(version: number): readonly Part[] {
  const part = (kind: DefinedKind, catalog: string, place: typeof ofDatabase, schema: string, name: string, definition: string, only = 'true'): Part => ({
    kind,
    catalog,
    from: `${catalog} o ${place.join}`,
    schema,
    name,
    definition,
    own: `${place.own} and ${only}`,
  })
  const schema = 'n.nspname'
  const none = `''`
  return [
    part(
      'type',
      'pg_type',
      inSchema('typnamespace'),
      schema,
      'quote_ident(o.typname)',
      baseType(version),
      `o.typtype in ('b', 'p') and not (o.typcategory = 'A' and o.typelem <> 0)`,
    ),
    part('collation', 'pg_collation', inSchema('collnamespace'), schema, 'quote_ident(o.collname)', collation(version), `o.collprovider in ('c', 'i', 'b')`),
    part(
      'conversion',
      'pg_conversion',
      inSchema('connamespace'),
      schema,
      'quote_ident(o.conname)',
      `array[format('CREATE %sCONVERSION %I.%I FOR %L TO %L FROM %s', case when o.condefault then 'DEFAULT ' else '' end, n.nspname, o.conname, pg_encoding_to_char(o.conforencoding), pg_encoding_to_char(o.contoencoding), o.conproc::regproc)]`,
    ),
    part(
      'operator',
      'pg_operator',
      inSchema('oprnamespace'),
      schema,
      `o.oprname || ' ' || ${operands}`,
      `array[format('CREATE OPERATOR %I.%s (', n.nspname, o.oprname) || concat_ws(', ', 'FUNCTION = ' || o.oprcode::regproc, 'LEFTARG = ' || format_type(nullif(o.oprleft, 0), null), 'RIGHTARG = ' || format_type(nullif(o.oprright, 0), null),
        'COMMUTATOR = ' || ${operatorText('o.oprcom')}, 'NEGATOR = ' || ${operatorText('o.oprnegate')}, 'RESTRICT = ' || ${procedure('oprrest')}, 'JOIN = ' || ${procedure('oprjoin')}, case when o.oprcanhash then 'HASHES' end, case when o.oprcanmerge then 'MERGES' end) || ')']`,
      'o.oprcode <> 0',
    ),
    part(
      'operator family',
      'pg_opfamily',
      inSchema('opfnamespace'),
      schema,
      `format('%I USING %I', o.opfname, (select amname from pg_am where oid = o.opfmethod))`,
      `array['CREATE OPERATOR FAMILY ' || ${method('opfname', 'opfmethod')}] || (select case when l.text is null then array[]::text[] else array['ALTER OPERATOR FAMILY ' || ${method('opfname', 'opfmethod')} || ' ADD ' || l.text] end from (select ${members('family')} as text) l)`,
    ),
    part(
      'operator class',
      'pg_opclass',
      inSchema('opcnamespace'),
      schema,
      `format('%I USING %I', o.opcname, (select amname from pg_am where oid = o.opcmethod))`,
      `array[format('CREATE OPERATOR CLASS %I.%I%s FOR TYPE %s USING %I FAMILY %s AS ', n.nspname, o.opcname, case when o.opcdefault then ' DEFAULT' else '' end, format_type(o.opcintype, null), (select amname from pg_am where oid = o.opcmethod),
        (select format('%I.%I', fn.nspname, f.opfname) from pg_opfamily f join pg_namespace fn on fn.oid = f.opfnamespace where f.oid = o.opcfamily)) || concat_ws(', ', ${members('class')}, 'STORAGE ' || format_type(coalesce(nullif(o.opckeytype, 0), o.opcintype), null))]`,
    ),
    part(
      'cast',
      'pg_cast',
      ofDatabase,
      none,
      `format('(%s AS %s)', format_type(o.castsource, null), format_type(o.casttarget, null))`,
      `array[format('CREATE CAST (%s AS %s) %s%s', format_type(o.castsource, null), format_type(o.casttarget, null), case o.castmethod when 'f' then 'WITH FUNCTION ' || o.castfunc::regprocedure when 'b' then 'WITHOUT FUNCTION' when 'i' then 'WITH INOUT' end, case o.castcontext when 'a' then ' AS ASSIGNMENT' when 'i' then ' AS IMPLICIT' else '' end)]`,
      `o.castmethod in ('f', 'b', 'i') and o.castcontext in ('e', 'a', 'i')`,
    ),
    part(
      'transform',
      'pg_transform',
      ofDatabase,
      none,
      `format('FOR %s LANGUAGE %I', format_type(o.trftype, null), (select lanname from pg_language where oid = o.trflang))`,
      `array[format('CREATE TRANSFORM FOR %s LANGUAGE %I (%s)', format_type(o.trftype, null), (select lanname from pg_language where oid = o.trflang), concat_ws(', ', 'FROM SQL WITH FUNCTION ' || nullif(o.trffromsql::oid, 0)::regprocedure, 'TO SQL WITH FUNCTION ' || nullif(o.trftosql::oid, 0)::regprocedure))]`,
    ),
    part(
      'language',
      'pg_language',
      ofDatabase,
      none,
      'quote_ident(o.lanname)',
      `array[format('CREATE %sLANGUAGE %I HANDLER %s', case when o.lanpltrusted then 'TRUSTED ' else '' end, o.lanname, o.lanplcallfoid::regproc) || ${clause(' INLINE %s', procedure('laninline'))} || ${clause(' VALIDATOR %s', procedure('lanvalidator'))}]`,
    ),
    part(
      'access method',
      'pg_am',
      ofDatabase,
      none,
      'quote_ident(o.amname)',
      `array[format('CREATE ACCESS METHOD %I TYPE %s HANDLER %s', o.amname, case o.amtype when 'i' then 'INDEX' when 't' then 'TABLE' end, o.amhandler)]`,
      `o.amtype in ('i', 't')`,
    ),
    part(
      'text search parser',
      'pg_ts_parser',
      inSchema('prsnamespace'),
      schema,
      'quote_ident(o.prsname)',
      `array['CREATE TEXT SEARCH PARSER ' || ${full('prsname')} || format(' (START = %s, GETTOKEN = %s, END = %s, %sLEXTYPES = %s)', o.prsstart, o.prstoken, o.prsend, ${clause('HEADLINE = %s, ', procedure('prsheadline'))}, o.prslextype)]`,
    ),
    part(
      'text search template',
      'pg_ts_template',
      inSchema('tmplnamespace'),
      schema,
      'quote_ident(o.tmplname)',
      `array['CREATE TEXT SEARCH TEMPLATE ' || ${full('tmplname')} || format(' (%sLEXIZE = %s)', ${clause('INIT = %s, ', procedure('tmplinit'))}, o.tmpllexize)]`,
    ),
    part(
      'text search dictionary',
      'pg_ts_dict',
      inSchema('dictnamespace'),
      schema,
      'quote_ident(o.dictname)',
      `array['CREATE TEXT SEARCH DICTIONARY ' || ${full('dictname')} || (select format(' (TEMPLATE = %I.%I', tn.nspname, t.tmplname) from pg_ts_template t join pg_namespace tn on tn.oid = t.tmplnamespace where t.oid = o.dicttemplate) || coalesce(', ' || o.dictinitoption, '') || ')']`,
    ),
    part(
      'text search configuration',
      'pg_ts_config',
      inSchema('cfgnamespace'),
      schema,
      'quote_ident(o.cfgname)',
      `array['CREATE TEXT SEARCH CONFIGURATION ' || ${full('cfgname')} || (select format(' (PARSER = %I.%I)', pn.nspname, p.prsname) from pg_ts_parser p join pg_namespace pn on pn.oid = p.prsnamespace where p.oid = o.cfgparser)] || ${mapping}`,
    ),
    part(
      'statistics object',
      'pg_statistic_ext',
      inSchema('stxnamespace'),
      schema,
      'quote_ident(o.stxname)',
      version >= 130000
        ? `array[pg_get_statisticsobjdef(o.oid)] || case when coalesce(o.stxstattarget, -1) >= 0 then array[format('ALTER STATISTICS %I.%I SET STATISTICS %s', n.nspname, o.stxname, o.stxstattarget)] else array[]::text[] end`
        : 'array[pg_get_statisticsobjdef(o.oid)]',
    ),
    part(
      'foreign-data wrapper',
      'pg_foreign_data_wrapper',
      ofDatabase,
      none,
      'quote_ident(o.fdwname)',
      `array['CREATE FOREIGN DATA WRAPPER ' || quote_ident(o.fdwname) || ${clause(' HANDLER %s', procedure('fdwhandler'))} || ${clause(' VALIDATOR %s', procedure('fdwvalidator'))} || ${clause(' OPTIONS (%s)', options('o.fdwoptions'))}]`,
    ),
    part(
      'server',
      'pg_foreign_server',
      ofDatabase,
      none,
      'quote_ident(o.srvname)',
      `array['CREATE SERVER ' || quote_ident(o.srvname) || ${clause(' TYPE %L', 'o.srvtype')} || ${clause(' VERSION %L', 'o.srvversion')} || (select format(' FOREIGN DATA WRAPPER %I', w.fdwname) from pg_foreign_data_wrapper w where w.oid = o.srvfdw) || ${clause(' OPTIONS (%s)', options('o.srvoptions'))}]`,
    ),
    part('publication', 'pg_publication', ofDatabase, none, 'quote_ident(o.pubname)', publication(version)),
    part(
      'event trigger',
      'pg_event_trigger',
      ofDatabase,
      none,
      'quote_ident(o.evtname)',
      `array[format('CREATE EVENT TRIGGER %I ON %s', o.evtname, o.evtevent) || coalesce((select ' WHEN TAG IN (' || string_agg(quote_literal(g.tag), ', ' order by g.n) || ')' from unnest(o.evttags) with ordinality g (tag, n)), '') || format(' EXECUTE FUNCTION %s()', o.evtfoid::regproc)]
       || case o.evtenabled when 'O' then array[]::text[] when 'D' then array[format('ALTER EVENT TRIGGER %I DISABLE', o.evtname)] when 'R' then array[format('ALTER EVENT TRIGGER %I ENABLE REPLICA', o.evtname)] when 'A' then array[format('ALTER EVENT TRIGGER %I ENABLE ALWAYS', o.evtname)] end`,
      `o.evtenabled in ('O', 'D', 'R', 'A')`,
    ),
  ]
}

/** Rows of all kinds, extensions' own and what belongs to another object left out. */
export function objectsQuery(version: number): string {
  return parts(version)
    .map(
      (p) =>
        `select '${p.catalog}' as catalog, '${p.kind}' as kind, o.oid, ${p.schema}::text as schema, (${p.name})::text as name, (${p.definition})::text[] as definition from ${p.from} where ${p.own}
    and not exists (select 1 from pg_depend e where e.classid = 'pg_catalog.${p.catalog}'::regclass and e.objid = o.oid and e.deptype in ('e', 'i'))`,
    )
    .join('\nunion all\n')
}
