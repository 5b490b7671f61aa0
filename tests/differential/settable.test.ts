// What a server keeps for itself is no structure: the lists of options that can be set against the server, dumps restored elsewhere,
// and entries that nobody set, written straight into the catalogs.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, describe, expect, it } from 'vitest'
import { canonicalText } from '../../src/core/catalog/index.ts'
import { baselinePlan, describePlanProblem, downScript, upScript } from '../../src/core/change/index.ts'
import { compareWithServer } from '../../src/core/ddl/index.ts'
import { optionName, settableNames } from '../../src/core/dialect/postgres/settable.ts'
import { driftItems } from '../../src/core/lineage/index.ts'
import { connect } from '../../src/engines/postgres/connect.ts'
import { adoptPlan } from '../../src/engines/postgres/index.ts'
import { corpusPath, corpusScripts, tortureOf } from '../support/scripts.ts'
import { admin, adminUrl, cli, loadScript, makeDatabase, surveyOf, versionOf } from '../support/server.ts'

const work = mkdtempSync(join(tmpdir(), 'pelvok-settable-'))
afterAll(() => rmSync(work, { recursive: true, force: true }))

/** Our script of everything has what came with 15. */
const torture = (await versionOf()) >= 15 ? [tortureOf('postgresql')] : []

const things = `
  create table t (a int, b text, c point, d int[], e tsvector);
  create table p (a int) partition by range (a);
  create view v as select * from t;
  create index btree_x on t (a); create index hash_x on t using hash (a); create index gist_x on t using gist (c);
  create index spgist_x on t using spgist (c); create index gin_x on t using gin (d); create index brin_x on t using brin (a)`

/** What is altered, by what options hang on. */
const altered: Readonly<Record<string, string>> = {
  column: 'table t alter a',
  table: 'table t',
  'partitioned table': 'table p',
  view: 'view v',
  ...Object.fromEntries(['btree', 'hash', 'gist', 'spgist', 'gin', 'brin'].map((m) => [m, `index ${m}_x`])),
}

/** Some value that an option takes: each is tried. */
const values = ['false', '100', '256', '0.1', '200000000', 'auto', 'local']

const stored = `select unnest(attoptions) as option from pg_attribute where attrelid = 't'::regclass union all select unnest(reloptions) from pg_class where oid >= 16384
  union all select 'toast.' || unnest(reloptions) from pg_class where relkind = 't'`

describe('the lists of options that can be set', () => {
  it('are what this server takes: all that are old enough, and none that is not on them', async () => {
    const db = await makeDatabase(things)
    const client = await connect(db.location)
    try {
      const names = [...new Set(Object.values(settableNames).flatMap((known) => Object.keys(known)))].filter(
        (n) => !(n in (settableNames['operator class'] ?? {})),
      )
      const takes = async (what: string, name: string): Promise<boolean> => {
        for (const value of values) {
          const set = await client.query(`alter ${what} set (${name} = ${value})`).then(
            () => true,
            () => false,
          )
          if (!set) continue
          const { rows } = await client.query<{ option: string }>(stored)
          await client.query(`alter ${what} reset (${name})`)
          return rows.some((r) => optionName(r.option) === name)
        }
        return false
      }
      const wrong: string[] = []
      const version = await versionOf()
      for (const [kind, what] of Object.entries(altered))
        for (const name of names) {
          const known = (settableNames[kind]?.[name] ?? 99) <= version
          if ((await takes(what, name)) !== known)
            wrong.push(`${kind} ${name}: ${known ? 'listed, and the server does not keep it' : 'kept by the server, and not listed'}`)
        }
      expect(wrong).toEqual([])
      expect(Object.keys(settableNames).filter((k) => !(k in altered))).toEqual(['operator class'])
    } finally {
      await client.end()
      await db.drop()
    }
  })

  it('of operator classes are taken where this server has them', async () => {
    const version = await versionOf()
    const db = await makeDatabase(
      'create table t (a int, e tsvector)',
      'create index g on t using gist (e tsvector_ops (siglen = 100))',
      ...(version >= 14
        ? [
            'create index b on t using brin (a int4_bloom_ops (n_distinct_per_range = 100, false_positive_rate = 0.05))',
            'create index m on t using brin (a int4_minmax_multi_ops (values_per_range = 16))',
          ]
        : []),
    )
    try {
      const { structure } = await surveyOf(db.location)
      const options = structure.relations[0]?.indexes.flatMap((x) => x.columns.flatMap((c) => c.operatorClassOptions)) ?? []
      expect(options).toEqual([
        ...(version >= 14 ? ['n_distinct_per_range=100', 'false_positive_rate=0.05'] : []),
        'siglen=100',
        ...(version >= 14 ? ['values_per_range=16'] : []),
      ])
    } finally {
      await db.drop()
    }
  })
})

