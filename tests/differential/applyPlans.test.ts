// Applying plans through crashes, races and hand edits: the command line against a real server.
import { type ChildProcess, spawn } from 'node:child_process'
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { admin, adminUrl, cli, makeDatabase, rowsOf, surveyOf } from '../support/server.ts'
import { eventually } from '../support/wait.ts'

type Database = Awaited<ReturnType<typeof makeDatabase>>

const schema = `
  create table bay (id integer primary key, code text not null, width integer, depth integer, note text);
  create table crate (id integer primary key, bay_id integer, kind text, weight integer, tag text);
  create view crates as select id, kind from crate;`
const rows = `
  insert into bay select i, 'B' || i, i, i, repeat('x', 40) from generate_series(1, 20000) i;
  insert into crate select i, 1 + i % 20000, 'k' || i % 7, i, repeat('y', 40) from generate_series(1, 60000) i;
  analyze`

/** Some thirty steps: references, indexes outside of transactions, rules that are validated, types, a rename. */
const wished = `${schema}
  ${['code', 'width', 'depth', 'note'].map((c) => `create index bay_${c}_idx on bay (${c});`).join('\n')}
  ${['bay_id', 'kind', 'weight', 'tag'].map((c) => `create index crate_${c}_idx on crate (${c});`).join('\n')}
  alter table crate add constraint crate_bay foreign key (bay_id) references bay (id);
  alter table bay add constraint bay_code_key unique (code);
  alter table bay alter width set not null, alter depth set not null, alter note set not null;
  alter table crate alter bay_id set not null, alter kind set not null;
  alter table bay add constraint bay_width check (width > 0);
  alter table crate add constraint crate_weight check (weight > 0);
  create table lane (id integer primary key, bay_id integer references bay (id));
  alter table bay add column mark text default 'm';`

const work = mkdtempSync(join(tmpdir(), 'pelvok-apply-'))
afterAll(() => rmSync(work, { recursive: true, force: true }))

/** A folder with a baseline and one plan, made by the command line. */
async function plansFor(name: string, to: string): Promise<string> {
  const dir = join(work, name)
  mkdirSync(dir)
  const [a, b] = [await makeDatabase(schema), await makeDatabase(to)]
  try {
    expect(cli(['plan', '--from', 'empty', '--to', a.url, '--out', dir]).status).toBe(0)
    const made = cli(['plan', '--from', a.url, '--to', b.url, '--title', 'Everything at once', '--out', dir])
    expect(made.status, made.err).toBe(0)
  } finally {
    await a.drop()
    await b.drop()
  }
  return dir
}

const filled = async (): Promise<Database> => makeDatabase(schema, rows)
const adopted = async (dir: string): Promise<Database> => {
  const db = await filled()
  const answer = cli(['adopt', dir, '--on', db.url])
  expect(answer.status, answer.err).toBe(0)
  return db
}
const status = (dir: string, db: Database) => JSON.parse(cli(['status', dir, '--on', db.url, '--json']).out) as { state: string; done: number; steps: number }[]
const journal = (db: Database) =>
  rowsOf<{ step: number; state: string; n: number }>(
    db.name,
    `select step, state, count(*)::int as n from pelvok_journal.line where plan = 2 group by step, state order by step, state`,
  )

/** How many lines of the journal say that a step was begun. */
const begun = async (db: Database): Promise<number> =>
  (await rowsOf<{ n: number }>(db.name, `select count(*)::int as n from pelvok_journal.line where plan = 2 and state = 'started'`))[0]?.n ?? 0
/** Until more than so many have been, or the process has ended; asked without a pause, so that the step may still run. */
async function begunBeyond(db: Database, n: number, ended: Promise<unknown>): Promise<void> {
  let over = false
  void ended.then(() => {
    over = true
  })
  const client = new pg.Client({ connectionString: db.url })
  await client.connect()
  try {
    const count = `select count(*)::int as n from pelvok_journal.line where plan = 2 and state = 'started'`
    while (!over && ((await client.query<{ n: number }>(count)).rows[0]?.n ?? 0) <= n);
  } finally {
    await client.end()
  }
}

