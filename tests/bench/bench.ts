// Ratios within one run: medians of five interleaved rounds after a warm-up. Run by scripts/bench.sh.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { type Catalog, canonicalText, emptyCatalog, hashText } from '../../src/core/catalog/index.ts'
import { changePlan, type SchemaEdit, withSchemaEdits } from '../../src/core/change/index.ts'
import { readScript } from '../../src/core/ddl/index.ts'
import { postgresScript } from '../../src/core/dialect/postgres/script.ts'
import { infer } from '../../src/core/infer/index.ts'
import { decodeEntry, derive, type LedgerEntry } from '../../src/core/model/index.ts'
import { reviewBaseWith, reviewWith, seenOf } from '../../src/core/review/index.ts'
import { layoutMap, mapInput } from '../../src/core/strata/index.ts'
import { survey } from '../../src/engines/postgres/index.ts'
import { admin, adminLocation, adminUrl } from '../support/server.ts'
import { readByHand, storesOf } from './stores.ts'

const rounds = 5

/** Tables as legacy schemas have them: a dozen columns, two or three references, indexes, a check, some views and functions. */
function statements(tables: number): readonly string[] {
  const out = Array.from({ length: tables }, (_, i) => {
    const to = (k: number) => Math.floor((i * (k + 3)) / (k + 7)) % Math.max(1, i)
    const references =
      i < 4 ? '' : `, a_id int not null references t${to(0)}, b_id int references t${to(1)}${i % 3 === 0 ? `, c_id int references t${to(2)}` : ''}`
    const indexes = i < 4 ? '' : `; create index on t${i} (a_id); create index on t${i} (b_id, name)`
    const view = i % 10 === 0 ? `; create view v${i} as select id, name, amount * 2 as twice from t${i} where amount > 0` : ''
    const routine = i % 20 === 0 ? `; create function f${i}(n int) returns int language sql as 'select n + ${i}'` : ''
    return `create table t${i} (id int generated always as identity primary key, name text not null, amount numeric(10,2) default 0 check (amount >= 0), state varchar(10), note text, at timestamptz default now(), flag boolean, extra jsonb, score float8${references})${indexes}${view}${routine}`
  })
  return out
}

const median = (list: readonly number[]) => list.toSorted((a, b) => a - b)[Math.floor(list.length / 2)] as number

/** Run each contender once to warm up, then all in turn for five rounds; milliseconds. */
async function compare(contenders: Readonly<Record<string, () => unknown>>): Promise<Readonly<Record<string, number>>> {
  const times: Record<string, number[]> = {}
  for (let round = -1; round < rounds; round += 1) {
    for (const [name, run] of Object.entries(contenders)) {
      const started = performance.now()
      await run()
      if (round >= 0) times[name] = [...(times[name] ?? []), performance.now() - started]
    }
  }
  return Object.fromEntries(Object.entries(times).map(([name, list]) => [name, median(list)]))
}

function print(what: string, ratio: number, budget: number, detail: string): void {
  console.log(`${what.padEnd(46)} ${ratio.toFixed(2).padStart(6)} ×  budget ${budget} ×  ${ratio <= budget ? 'within' : 'OVER'}   (${detail})`)
}
const ms = (n: number) => `${Math.round(n)} ms`

/**
 * Reading a dump whole, against the time PostgreSQL's own parser takes only to parse it. In a process of its own, as a script is read in the
 * product: a heap that surveys have filled makes every collection of garbage dearer.
 */
function scripts(dump: string, tables: number): number {
  const dir = mkdtempSync(join(tmpdir(), 'pelvok-bench-'))
  const file = join(dir, 'dump.sql')
  try {
    writeFileSync(file, dump)
    const out = execFileSync(process.execPath, [process.argv[1] as string, '--script', file, String(tables)], { encoding: 'utf8', maxBuffer: 1 << 24 })
    const [line, read] = out.trim().split('\n') as [string, string]
    console.log(line)
    return Number(read)
  } finally {
    rmSync(dir, { recursive: true, force: true })
  }
}

async function readOne(dump: string, tables: number): Promise<number> {
  const { loadModule, parseSync } = await import('libpg-query')
  await loadModule()
  // Lines for psql are no SQL; the parser would stop at them.
  const sql = dump.replace(/^\\.*$/gm, '')
  const t = await compare({ parse: () => parseSync(sql), read: () => readScript([{ name: 'dump.sql', text: dump }], postgresScript) })
  const [read, parse] = [t['read'] as number, t['parse'] as number]
  print(`script of ${tables} tables, ${(dump.length / 1e6).toFixed(1)} MB, against parsing`, read / parse, 0.5, `${ms(read)}, ${ms(parse)}`)
  return read
}

async function surveyed(tables: number): Promise<{ readonly catalog: Catalog; readonly ratio: number; readonly read: number }> {
  const name = `bench_${tables}`
  await admin('postgres', `drop database if exists ${name}`, `create database ${name} template template0`)
  for (let list = statements(tables), i = 0; i < list.length; i += 100) await admin(name, list.slice(i, i + 100).join(';'))
  await admin(name, 'vacuum analyze')
  const t = await compare({
    dump: () => execFileSync('pg_dump', ['--schema-only', `${adminUrl}/${name}`], { maxBuffer: 1 << 30, stdio: ['ignore', 'pipe', 'ignore'] }),
    survey: () => survey(adminLocation(name), { schemas: null }),
  })
  const ratio = (t['survey'] as number) / (t['dump'] as number)
  print(`survey against pg_dump, ${tables} tables`, ratio, tables >= 5000 ? 0.4 : 0.75, `${ms(t['survey'] as number)}, ${ms(t['dump'] as number)}`)
  const { structure } = await survey(adminLocation(name), { schemas: null })
  const read = scripts(execFileSync('pg_dump', ['--schema-only', `${adminUrl}/${name}`], { maxBuffer: 1 << 30, encoding: 'utf8' }), tables)
  await admin('postgres', `drop database ${name}`)
  return { catalog: structure, ratio, read }
}

