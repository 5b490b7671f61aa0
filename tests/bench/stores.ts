// Reading 10,000 rows with two relationships: through emitted stores, and as somebody would write it by hand with the same driver.
import { setFlagsFromString } from 'node:v8'
import { runInNewContext } from 'node:vm'
import pg from 'pg'
import { emitted } from '../support/emitted.ts'

const schema = `
  create table bay (id integer generated always as identity primary key, label varchar(20) not null, note text);
  create table crate (id integer generated always as identity primary key, bay_id integer not null references bay (id), label varchar(20) not null,
    weight numeric(8,2), sealed boolean not null, packed_at timestamptz not null, due_on date, note text);
  create table seal (id integer generated always as identity primary key, crate_id integer not null references crate (id), number bigint not null, set_at timestamptz);
  create index on crate (bay_id);
  create index on seal (crate_id);`
const rows = `
  insert into bay (label, note) select 'bay ' || i, case when i % 3 = 0 then 'by the door' end from generate_series(1, 500) i;
  insert into crate (bay_id, label, weight, sealed, packed_at, due_on, note)
    select 1 + i % 500, 'crate ' || i, i * 0.25, i % 2 = 0, timestamptz '2026-01-01' + i * interval '1 minute', date '2026-02-01' + i % 90, null from generate_series(1, 10000) i;
  insert into seal (crate_id, number, set_at) select 1 + i % 10000, i * 1000000007::bigint, timestamptz '2026-01-02' + i * interval '1 second' from generate_series(1, 20000) i;
  analyze`

interface Bay {
  readonly id: number
  readonly label: string
  readonly note: string | null
  readonly crates: Crate[]
}
interface Seal {
  readonly id: number
  readonly crateId: number
  readonly number: bigint
  readonly setAt: Date | null
  readonly crate: Crate
}
interface Crate {
  readonly id: number
  readonly bayId: number
  readonly label: string
  readonly weight: string | null
  readonly sealed: boolean
  readonly packedAt: Date
  readonly dueOn: string | null
  readonly note: string | null
  bay: Bay | undefined
  readonly seals: Seal[]
}

/** Three statements, and both ends of both relationships. Gives how many of each, and a sum to compare. */
export async function readByHand(pool: pg.Pool): Promise<readonly number[]> {
  const found = await pool.query('select id, bay_id, label, weight, sealed, packed_at, due_on::text, note from crate order by id limit 10000')
  const crates = found.rows.map(
    (r): Crate => ({
      id: r.id,
      bayId: r.bay_id,
      label: r.label,
      weight: r.weight,
      sealed: r.sealed,
      packedAt: r.packed_at,
      dueOn: r.due_on,
      note: r.note,
      bay: undefined,
      seals: [],
    }),
  )
  const bays = await pool.query('select id, label, note from bay where id = any($1)', [[...new Set(crates.map((c) => c.bayId))]])
  const bayById = new Map<number, Bay>(bays.rows.map((r) => [r.id, { id: r.id, label: r.label, note: r.note, crates: [] }]))
  for (const c of crates) {
    c.bay = bayById.get(c.bayId)
    c.bay?.crates.push(c)
  }
  const byId = new Map(crates.map((c) => [c.id, c]))
  for (let i = 0; i < crates.length; i += 5000) {
    const keys = crates.slice(i, i + 5000).map((c) => c.id)
    const seals = await pool.query('select id, crate_id, number, set_at from seal where crate_id = any($1)', [keys])
    for (const r of seals.rows) {
      const crate = byId.get(r.crate_id)
      if (crate) crate.seals.push({ id: r.id, crateId: r.crate_id, number: BigInt(r.number), setAt: r.set_at, crate })
    }
  }
  return [crates.length, crates.reduce((n, c) => n + c.seals.length, 0), crates.reduce((n, c) => n + c.packedAt.getTime() + (c.bay?.id ?? 0), 0)]
}

interface Stores {
  readonly plain: pg.Pool
  readonly read: () => Promise<readonly number[]>
  /** Streams a million rows; the heap in bytes once 100,000 were read, and at the end. */
  readonly stream: () => Promise<readonly [number, number]>
  readonly end: () => Promise<void>
}

export async function storesOf(url: string): Promise<Stores> {
  const plain = new pg.Pool({ connectionString: url, max: 1 })
  await plain.query(schema)
  await plain.query(rows)
  const { m } = await emitted(schema)
  const pool: pg.Pool = m['db'].connect({ connectionString: url, max: 1 })
  const store = new m['CrateStore'](pool)
  const read = async () => {
    const crates = await store.list({ limit: 10_000 })
    await store.loadBay(crates)
    await store.loadSeals(crates)
    let [seals, sum] = [0, 0]
    for (const c of crates) {
      seals += c.seals.size
      sum += c.packedAt.getTime() + c.bay.id
    }
    return [crates.length, seals, sum]
  }
  const stream = async () => {
    await plain.query("insert into bay (label) select 'more ' || i from generate_series(1, 1000000) i")
    setFlagsFromString('--expose-gc')
    const collect = runInNewContext('gc') as () => void
    const heap = () => {
      collect()
      return process.memoryUsage().heapUsed
    }
    let [n, early] = [0, 0]
    for await (const _bay of new m['BayStore'](pool).stream()) {
      n += 1
      if (n === 100_000) early = heap()
    }
    if (n !== 1_000_500) throw new Error(`${n} rows were streamed`)
    return [early, heap()] as const
  }
  return { plain, read, stream, end: async () => void (await Promise.all([plain.end(), pool.end()])) }
}