/** Start applying and give the process, so that it can be ended. */
const start = (dir: string, db: Database): { readonly child: ChildProcess; readonly ended: Promise<number | null> } => {
  const child = spawn(process.execPath, ['dist/cli.js', 'apply', dir, '--to', db.url], { stdio: 'ignore' })
  return { child, ended: new Promise((resolve) => child.once('exit', (code) => resolve(code))) }
}

const isWhole = async (dir: string, db: Database) => {
  expect(status(dir, db).map((s) => s.state)).toEqual(['adopted', 'applied'])
  expect(cli(['drift', dir, db.url]).out).toBe('no drift\n')
  expect(await rowsOf(db.name, 'select indexrelid::regclass::text as broken from pg_index where not indisvalid')).toEqual([])
  const lines = await journal(db)
  const done = lines.filter((l) => l.state === 'done')
  expect(done.every((l) => l.n === 1)).toBe(true)
  expect(done.length).toBe(status(dir, db)[1]?.steps)
}

let dir = ''
beforeAll(async () => {
  dir = await plansFor('whole', wished)
  expect(readdirSync(dir)).toEqual(['0001-baseline', '0002-everything-at-once'])
})

describe('applying', () => {
  it('goes on after SIGKILL between and within statements, as often as it takes', async () => {
    const db = await adopted(dir)
    try {
      let kills = 0
      // Each comes a step or two further than the one before: as the journal has a step begun, it is killed within it or just behind.
      for (let round = 0; ; round += 1) {
        const before = await begun(db)
        const { child, ended } = start(dir, db)
        if (round < 7) {
          await begunBeyond(db, before + (round % 3), ended)
          child.kill('SIGKILL')
        }
        const code = await ended
        if (code === 0) break
        kills += 1
        // A server finds out that its client is gone when it next looks; until then the lock is held.
        await admin('postgres', `select pg_terminate_backend(pid) from pg_stat_activity where datname = '${db.name}'`)
      }
      expect(kills).toBeGreaterThan(3)
      await isWhole(dir, db)
    } finally {
      await db.drop()
    }
  })

  it('goes on after the server ended its session', async () => {
    const db = await adopted(dir)
    try {
      let ends = 0
      const session = `datname = '${db.name}' and application_name = 'pelvok apply'`
      for (let round = 0; round < 30; round += 1) {
        const before = await begun(db)
        const { ended } = start(dir, db)
        if (ends < 5) {
          await begunBeyond(db, before + (round % 2), ended)
          await admin('postgres', `select pg_terminate_backend(pid) from pg_stat_activity where ${session}`)
        }
        const code = await ended
        if (code === 0) break
        expect([1, 3]).toContain(code)
        ends += 1
      }
      expect(ends).toBeGreaterThan(1)
      await isWhole(dir, db)
    } finally {
      await db.drop()
    }
  })

  it('tells of a plan that was never rehearsed, and refuses one whose rehearsal failed until somebody agrees', async () => {
    const own = await plansFor('unproven', wished)
    const db = await filled()
    try {
      const first = cli(['adopt', own, '--on', db.url])
      expect([first.status, first.err]).toEqual([0, expect.stringContaining('0001-baseline is not proven: it was never rehearsed as it is now')])
      const two = join(own, '0002-everything-at-once')
      const up = readFileSync(join(two, 'up.sql'), 'utf8')
      writeFileSync(join(two, 'up.sql'), up.replace(/^COMMIT;$/m, 'create table of_nobody (a int);\nCOMMIT;'))
      expect(cli(['rehearse', own, '--on', `${adminUrl}/postgres`]).status).toBe(1)
      const refused = cli(['apply', own, '--to', db.url])
      expect(refused.status).toBe(1)
      expect(refused.err).toMatch(/0002-everything-at-once is not proven: it failed its last rehearsal: \d+ differences from what is planned/)
      expect(await rowsOf(db.name, `select 1 from pg_class where relname = 'of_nobody'`)).toEqual([])
      // What stood there is another plan, and never rehearsed.
      writeFileSync(join(two, 'up.sql'), up)
      const agreed = cli(['apply', own, '--to', db.url, '--unproven'])
      expect(agreed.status, agreed.err).toBe(0)
      const kept = await rowsOf<{ number: number; unproven: string }>(db.name, 'select number, unproven from pelvok_journal.plan order by number')
      expect(kept).toEqual([
        { number: 1, unproven: 'was never rehearsed as it is now' },
        { number: 2, unproven: 'was never rehearsed as it is now; agreed to' },
      ])
      expect(cli(['status', own, '--on', db.url]).out).toContain('it was never rehearsed as it is now; agreed to')
    } finally {
      await db.drop()
    }
  })

  it('says nothing of a plan that is proven, also in a journal from before proofs', async () => {
    const own = await plansFor('proven', wished)
    expect(cli(['rehearse', own, '--on', `${adminUrl}/postgres`]).status).toBe(0)
    const db = await filled()
    try {
      const first = cli(['adopt', own, '--on', db.url])
      expect([first.status, first.err]).toEqual([0, ''])
      await admin(db.name, 'alter table pelvok_journal.plan drop column unproven')
      expect(status(own, db).map((s) => s.state)).toEqual(['adopted', 'not applied'])
      const second = cli(['apply', own, '--to', db.url])
      expect([second.status, second.err]).toEqual([0, expect.not.stringContaining('not proven')])
      await isWhole(own, db)
    } finally {
      await db.drop()
    }
  })

  it('is done once by two at a time: one waits', async () => {
    const db = await adopted(dir)
    try {
      const codes = await Promise.all([start(dir, db).ended, start(dir, db).ended])
      expect(codes).toEqual([0, 0])
      await isWhole(dir, db)
      expect((await journal(db)).filter((l) => l.state === 'started').every((l) => l.n === 1)).toBe(true)
    } finally {
      await db.drop()
    }
  })

  it('waits for a lock a while, and tries again', async () => {
    const db = await adopted(dir)
    const other = new pg.Client({ connectionString: db.url })
    await other.connect()
    try {
      // Rows are read, as the checks beforehand do; nothing is changed.
      await other.query('begin; lock table bay in share row exclusive mode')
      const answer = new Promise<number | null>((resolve) => {
        spawn(process.execPath, ['dist/cli.js', 'apply', dir, '--to', db.url, '--lock-timeout', '3000', '--json'], { stdio: 'ignore' }).once('exit', resolve)
      })
      // It waits, gives up, and waits again: since another time.
      const since = async () =>
        (
          await rowsOf<{ at: string }>(
            db.name,
            `select query_start::text as at from pg_stat_activity where application_name = 'pelvok apply' and datname = current_database() and wait_event_type = 'Lock'`,
          )
        )[0]?.at ?? ''
      const first = await eventually('waiting for the lock', since)
      await eventually('waiting again', async () => ![first, ''].includes(await since()))
      await other.query('commit')
      expect(await answer).toBe(0)
      await isWhole(dir, db)
      // Where nobody lets go it ends, and has done nothing by halves. What a way back would drop is looked at beforehand, too.
      await other.query('begin; lock table bay in share row exclusive mode')
      const given = cli(['apply', dir, '--to', db.url, '--down-to', '1', '--lock-timeout', '100', '--lock-tries', '2'])
      expect(given.status).toBe(1)
      expect(given.err).toContain('55P03')
    } finally {
      await other.end()
      await db.drop()
    }
  })

  it('finds an index that was left half built, drops it and builds it again', async () => {
    const db = await adopted(dir)
    try {
      await admin(db.name, `insert into bay select 20000 + i, 'same', 1, 1, 'n' from generate_series(1, 2) i`)
      const refused = cli(['apply', dir, '--to', db.url])
      expect(refused).toMatchObject({ status: 1, err: expect.stringContaining('Is every code in public.bay there once? No, 1 in the way') })
      // The pre-check is passed, and only then the rows come.
      await admin(db.name, `delete from bay where id > 20000`)
      const plan = JSON.parse(readFileSync(join(dir, '0002-everything-at-once', 'plan.json'), 'utf8')) as {
        steps: { number: number; object: string; up: string[] }[]
      }
      const step = plan.steps.find((s) => s.up[0]?.startsWith('CREATE UNIQUE INDEX CONCURRENTLY bay_code_key'))
      expect(step).toBeDefined()
      const first = start(dir, db)
      for (;;) {
        const begun = await rowsOf<{ n: number }>(db.name, `select count(*)::int as n from pg_class where relname = 'bay_code_key'`)
        if (begun[0]?.n) break
      }
      first.child.kill('SIGKILL')
      await first.ended
      await admin('postgres', `select pg_terminate_backend(pid) from pg_stat_activity where datname = '${db.name}'`)
      expect(cli(['apply', dir, '--to', db.url]).status).toBe(0)
      await isWhole(dir, db)
    } finally {
      await db.drop()
    }
  })

  it('goes back, and up again, and leaves rows and schema as they were', async () => {
    const db = await adopted(dir)
    const sum = () => rowsOf(db.name, `select md5(string_agg(t::text, '|' order by id)) as h from (select id, bay_id, kind, weight, tag from crate) t`)
    try {
      const before = await sum()
      expect(cli(['apply', dir, '--to', db.url]).status).toBe(0)
      const down = cli(['apply', dir, '--to', db.url, '--down-to', '1'])
      expect(down.status, down.err).toBe(0)
      expect(status(dir, db).map((s) => s.state)).toEqual(['adopted', 'not applied'])
      expect(cli(['drift', join(dir, '0001-baseline'), db.url]).out).toBe('no drift\n')
      expect(cli(['apply', dir, '--to', db.url]).status).toBe(0)
      expect(await sum()).toEqual(before)
      expect(cli(['apply', dir, '--to', db.url]).out).toBe('nothing to do\n')
    } finally {
      await db.drop()
    }
  })
})