describe('what the server keeps for itself', () => {
  it('is in no snapshot and no difference; it is told once, by name and count', async () => {
    const setUp = [
      things,
      `create function f() returns int language sql set search_path = public as 'select 1'`,
      `alter table t alter a set (n_distinct = 5), set (fillfactor = 70)`,
    ]
    const [plain, kept] = [await makeDatabase(...setUp), await makeDatabase(...setUp)]
    try {
      await admin(
        kept.name,
        `update pg_attribute set attoptions = coalesce(attoptions, '{}') || '{keeper_mark=17}' where attrelid in ('t'::regclass, 'v'::regclass) and attnum > 0`,
        `update pg_class set reloptions = coalesce(reloptions, '{}') || '{keeper_mark=18}' where relname in ('t', 'v', 'btree_x', 'brin_x')`,
        `update pg_proc set proconfig = proconfig || '{keeper_setting=it''s 19}' where proname = 'f'`,
      )
      const before = await surveyOf(plain.location)
      const after = await surveyOf(kept.location)
      expect(canonicalText(after.structure)).toBe(canonicalText(before.structure))
      const own = after.reading.ownOptions?.filter((o) => o.name.startsWith('keeper_'))
      expect(own).toEqual([
        { kind: 'column', name: 'keeper_mark', count: 10 },
        { kind: 'index', name: 'keeper_mark', count: 2 },
        { kind: 'routine', name: 'keeper_setting', count: 1 },
        { kind: 'table', name: 'keeper_mark', count: 1 },
        { kind: 'view', name: 'keeper_mark', count: 1 },
      ])
      const t = after.structure.relations.find((r) => r.name === 't')
      expect([t?.options, t?.columns[0]?.options]).toEqual([['fillfactor=70'], ['n_distinct=5']])
      expect(cli(['drift', plain.url, kept.url])).toMatchObject({ status: 0, out: 'no drift\n' })
      const script = cli(['plan', '--from', 'empty', '--to', kept.url])
      expect(script.out).not.toContain('keeper_')
    } finally {
      await plain.drop()
      await kept.drop()
    }
  })

  it('does not tell two tables apart that were made alike', async () => {
    const db = await makeDatabase(
      'create schema s',
      'create table public.t (a int primary key, b text default 1)',
      'create table s.t (a int primary key, b text default 1)',
    )
    try {
      const { structure } = await surveyOf(db.location)
      const [a, b] = structure.relations.map((r) => JSON.stringify({ ...r, schema: '' }))
      expect(a).toBe(b)
    } finally {
      await db.drop()
    }
  })
})

/** pg_dump refuses servers that are newer than itself: then the script is run twice. */
function copyOf(from: string, to: string, script: string): void {
  try {
    const dump = execFileSync('pg_dump', ['--schema-only', '--no-owner', from], { maxBuffer: 1 << 28, stdio: ['ignore', 'pipe', 'pipe'] })
    execFileSync('psql', ['-X', '-q', to], { input: dump, stdio: ['pipe', 'ignore', 'ignore'] })
  } catch (error) {
    if (!String((error as { stderr?: Buffer }).stderr).includes('server version mismatch')) throw error
    loadScript(to, script)
  }
}

describe('a dump restored elsewhere is the same schema', () => {
  it.each(['demo/schema.sql', ...torture, ...corpusScripts('pg').map(corpusPath)].map((path, i) => [path, i] as const))('%s', async (path, i) => {
    const [source, copy] = [await makeDatabase(), await makeDatabase()]
    try {
      loadScript(source.url, path)
      copyOf(source.url, copy.url, path)
      // A dump says NOT VALID of a check once its children are there: their own copies, which were valid, are not any more.
      if (path === tortureOf('postgresql')) await admin(copy.name, 'alter table only depot.child validate constraint note_is_short').catch(() => {})
      const [a, b] = [(await surveyOf(source.location)).structure, (await surveyOf(copy.location)).structure]
      expect(driftItems(a, b)).toEqual([])
      expect(compareWithServer(a, b).differences.filter((d) => !d.field.endsWith('columns order'))).toEqual([])
      const made = baselinePlan(a)
      if (!made.ok) throw new Error(describePlanProblem(made.problem))
      const { plan } = made
      const files = { number: 1, name: 'baseline', plan, up: upScript(plan, null), down: downScript(plan, null), base: null, expected: a, proof: null }
      expect(await adoptPlan(copy.location, files, { unproven: 'agree' })).toMatchObject({ ok: true, refusal: null })
      if (i > 0) return
      // The same by the command line, once.
      expect(cli(['drift', source.url, copy.url]).out).toBe('no drift\n')
      const dir = join(work, 'demo')
      expect(cli(['plan', '--from', 'empty', '--to', source.url, '--out', dir]).status).toBe(0)
      expect(cli(['rehearse', dir, '--on', `${adminUrl}/postgres`]).status).toBe(0)
      expect(cli(['apply', dir, '--to', source.url]).err).toContain('the database is not what 0001-baseline expects')
    } finally {
      await source.drop()
      await copy.drop()
    }
  })
})
