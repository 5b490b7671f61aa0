// A server that hangs, or goes away midway, and a schema that changes while it is read: through a proxy before the real server.
import { createServer, type Server, connect as tcp } from 'node:net'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { compareCatalogs } from '../../src/core/catalog/index.ts'
import { survey } from '../../src/engines/postgres/survey.ts'
import { admin, adminLocation, makeDatabase } from '../support/server.ts'

let db: Awaited<ReturnType<typeof makeDatabase>>
beforeAll(async () => {
  db = await makeDatabase(
    ...Array.from({ length: 60 }, (_, i) => `create table t${i} (id int primary key, note text default 'x', u int references t${Math.max(0, i - 1)})`),
  )
})
afterAll(() => db.drop())

/** What the server sends goes through up to `bytes`; then the way is silent, or broken. */
async function proxy(bytes: number, then: 'silence' | 'end'): Promise<{ readonly port: number; readonly close: () => void }> {
  const server: Server = createServer((client) => {
    const l = adminLocation()
    const real = tcp(l.port, l.host)
    let sent = 0
    client.on('error', () => {})
    real.on('error', () => {})
    client.on('data', (d) => real.write(d))
    client.on('close', () => real.destroy())
    real.on('data', (d) => {
      const rest = bytes - sent
      sent += d.length
      if (rest > 0) client.write(d.subarray(0, rest))
      if (rest <= d.length && then === 'end') client.destroy()
    })
  })
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done))
  return { port: (server.address() as { port: number }).port, close: () => server.close() }
}

describe('a survey over a way that breaks', () => {
  it.each([600, 5_000, 60_000])('after %i bytes says that the connection broke', async (bytes) => {
    const way = await proxy(bytes, 'end')
    await expect(survey({ ...db.location, port: way.port }, { schemas: null })).rejects.toMatchObject({ failure: { kind: 'connection lost' } })
    way.close()
  })
  it('over one that falls silent ends by itself, and says so', async () => {
    const way = await proxy(20_000, 'silence')
    await expect(survey({ ...db.location, port: way.port }, { schemas: null, silence: 700 })).rejects.toMatchObject({ failure: { kind: 'connection lost' } })
    way.close()
  })
  it('that works is not ended by being long', async () => {
    const way = await proxy(Number.MAX_SAFE_INTEGER, 'silence')
    expect((await survey({ ...db.location, port: way.port }, { schemas: null, silence: 60_000 })).structure.relations.length).toBe(60)
    way.close()
  })
})

describe('a schema that changes while it is read', () => {
  it('gives each survey one state of it, whole', async () => {
    let ending = false
    const changes = (async () => {
      for (let i = 0; !ending; i += 1) {
        const n = i % 20
        await admin(
          db.name,
          `alter table t${n + 20} add column extra_${i} int default ${i}`,
          `create table fresh_${i} (id int primary key, t int references t${n})`,
          `create index on fresh_${i} (t)`,
          `create view seen_${i} as select id from fresh_${i}`,
          `alter table t${n + 20} drop column extra_${i}`,
          `drop table fresh_${i} cascade`,
        )
      }
    })()
    for (let i = 0; i < 12; i += 1) {
      const { structure, reading } = await survey(db.location, { schemas: null })
      expect(reading.census.filter((l) => l.read + l.reported !== l.counted)).toEqual([])
      for (const r of structure.relations) {
        const names = new Set(r.columns.map((c) => c.name))
        expect(r.columns.every((c) => c.name !== '' && c.type !== '')).toBe(true)
        for (const k of [...(r.primaryKey ? [r.primaryKey] : []), ...r.foreignKeys]) expect(k.columns.every((c) => names.has(c))).toBe(true)
        for (const k of r.foreignKeys) expect(structure.relations.some((t) => t.name === k.target.table)).toBe(true)
      }
    }
    ending = true
    await changes
    const [first, second] = [await survey(db.location, { schemas: null }), await survey(db.location, { schemas: null })]
    expect(compareCatalogs(first.structure, second.structure)).toEqual([])
  }, 120_000)
})