describe('what is refused', () => {
  it('a baseline where the schema is another one, with the differences', async () => {
    const db = await makeDatabase(schema, 'alter table bay drop column depth; create table more (id int)')
    try {
      const answer = cli(['adopt', dir, '--on', db.url])
      expect(answer.status).toBe(1)
      expect(answer.err).toContain('the database is not what 0001-baseline expects')
      expect(answer.err).toMatch(/columns\[depth\]|relation public\.more/)
      expect(cli(['drift', dir, db.url]).status).toBe(1)
      expect(await rowsOf(db.name, `select 1 from pg_namespace where nspname = 'pelvok_journal'`)).toEqual([])
    } finally {
      await db.drop()
    }
  })

  it('a plan where something drifted meanwhile, told in both directions', async () => {
    const db = await adopted(dir)
    try {
      await admin(db.name, 'alter table bay drop column note', 'create table extra (id int)')
      const answer = cli(['apply', dir, '--to', db.url])
      expect(answer).toMatchObject({ status: 1, out: '' })
      expect(answer.err).toContain('the database is not what 0002-everything-at-once expects')
      const drift = cli(['drift', join(dir, '0001-baseline'), db.url, '--json'])
      expect(JSON.parse(drift.out).items.map((i: { where: string; object: string; field: string }) => [i.where, i.object, i.field])).toEqual(
        [
          ['only in the database', 'relation public.extra', ''],
          ['missing in the database', 'relation public.bay', 'columns[note]'],
        ].toSorted((a, b) => ((a[1] as string) < (b[1] as string) ? -1 : 1)),
      )
    } finally {
      await db.drop()
    }
  })

  it('files that were changed after they were applied, with what changed; a number given twice; a plan nobody knows here', async () => {
    const own = await plansFor('changed', `${schema} alter table bay add column more integer;`)
    const db = await adopted(own)
    try {
      expect(cli(['apply', own, '--to', db.url]).status).toBe(0)
      const folder = join(own, '0002-everything-at-once')
      const up = readFileSync(join(folder, 'up.sql'), 'utf8')
      writeFileSync(join(folder, 'up.sql'), up.replace('ADD COLUMN more integer;', 'ADD COLUMN more bigint;'))
      const changed = cli(['apply', own, '--to', db.url])
      expect(changed).toMatchObject({ status: 1, err: expect.stringContaining('0002-everything-at-once was changed after it was applied') })
      expect(cli(['status', own, '--on', db.url]).out).toContain('0002-everything-at-once: changed')
      writeFileSync(join(folder, 'up.sql'), up)
      renameSync(folder, join(own, '0002-of-another-branch'))
      expect(cli(['apply', own, '--to', db.url]).err).toContain('number 2 was applied as "everything-at-once", and here it is "of-another-branch"')
      mkdirSync(join(own, '0002-everything-at-once'))
      expect(cli(['status', own, '--on', db.url])).toMatchObject({
        status: 2,
        err: expect.stringContaining('"0002-everything-at-once" and "0002-of-another-branch" have one number'),
      })
      rmSync(join(own, '0002-everything-at-once'), { recursive: true })
      rmSync(join(own, '0002-of-another-branch'), { recursive: true })
      expect(cli(['apply', own, '--to', db.url]).err).toContain('the database has 0002-everything-at-once, which this folder does not know')
    } finally {
      await db.drop()
    }
  })

  it('to lose what has no way back, unless that is said', async () => {
    const own = await plansFor('lossy', schema.replace(', note text', '').replace('width integer', 'width integer'))
    const db = await adopted(own)
    try {
      const made = readFileSync(join(own, '0002-everything-at-once', 'up.sql'), 'utf8')
      expect(made).toContain('-- Hazard: column public.bay.note: what it holds is lost')
      expect(cli(['apply', own, '--to', db.url]).status).toBe(0)
      expect(cli(['apply', own, '--to', db.url, '--down-to', '1']).status).toBe(0)
      expect(await rowsOf(db.name, 'select count(note)::int as n from bay')).toEqual([{ n: 0 }])
      const typed = await plansFor('typed', `${schema} create type mood as enum ('low');`)
      const more = join(work, 'more')
      mkdirSync(more)
      const [a, b] = [await makeDatabase(`create type mood as enum ('low')`), await makeDatabase(`create type mood as enum ('low', 'high')`)]
      expect(typed).toContain('typed')
      cli(['plan', '--from', a.url, '--to', b.url, '--out', more])
      await b.drop()
      expect(cli(['apply', more, '--to', a.url]).status).toBe(0)
      expect(cli(['apply', more, '--to', a.url, '--down-to', '0'])).toMatchObject({ status: 1, err: expect.stringContaining('has steps without a way back') })
      expect(cli(['apply', more, '--to', a.url, '--down-to', '0', '--accept-loss']).status).toBe(0)
      await a.drop()
    } finally {
      await db.drop()
    }
  })

  it('a database whose role may not write the journal', async () => {
    const db = await filled()
    const role = `r_${process.pid}`
    try {
      await admin(db.name, `create role ${role} login password 'x'`, `grant pg_read_all_data to ${role}`)
      const url = db.url.replace(/\/\/[^@]*@/, `//${role}:x@`)
      expect(cli(['adopt', dir, '--on', url])).toMatchObject({ status: 1, err: expect.stringContaining(`"${role}" may not change`) })
    } finally {
      await db.drop()
      await admin('postgres', `drop role ${role}`)
    }
  })
})