async function computed(catalog: Catalog, tables: number): Promise<number> {
  const text = canonicalText(catalog)
  hashText(text)
  const { findings } = infer(catalog)
  const entry = decodeEntry({
    seq: 1,
    at: 'x',
    by: 'bench',
    kind: 'edit',
    edit: { facet: 'reference.ownName', subject: findings.find((f) => f.kind === 'reference')?.subject, value: 'renamed' },
    note: null,
  })
  const model = derive(catalog, findings, [entry])
  const input = mapInput(catalog, findings, model, null)
  const base = reviewBaseWith(catalog, [], null, findings)
  const hash = hashText(text)
  const nothing = { at: '', relations: [], sequences: [] }
  let ledger: readonly LedgerEntry[] = []
  const t = await compare({
    parse: () => JSON.parse(text),
    infer: () => infer(catalog),
    // Whole: what was made of other findings is of no use.
    derive: () => derive(catalog, [...findings], [entry]),
    ruling: () => {
      ledger = ledger.length > 0 ? [] : [entry]
      return seenOf(base, reviewWith(base, hash, ledger), hash, ledger, nothing, null)
    },
    layout: () => layoutMap(input),
  })
  const parse = t['parse'] as number
  const against = (what: string, budget: number) =>
    print(`${what} against JSON.parse, ${tables} tables`, (t[what] as number) / parse, budget, `${ms(t[what] as number)}, ${ms(parse)}`)
  against('infer', 10)
  against('derive', 2)
  against('layout', 10)
  against('ruling', 1)
  return t['infer'] as number
}

/** Fifty changes of all sorts, as a release has them. */
function changed(c: Catalog): Catalog {
  const edits = Array.from({ length: 50 }, (_, i): SchemaEdit => {
    const table = { schema: 'public', name: `t${10 + i * 7}` }
    const kinds: readonly SchemaEdit[] = [
      { do: 'add column', table, column: { name: 'more', type: 'integer', nullable: true, default: null, counted: false } },
      { do: 'require', table, column: 'note' },
      { do: 'set type', table, column: 'state', type: 'text' },
      { do: 'add index', table, columns: ['state'], name: `${table.name}_state_idx` },
      { do: 'make unique', table, columns: ['name'], name: `${table.name}_name_key` },
    ]
    return kinds[i % kinds.length] as SchemaEdit
  })
  return withSchemaEdits(c, edits).catalog
}

/** Plans, against parsing the snapshot they begin with. */
async function planned(catalog: Catalog, tables: number): Promise<void> {
  const text = canonicalText(catalog)
  const wished = changed(catalog)
  const empty = emptyCatalog('postgresql')
  const t = await compare({
    parse: () => JSON.parse(text),
    empty: () => changePlan(empty, catalog, { title: 'bench' }),
    changes: () => changePlan(catalog, wished, { title: 'bench' }),
  })
  for (const [what, key] of [
    ['plan from empty', 'empty'],
    ['plan of 50 changes', 'changes'],
  ] as const)
    print(
      `${what} against JSON.parse, ${tables} tables`,
      (t[key] as number) / (t['parse'] as number),
      60,
      `${ms(t[key] as number)}, ${ms(t['parse'] as number)}`,
    )
}

/** The same rows with the same two relationships, through emitted stores and by hand. */
async function read(): Promise<void> {
  const name = 'bench_stores'
  await admin('postgres', `drop database if exists ${name}`, `create database ${name} template template0`)
  const stores = await storesOf(`${adminUrl}/${name}`)
  try {
    const byHand = await readByHand(stores.plain)
    const through = await stores.read()
    if (byHand.join() !== through.join()) throw new Error(`the stores read ${through.join()}, and the statements by hand ${byHand.join()}`)
    const t = await compare({ hand: () => readByHand(stores.plain), stores: () => stores.read() })
    const [own, hand] = [t['stores'] as number, t['hand'] as number]
    print('stores against SQL by hand, 10000 rows', own / hand, 1.15, `${ms(own)}, ${ms(hand)}`)
    const [early, late] = await stores.stream()
    const mb = (bytes: number) => `${(bytes / 1e6).toFixed(1)} MB`
    print('heap at 1,000,000 streamed rows against 100,000', late / early, 1.1, `${mb(late)}, ${mb(early)}`)
  } finally {
    await stores.end()
    await admin('postgres', `drop database ${name}`)
  }
}

const [mode, file, count] = process.argv.slice(2)
if (mode === '--script' && file !== undefined) {
  console.log(await readOne(readFileSync(file, 'utf8'), Number(count)))
  process.exit(0)
}
if (mode === '--stores') {
  await read()
  process.exit(0)
}
const small = await surveyed(1000)
const inferSmall = await computed(small.catalog, 1000)
await planned(small.catalog, 1000)
const large = await surveyed(5000)
const inferLarge = await computed(large.catalog, 5000)
print('infer, 5 times the tables', inferLarge / inferSmall, 7, `${ms(inferLarge)}, ${ms(inferSmall)}`)
print('script, 5 times the tables', large.read / small.read, 6, `${ms(large.read)}, ${ms(small.read)}`)
await read()
