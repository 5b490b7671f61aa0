// Rows for tests on a real server: stored, read back through the emitted stores, from CSV, as SQL and as TypeScript that compiles and runs.
import { mkdtempSync, readdirSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { build } from 'esbuild'
import pg from 'pg'
import { afterAll, describe, expect, it } from 'vitest'
import { type Catalog, canonicalText, hashText } from '../../src/core/catalog/index.ts'
import { emitTypeScript, fixturesTypeScript } from '../../src/core/emit/typescript/index.ts'
import { fixtureCsv, fixtureProblemLine, generateFixtures, type NamedFixtures, namedFixtures, readFixtures } from '../../src/core/fixtures/index.ts'
import type { EntityModel } from '../../src/core/model/index.ts'
import { review } from '../../src/core/review/index.ts'
import { parseUrl } from '../../src/engines/postgres/index.ts'
import { checkFixtures, runApart } from '../../src/server/fixtures.ts'
import { compile, inCodeFolder, writeFiles } from '../support/compile.ts'
import { postgres } from '../support/plans.ts'
import { randomScript } from '../support/random.ts'
import { adminLocation, cli, loadScript, makeDatabase, urlOf } from '../support/server.ts'

const work = mkdtempSync(join(tmpdir(), 'pelvok-fixtures-'))
afterAll(() => rmSync(work, { recursive: true }))

const reviewed = (catalog: Catalog) => review(catalog, hashText(canonicalText(catalog)), [])
const locationOf = (url: string) => {
  const parsed = parseUrl(url)
  if (!parsed.ok) throw new Error(parsed.problem)
  return parsed.location
}
const put = (name: string, text: string) => {
  writeFileSync(join(work, name), text)
  return join(work, name)
}

describe('generated rows, stored and read back', () => {
  const scripts = [
    ['the demo', readFileSync('demo/schema.sql', 'utf8')],
    ['a schema of the corpus', readFileSync('../shared/corpus/biosql-pg/normalized.sql', 'utf8')],
    ...[3].map((seed) => [`a random schema, seed ${seed}`, randomScript(seed)] as const),
  ] as const
  it.each(scripts)('of %s come back as they were', async (_, script) => {
    const catalog = postgres(script)
    const { model, revision } = reviewed(catalog)
    const own = await makeDatabase()
    try {
      loadScript(own.url, put('schema.sql', script))
      const f = namedFixtures(catalog, model, generateFixtures(catalog, 5, 6))
      const report = await checkFixtures(locationOf(own.url), f, model, revision)
      expect(report.failure).toBeNull()
      expect(report.differences).toEqual([])
      expect(report.stored).toBe(f.rows.length)
      expect(report.compared).toBe(f.rows.length)
      expect(report.left).toEqual(f.left)
    } finally {
      await own.drop()
    }
  })

  it('tells what the database made otherwise of a value', async () => {
    const script = `CREATE TABLE bay (id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY, label text NOT NULL UNIQUE, weight numeric(6,2));
      CREATE FUNCTION louder() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN NEW.label := upper(NEW.label); RETURN NEW; END $$;
      CREATE TRIGGER louder BEFORE INSERT ON bay FOR EACH ROW EXECUTE FUNCTION louder();`
    const catalog = postgres(script)
    const { model, revision } = reviewed(catalog)
    const own = await makeDatabase()
    try {
      loadScript(own.url, put('louder.sql', script))
      const read = readFixtures(catalog, model, [{ path: 'Bay.csv', text: 'label,weight\nNorth,1.5\n' }])
      if (!read.ok) throw new Error(read.problems.map(fixtureProblemLine).join('\n'))
      const report = await checkFixtures(locationOf(own.url), namedFixtures(catalog, model, read.fixtures), model, revision)
      expect(report.ok).toBe(false)
      expect(report.differences.map((d) => d.says)).toEqual(['label was stored as North and read as NORTH'])
    } finally {
      await own.drop()
    }
  })
})

describe('rows as TypeScript', () => {
  it('compile with the emitted code, and are stored by its stores', async () => {
    const script = readFileSync('demo/schema.sql', 'utf8')
    const catalog = postgres(script)
    const { model, revision } = reviewed(catalog)
    const f = namedFixtures(catalog, model, generateFixtures(catalog, 5, 4))
    const code = fixturesTypeScript(f, model)
    // Tables without a key have read-only classes.
    expect(code.left.every((l) => /read-only/.test(l.why))).toBe(true)
    const own = await makeDatabase()
    try {
      loadScript(own.url, put('schema.sql', script))
      await inCodeFolder(async (dir) => {
        writeFiles(dir, emitTypeScript(model, revision))
        writeFileSync(join(dir, 'fixtures.ts'), code.text)
        writeFileSync(
          join(dir, 'index.ts'),
          `${readFileSync(join(dir, 'index.ts'), 'utf8')}export * from './fixtures.js'\nexport { connect } from './base/db.js'\n`,
        )
        compile(dir)
        const outfile = resolve(dir, 'all.mjs')
        await build({ entryPoints: [join(dir, 'index.ts')], bundle: true, format: 'esm', platform: 'node', packages: 'external', outfile, logLevel: 'error' })
        const m = (await import(pathToFileURL(outfile).href)) as {
          readonly connect: (c: pg.PoolConfig) => pg.Pool
          readonly storeFixtures: (on: pg.Pool) => Promise<Readonly<Record<string, object>>>
        }
        const pool = m.connect({ connectionString: own.url })
        const stored = await m.storeFixtures(pool)
        await pool.end()
        const client = new pg.Client({ connectionString: own.url })
        await client.connect()
        const hives = (await client.query<{ n: number }>('select count(*)::int as n from field.hive')).rows[0]?.n
        const links = (await client.query<{ n: number }>('select count(*)::int as n from coop.committee_member')).rows[0]?.n
        await client.end()
        expect(hives).toBe(Object.keys(stored).filter((name) => name.startsWith('hive') && !/^hive(Treatment|Overview)/.test(name)).length)
        expect(links).toBe(f.rows.filter((r) => r.relation === 'coop.committee_member').length)
      })
    } finally {
      await own.drop()
    }
  })
})

describe('rows that people write', () => {
  const script = `CREATE TYPE site AS ENUM ('north', 'south');
    CREATE TABLE bay (id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY, label varchar(6) NOT NULL UNIQUE, site site);
    CREATE TABLE crate (id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY, bay_id integer NOT NULL REFERENCES bay, no smallint NOT NULL CHECK (no > 0), packed date, UNIQUE (bay_id, no));
    CREATE TABLE seal (id bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY, crate_id bigint NOT NULL REFERENCES crate, said text);`
  const catalog = postgres(script)
  const { model, revision } = reviewed(catalog)
  const files = (crates: string, seals = 'crate.bay.label,crate.no,said\nA1,1,"a ""word"", and more"\n') => [
    { path: '2-Seal.csv', text: seals },
    { path: '1-Crate.csv', text: crates },
    { path: 'Bay.csv', text: 'label,site\nA1,north\nB2,NULL\n' },
  ]
  const told = (...f: readonly { path: string; text: string }[]) => {
    const read = readFixtures(catalog, model, f)
    return read.ok ? [] : read.problems.map(fixtureProblemLine)
  }

  it('name other rows by what tells them apart, over several tables', async () => {
    const read = readFixtures(catalog, model, files('bay.label,no,packed\nA1,1,2026-01-31\nB2,1,\n'))
    if (!read.ok) throw new Error(read.problems.map(fixtureProblemLine).join('\n'))
    const f = namedFixtures(catalog, model, read.fixtures)
    expect(fixtureCsv(f).map((x) => x.path)).toEqual(['1-Bay.csv', '2-Crate.csv', '3-Seal.csv'])
    const own = await makeDatabase()
    try {
      loadScript(own.url, put('yard.sql', script))
      expect(await checkFixtures(locationOf(own.url), f, model, revision)).toMatchObject({ ok: true, stored: 5, compared: 5, classes: 3 })
    } finally {
      await own.drop()
    }
  })

  it('are refused with file and line, everything at once', () => {
    expect(told(...files('bay.label,no,packed\nA1,0,2026-13-01\nC3,70000,\nA1,,\nA1,1\n'))).toEqual(['1-Crate.csv:5: it has 2 fields, and the first line 3'])
    expect(told(...files('bay.label,no,packed\nA1,0,2026-13-01\nC3,70000,\nA1,,\n', 'said\nx\n'))).toEqual([
      '2-Seal.csv:2: crateId needs a value',
      '1-Crate.csv:2: packed: "2026-13-01" is no date such as 2026-04-30',
      '1-Crate.csv:2: the check crate_no_check refuses it',
      '1-Crate.csv:3: bay: no row has label C3; did you mean A1 or B2?',
      '1-Crate.csv:3: no: "70000" does not fit smallint',
      '1-Crate.csv:4: no needs a value',
    ])
    expect(told({ path: 'Bay.csv', text: 'lable,site\nA1,north\n' }, { path: 'Crat.csv', text: 'no\n1\n' })).toEqual([
      'Bay.csv:1: Bay has no property lable; did you mean label?',
      'Crat.csv:1: there is no class Crat that rows could be of; did you mean Crate?',
    ])
    expect(told({ path: 'Bay.csv', text: 'label,site\nA1,west\nA1,north\nlonger than six,"open\n' })).toEqual(['Bay.csv:4: a quote is opened and not closed'])
    expect(told({ path: 'Bay.csv', text: 'label,site,id\nA1,west,\nA1,north,3\n' })).toEqual([
      'Bay.csv:2: site: "west" is none of north, south',
      'Bay.csv:3: id is given by the database only',
      'Bay.csv:3: another row has the same label: Bay.csv, line 2',
    ])
  })
})

describe('the process that runs emitted stores', () => {
  it('has no variables, reads no other file, writes none, and starts nothing', async () => {
    const dir = realpathSync(mkdtempSync(join(tmpdir(), 'pelvok-apart-')))
    try {
      const code = join(dir, 'code.cjs')
      writeFileSync(
        code,
        `const tried = (work) => { try { return 'did ' + work() } catch (error) { return error.code } }
        exports.connect = () => { throw new Error(JSON.stringify([
          Object.keys(process.env).filter((k) => k !== 'NODE_CHANNEL_FD' && k !== 'NODE_CHANNEL_SERIALIZATION_MODE'),
          tried(() => require('node:fs').readFileSync('/etc/passwd')),
          tried(() => require('node:fs').readFileSync(${JSON.stringify(join(process.cwd(), 'package.json'))})),
          tried(() => require('node:fs').writeFileSync(${JSON.stringify(join(dir, 'new'))}, 'x')),
          tried(() => require('node:child_process').execFileSync('true')),
          tried(() => new (require('node:worker_threads').Worker)('1', { eval: true })),
        ])) }`,
      )
      process.env['PELVOK_SOURCE_SECRET'] = 'not theirs'
      const found = await runApart(dir, { code, on: adminLocation(), fixtures: {} as NamedFixtures, model: {} as EntityModel })
      expect(found).toEqual({ is: 'failed', said: JSON.stringify([[], ...Array(5).fill('ERR_ACCESS_DENIED')]) })
      writeFileSync(code, 'process.exit(7)')
      expect(await runApart(dir, { code, on: adminLocation(), fixtures: {} as NamedFixtures, model: {} as EntityModel })).toEqual({
        is: 'failed',
        said: 'the process that ran them ended (exit status 7)',
      })
    } finally {
      rmSync(dir, { recursive: true })
    }
  })
})

describe('pelvok fixtures and rehearse --fixtures', () => {
  it('go from a schema to rows in a rehearsal', () => {
    const demo = 'demo/schema.sql'
    const sql = cli(['fixtures', demo, '--each', '2', '--seed', '4'])
    expect(sql.status).toBe(0)
    expect(sql.out).toBe(cli(['fixtures', demo, '--each', '2', '--seed', '4']).out)
    expect(sql.out).toContain('INSERT INTO field.hive (apiary_id, hive_no')
    const dir = join(work, 'rows')
    expect(cli(['fixtures', demo, '--as', 'csv', '--each', '3', '--out', dir]).status).toBe(0)
    expect(readdirSync(dir).length).toBeGreaterThan(30)
    expect(cli(['fixtures', demo, '--from', dir, '--as', 'typescript']).out).toContain('export async function storeFixtures(on: Db)')
    const plans = join(work, 'plans')
    expect(cli(['plan', '--from', 'empty', '--to', demo, '--out', plans]).status).toBe(0)
    const rehearsal = cli(['rehearse', plans, '--on', urlOf(adminLocation()), '--fixtures', dir])
    expect(rehearsal.out).toContain('read back through the emitted stores, all as they were')
    expect(rehearsal.status).toBe(0)
    writeFileSync(join(dir, '99-Hive.csv'), 'hiveNo\nmany\n')
    expect(cli(['fixtures', demo, '--from', dir]).err).toMatch(/99-Hive\.csv:2: hiveNo: "many" is no whole number/)
  })
})