describe('a plan edited by hand', () => {
  it('is kept, rehearsed and applied as it is written', async () => {
    const own = await plansFor('edited', `${schema} alter table bay add column more integer;`)
    const file = join(own, '0002-everything-at-once', 'up.sql')
    writeFileSync(file, readFileSync(file, 'utf8').replace('ADD COLUMN more integer;', 'ADD COLUMN more integer;\nUPDATE public.bay SET more = width;'))
    const db = await adopted(own)
    try {
      const rehearsed = cli(['rehearse', join(own, '0002-everything-at-once'), '--on', db.url, '--rows-from', db.url, '--rows', '50'])
      expect(rehearsed.status, rehearsed.out + rehearsed.err).toBe(0)
      expect(rehearsed.out).toContain('with 100 rows')
      expect(cli(['apply', own, '--to', db.url]).status).toBe(0)
      expect(await rowsOf(db.name, 'select count(*)::int as n from bay where more = width')).toEqual([{ n: 20_000 }])
      writeFileSync(file, readFileSync(file, 'utf8').replace(/^-- 1\..*$/m, '--'))
      expect(cli(['status', own, '--on', db.url])).toMatchObject({ status: 2, err: expect.stringContaining('a statement stands where -- 1. belongs') })
    } finally {
      await db.drop()
    }
  })
})

it('the journal is no part of what is surveyed', async () => {
  const db = await filled()
  try {
    const before = (await surveyOf(db.location)).structure
    expect(cli(['adopt', dir, '--on', db.url]).status).toBe(0)
    expect((await surveyOf(db.location)).structure).toEqual(before)
  } finally {
    await db.drop()
  }
})
