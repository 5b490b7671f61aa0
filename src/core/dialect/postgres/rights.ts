// Owner and privileges of an object that is dropped and made again: remembered by the session before, given back after, whatever roles a server has.
import type { RelationAddress } from '../../catalog/index.ts'
import { quoteAddress, quoteLiteral } from './quote.ts'

/** An object as GRANT and ALTER name it, with a query for its row among the server's own. */
interface Holder {
  /** `TABLE field.crates`, as GRANT has it. */
  readonly granted: string
  /** `TABLE field.crates`, as ALTER has it: of relations of every kind (manual, ALTER TABLE). */
  readonly altered: string
  /** Gives `oid`, `owner` and `acl`. */
  readonly row: string
  /** What everybody may do with a new one. */
  readonly byDefault: string | null
}

const relationRow = (a: RelationAddress) =>
  `select c.oid, c.relowner as owner, c.relacl as acl from pg_catalog.pg_class c where c.oid = pg_catalog.to_regclass(${quoteLiteral(quoteAddress(a))})`

/** Of a table, view or sequence. `as`: the name under which its rights are given; its own unless another one takes them over. */
export const relationHolder = (a: RelationAddress, word: 'TABLE' | 'SEQUENCE', as: RelationAddress = a): Holder => ({
  granted: `${word} ${quoteAddress(as)}`,
  altered: `TABLE ${quoteAddress(as)}`,
  row: relationRow(a),
  byDefault: null,
})

/** `input`: types of the arguments that tell it from others of its name. */
export const routineHolder = (a: RelationAddress, input: string): Holder => {
  const name = `${quoteAddress(a)}(${input})`
  return {
    granted: `ROUTINE ${name}`,
    altered: `ROUTINE ${name}`,
    row: `select p.oid, p.proowner as owner, p.proacl as acl from pg_catalog.pg_proc p where p.oid = pg_catalog.to_regprocedure(${quoteLiteral(name)})`,
    byDefault: 'PUBLIC',
  }
}

const grantee = `case p.grantee when 0 then 'PUBLIC' else pg_catalog.quote_ident(pg_catalog.pg_get_userbyid(p.grantee)) end`
const option = `case when p.is_grantable then ' WITH GRANT OPTION' else '' end`

/**
 * A query of one column, one statement a row, in the order in which they are to run: what was granted, then who owns it, if it is another role than the
 * one that asks (manual 5.7, Privileges; aclexplode, 9.27). None where the object is not there.
 */
export function rightsQuery(h: Holder): string {
  const [granted, altered] = [quoteLiteral(h.granted), quoteLiteral(h.altered)]
  return [
    ...(h.byDefault === null
      ? []
      : [`select 0 as place, pg_catalog.format('REVOKE ALL ON %s FROM ${h.byDefault};', ${granted}) as statement from (${h.row}) o where o.acl is not null`]),
    `select 1 as place, pg_catalog.format('GRANT %s ON %s TO %s%s;', p.privilege_type, ${granted}, ${grantee}, ${option}) as statement from (${h.row}) o, pg_catalog.aclexplode(o.acl) p where p.grantee <> o.owner`,
    `select 2, pg_catalog.format('GRANT %s (%I) ON %s TO %s%s;', p.privilege_type, a.attname, ${granted}, ${grantee}, ${option}) from (${h.row}) o join pg_catalog.pg_attribute a on a.attrelid = o.oid and a.attnum > 0 and not a.attisdropped, pg_catalog.aclexplode(a.attacl) p where p.grantee <> o.owner`,
    `select 3, pg_catalog.format('ALTER %s OWNER TO %I;', ${altered}, pg_catalog.pg_get_userbyid(o.owner)) from (${h.row}) o where pg_catalog.pg_get_userbyid(o.owner) <> current_user`,
  ].join('\n  union all ')
}

/** A setting of the session with a name of its own for each object. */
const slotOf = (h: Holder): string => {
  let hash = 0n
  for (const c of h.granted) hash = (hash * 1_000_003n + BigInt(c.codePointAt(0) as number)) % 0xffffffffffn
  return `pelvok.rights_${hash.toString(16)}`
}

/** Remembers owner and privileges of an object that is about to go. */
export const rememberRights = (h: Holder): string => `DO $rights$ BEGIN
  PERFORM pg_catalog.set_config(${quoteLiteral(slotOf(h))}, (SELECT coalesce(pg_catalog.jsonb_agg(r.statement ORDER BY r.place), '[]')::text FROM (
  ${rightsQuery(h)}) r), false);
END $rights$;`

/** Gives them back to the object that was made. What the role may not give is said, and stops nothing. */
export const giveRights = (h: Holder): string => `DO $rights$ DECLARE s text; BEGIN
  FOR s IN SELECT pg_catalog.jsonb_array_elements_text(coalesce(nullif(pg_catalog.current_setting(${quoteLiteral(slotOf(h))}, true), ''), '[]')::jsonb) LOOP
    BEGIN EXECUTE s; EXCEPTION WHEN OTHERS THEN RAISE WARNING 'not given back: % (%)', s, SQLERRM; END;
  END LOOP;
END $rights$;`
