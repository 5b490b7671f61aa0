// What is dropped and made again has the owner and the privileges that it had, on the way up and back.
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { changePlan } from '../../src/core/change/index.ts'
import { runSteps } from '../../src/engines/postgres/steps.ts'
import { admin, cli, makeDatabase, rowsOf, surveyOf } from '../support/server.ts'

const [owner, reader] = [`own_${process.pid}`, `read_${process.pid}`]
beforeAll(() => admin('postgres', `create role ${owner}`, `create role ${reader}`))
afterAll(() => admin('postgres', `drop role ${owner}`, `drop role ${reader}`))

const schema = (type: string, partitioned: string) => `
  create table crate (id integer primary key, weight ${type});
  create view crates as select id, weight from crate;
  create materialized view heavy as select id, weight from crate;
  create function weighed() returns ${type} language sql begin atomic select max(weight) from crate; end;
  create table tide (at integer not null, height integer) ${partitioned};`
const rights = `
  grant usage, create on schema public to ${owner};
  alter view crates owner to ${owner};
  grant select on crates to ${reader} with grant option; grant update (weight) on crates to ${reader};
  grant select on heavy to public;
  revoke all on function weighed() from public; grant execute on function weighed() to ${reader};
  alter table tide owner to ${owner}; grant insert on tide to ${reader}`

/** Owner and privileges of all there is, without who gave them: that goes with the owner. */
const held = (name: string) =>
  rowsOf<{ name: string; owner: string; who: string | null; what: string | null }>(
    name,
    `select x.name, x.owner::regrole::text as owner, case p.grantee when 0 then 'public' else p.grantee::regrole::text end as who, p.privilege_type || case when p.is_grantable then ' on' else '' end as what
     from (select relname::text as name, relowner as owner, relacl as acl from pg_class where relnamespace = 'public'::regnamespace and relkind in ('r', 'v', 'm', 'p') and relname <> 'tide_rest'
       union all select c.relname || '.' || a.attname, c.relowner, a.attacl from pg_attribute a join pg_class c on c.oid = a.attrelid where c.relnamespace = 'public'::regnamespace and a.attacl is not null
       union all select proname, proowner, proacl from pg_proc where pronamespace = 'public'::regnamespace) x
     left join lateral aclexplode(x.acl) p on p.grantee <> x.owner order by 1, 2, 3, 4`,
  )

async function evolved() {
  const a = await makeDatabase(schema('integer', ''), 'insert into tide values (1, 2)', rights)
  const b = await makeDatabase(schema('bigint', 'partition by range (at); create table tide_rest partition of tide default'))
  return { a, b, drop: () => Promise.all([a.drop(), b.drop()]) }
}

describe('rights', () => {
  it('are what they were after the way up, and after the way back', async () => {
    const { a, b, drop } = await evolved()
    const c = new pg.Client({ connectionString: a.url })
    await c.connect()
    try {
      const before = await held(a.name)
      expect(before.filter((x) => x.owner === owner).length).toBeGreaterThan(2)
      const result = changePlan((await surveyOf(a.location)).structure, (await surveyOf(b.location)).structure, { title: 'rights' })
      if (!result.ok) throw new Error(JSON.stringify(result.problem))
      const { plan } = result.changed
      expect(plan.steps.flatMap((s) => s.hazards.filter((h) => h.code === 'made-anew').map((h) => h.object))).toEqual(
        expect.arrayContaining(['view public.crates', 'materialized view public.heavy', 'table public.tide']),
      )
      await runSteps(c, plan, plan.steps, 'up', {})
      expect(await held(a.name)).toEqual(before)
      await runSteps(c, plan, plan.steps, 'down', {})
      expect(await held(a.name)).toEqual(before)
    } finally {
      await c.end()
      await drop()
    }
  })

  it('are told beforehand, as statements', async () => {
    const { a, b, drop } = await evolved()
    try {
      const told = cli(['plan', '--from', a.url, '--to', b.url])
      expect(told.status, told.err).toBe(0)
      for (const said of [
        `gives back: GRANT SELECT ON TABLE public.crates TO ${reader} WITH GRANT OPTION;`,
        `gives back: GRANT UPDATE (weight) ON TABLE public.crates TO ${reader};`,
        `gives back: ALTER TABLE public.crates OWNER TO ${owner};`,
        'gives back: REVOKE ALL ON ROUTINE public.weighed() FROM PUBLIC;',
      ])
        expect(told.err).toContain(said)
    } finally {
      await drop()
    }
  })
})
