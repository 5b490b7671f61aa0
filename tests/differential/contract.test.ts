// What every store promises, on a real server: for each entity of the demo and of schemas of the corpus, with rows made from the schema alone.
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type pg from 'pg'
import { describe, expect, it } from 'vitest'
import { type ValueTypes, valueTypes } from '../../src/core/emit/typescript/index.ts'
import { type Cell, type FixtureRow, generateFixtures } from '../../src/core/fixtures/index.ts'
import type { Entity, EntityModel, Property, Relationship } from '../../src/core/model/index.ts'
import { codeFolder } from '../support/compile.ts'
import { counting, emitted, type Module } from '../support/emitted.ts'
import { postgres } from '../support/plans.ts'
import { randomScript } from '../support/random.ts'
import { loadScript, makeDatabase } from '../support/server.ts'

interface Value {
  readonly read: (text: string) => unknown
  readonly write: (value: unknown) => string
}

/** One schema's stores with rows in them. */
class Contract {
  /** Of each fixture row, once it is stored. */
  readonly stored = new Map<number, Module>()
  readonly problems = new Map<string, string>()
  /** Rows that the script itself brings, by entity. */
  private readonly brought = new Map<string, number>()
  private readonly types: ValueTypes
  readonly entities: ReadonlyMap<string, Entity>

  constructor(
    readonly m: Module,
    readonly model: EntityModel,
    readonly rows: readonly FixtureRow[],
    readonly pool: pg.Pool,
  ) {
    this.types = valueTypes(model)
    this.entities = new Map(model.entities.map((e) => [e.id as string, e]))
  }

  store(e: Entity, on: pg.Pool | pg.PoolClient = this.pool): Module {
    return new this.m[this.storeName(e)](on)
  }
  storeName = (e: Entity) => `${e.name}Store`
  private value(p: Property): Value {
    return new Function('v', `return ${this.types.ofProperty(p).value}`)(this.m['values']) as Value
  }
  private property = (e: Entity, column: string) => e.properties.find((p) => p.column === column) as Property

  /** The value of a cell in the code. */
  private cell(e: Entity, column: string, cell: Cell): unknown {
    const own = this.value(this.property(e, column))
    if ('text' in cell) return cell.text === null ? null : own.read(cell.text)
    const target = this.entities.get(this.rows[cell.of]?.relation ?? '') as Entity
    const theirs = this.property(target, cell.column)
    return own.read(this.value(theirs).write(this.stored.get(cell.of)?.[theirs.name]))
  }

  /** What a row is stored from; every other one by its ends where they lead to one row. */
  values(i: number): Record<string, unknown> {
    const row = this.rows[i] as FixtureRow
    const e = this.entities.get(row.relation) as Entity
    const out = Object.fromEntries([...row.cells].map(([column, cell]) => [this.property(e, column).name, this.cell(e, column, cell)]))
    if (i % 2 === 1) return out
    for (const r of this.model.relationships.filter((x) => x.from.entity === e.id && !x.through)) {
      const end = this.m[this.storeName(e)].references[r.from.property]
      const target = r.from.columns.map((c) => row.cells.get(c)).find((c) => c !== undefined && 'of' in c) as { of: number } | undefined
      if (!end || !target || this.rows[target.of]?.relation !== r.to.entity) continue
      out[r.from.property] = this.stored.get(target.of)
      for (const p of end.alone as string[]) delete out[p]
    }
    return out
  }
  key(e: Entity, of: Module): unknown {
    return this.m[this.storeName(e)].keyOf(of)
  }
  indexes(e: Entity): readonly number[] {
    return this.rows.flatMap((r, i) => (r.relation === e.id && this.stored.has(i) ? [i] : []))
  }

  /** Stores all rows, those of hidden join tables by linking. */
  async fill(): Promise<void> {
    for (const e of this.entities.values()) this.brought.set(e.id, await this.store(e)['count']())
    for (const [i, row] of this.rows.entries()) {
      const e = this.entities.get(row.relation)
      if (e?.readOnly) continue
      try {
        if (e) this.stored.set(i, await this.store(e)['insert'](this.values(i)))
        else await this.link(row)
      } catch (error) {
        if (!this.problems.has(row.relation)) this.problems.set(row.relation, `not stored: ${(error as Error).message}`)
      }
    }
  }
  private async link(row: FixtureRow): Promise<void> {
    const r = this.model.relationships.find((x) => x.through && !x.through.shortcut && `${x.through.table.schema}.${x.through.table.name}` === row.relation)
    if (!r?.through) return
    const at = (columns: readonly string[]) =>
      this.stored.get((columns.map((c) => row.cells.get(c)).find((c) => c !== undefined && 'of' in c) as { of: number })?.of)
    const [from, to] = [at(r.through.fromColumns), at(r.through.toColumns)]
    if (!from || !to) return
    const name = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)
    const [a, b] = [this.entities.get(r.from.entity), this.entities.get(r.to.entity)] as [Entity, Entity]
    expect(await this.store(a)[`link${name(r.from.property)}`](from, to)).toBe(true)
    expect(await this.store(b)[`link${name(r.to.property)}`](to, from)).toBe(false)
  }

  /** All that the contract asks of one entity with rows. */
  async check(e: Entity): Promise<void> {
    const store = this.store(e)
    const [first] = this.indexes(e)
    if (first === undefined) throw new Error(this.problems.get(e.id) ?? 'there are no rows of it')
    const one = this.stored.get(first) as Module
    const again = await store['get'](this.key(e, one))
    for (const p of e.properties) expect([p.name, again[p.name]]).toEqual([p.name, one[p.name]])
    await this.refuses(e, first)
    await this.changes(e, again)
    await this.loads(e)
    await this.moves(e)
    await this.clashes(e, again)
    await this.rollsBack(e, again)
  }

  private async refuses(e: Entity, i: number): Promise<void> {
    const required = e.properties.find((p) => !p.nullable && p.written === 'always')
    if (!required) return
    const given = { ...this.values(i), [required.name]: null }
    for (const r of this.model.relationships) if (r.from.entity === e.id && r.from.columns.includes(required.column)) delete given[r.from.property]
    await expect(this.store(e)['insert'](given)).rejects.toThrow()
  }

  /** One property after the other gets the value of another row, until one is accepted. */
  private async changes(e: Entity, one: Module): Promise<void> {
    const store = this.store(e)
    const keyed = new Set(e.identity.kind === 'none' ? [] : e.identity.columns)
    const others = this.indexes(e).map((i) => this.stored.get(i) as Module)
    for (const p of e.properties.filter((x) => x.written !== 'never' && !keyed.has(x.column) && x.role !== 'version')) {
      const before = one[p.name]
      const text = (v: unknown) => (v === null ? null : this.value(p).write(v))
      const wanted = [...others.map((o) => o[p.name]), ...(p.nullable ? [null] : [])].find((v) => text(v) !== text(before))
      if (wanted === undefined) continue
      ;(one as Record<string, unknown>)[p.name] = wanted
      const c = counting(this.pool)
      try {
        await this.store(e, c.on)['save'](one)
      } catch {
        // A rule of the table is against it: another property.
        ;(one as Record<string, unknown>)[p.name] = before
        continue
      }
      expect(c.sent.length).toBe(1)
      const now = await store['get'](this.key(e, one))
      expect([p.name, text(now[p.name])]).toEqual([p.name, text(one[p.name])])
      return
    }
  }

  private async loads(e: Entity): Promise<void> {
    const ends = this.model.relationships.flatMap((r) => [r.from, r.to]).filter((x) => x.entity === e.id)
    const all = this.indexes(e).map((i) => this.stored.get(i) as Module)
    const c = counting(this.pool)
    for (const end of ends.slice(0, 3)) await this.store(e, c.on)[`load${end.property.charAt(0).toUpperCase()}${end.property.slice(1)}`](all)
    expect(c.sent.length).toBeLessThanOrEqual(Math.min(3, ends.length))
  }

  /** Another row at an end: set from the end with the columns, and taken back from the other side. */
  private async moves(e: Entity): Promise<void> {
    const all = this.indexes(e).map((i) => this.stored.get(i) as Module)
    const isFree = (r: Relationship) => r.from.entity === e.id && r.kind === 'many-to-one' && r.shared.length === 0 && r.from.entity !== r.to.entity
    for (const r of this.model.relationships.filter(isFree)) {
      const target = this.entities.get(r.to.entity) as Entity
      const parents = this.indexes(target).map((i) => this.stored.get(i) as Module)
      const one = all[0] && (await this.store(e)['get'](this.key(e, all[0])))
      const descriptor = Object.getOwnPropertyDescriptor(Object.getPrototypeOf(this.m[e.name].prototype), r.from.property)
      if (!one || !descriptor?.set || parents.length < 2) continue
      await this.store(e)[`load${r.from.property.charAt(0).toUpperCase()}${r.from.property.slice(1)}`]([one])
      await this.store(target)[`load${r.to.property.charAt(0).toUpperCase()}${r.to.property.slice(1)}`](parents)
      const other = parents.find(
        (p) =>
          ![...p[r.to.property]].includes(one) &&
          !r.from.columns.every((c, i) => String(one[this.property(e, c).name]) === String(p[this.property(target, r.to.columns[i] as string).name])),
      ) as Module
      if (!other) continue
      const before = r.from.columns.map((c) => one[this.property(e, c).name])
      other[r.to.property].add(one)
      expect(one[r.from.property]).toBe(other)
      try {
        await this.store(e)['update'](one)
      } catch (error) {
        if (!/unique|check|exclusion/i.test((error as Error).message)) throw error
        continue
      }
      const now = await this.store(e)['get'](this.key(e, one))
      expect(r.from.columns.map((c) => String(now[this.property(e, c).name]))).not.toEqual(before.map(String))
      return
    }
  }

  private async clashes(e: Entity, one: Module): Promise<void> {
    const version = e.properties.find((p) => p.role === 'version')
    const others = this.indexes(e).map((i) => this.stored.get(i) as Module)
    const text = (p: Property, v: unknown) => (v === null ? null : this.value(p).write(v))
    const free = e.properties.filter((p) => p.nullable && p.written !== 'never' && p.role === null)
    const [change] = free.flatMap((p) =>
      [null, ...others.map((o) => o[p.name])].filter((v) => text(p, v) !== text(p, one[p.name])).map((v) => ({ name: p.name, v })),
    )
    if (!version || !change) return
    const [a, b] = [await this.store(e)['get'](this.key(e, one)), await this.store(e)['get'](this.key(e, one))]
    for (const x of [a, b]) (x as Record<string, unknown>)[change.name] = change.v
    await this.store(e)['update'](a)
    await expect(this.store(e)['update'](b)).rejects.toThrow(this.m['db'].StaleError)
  }

  private async rollsBack(e: Entity, one: Module): Promise<void> {
    const before = await this.store(e)['count']()
    await expect(
      this.m['db'].transaction(this.pool, async (on: pg.PoolClient) => {
        await on.query('SET CONSTRAINTS ALL DEFERRED')
        await this.store(e, on)['delete'](this.key(e, one))
        throw new Error('not after all')
      }),
    ).rejects.toThrow()
    expect(await this.store(e)['count']()).toBe(before)
  }

  /** All rows go at once, in the order that is worked out. */
  async empty(): Promise<void> {
    const hidden = this.model.relationships.flatMap((r) => (r.through && !r.through.shortcut ? [r.through.table] : []))
    for (const t of hidden) await this.pool.query(`delete from "${t.schema}"."${t.name}"`)
    const work = new this.m['Work']()
    for (const [i] of this.stored) {
      const e = this.entities.get(this.rows[i]?.relation ?? '') as Entity
      const now = await this.store(e)['get'](this.key(e, this.stored.get(i) as Module))
      work.delete(this.m[this.storeName(e)], now)
    }
    await work.commit(this.pool)
    for (const e of this.model.entities)
      if (!e.readOnly && e.kind === 'table' && this.indexes(e).length > 0)
        expect([e.name, await this.store(e)['count']()]).toEqual([e.name, this.brought.get(e.id)])
  }
}

const names = process.env['CONTRACT']?.split(',') ?? ['biosql-pg', 'osm-apidb-pg', 'sql-ledger-pg']
const schemas = ['demo/schema.sql', ...names.map((name) => join('../shared/corpus', name, 'schema.sql'))]

const scripts = [
  ...schemas.filter((path) => existsSync(path)).map((path) => [path, readFileSync(path, 'utf8')] as const),
  // Names of every kind, quoted where they have to be.
  ...(process.env['SEEDS']?.split(',').map(Number) ?? [20261125, 20261126]).map((seed) => [`a random schema, seed ${seed}`, randomScript(seed)] as const),
]

describe.each(scripts)('stores of %s', (path, sql) => {
  it('keep the contract, each with rows made from the schema', async () => {
    const own = await makeDatabase()
    const dir = codeFolder()
    let pool: pg.Pool | null = null
    try {
      const file = join(dir, 'schema.sql')
      writeFileSync(file, sql)
      loadScript(own.url, file)
      const { m, model } = await emitted(sql)
      const fixtures = generateFixtures(postgres(sql), 1, 6)
      pool = m['db'].connect({ connectionString: own.url }) as pg.Pool
      const contract = new Contract(m, model, fixtures.rows, pool)
      for (const { relation, why } of fixtures.left) contract.problems.set(relation, why)
      await contract.fill()
      const failed: string[] = []
      for (const e of model.entities) {
        try {
          if (e.readOnly) {
            expect([contract.store(e)['insert'], (await contract.store(e)['list']({ limit: 3 })).length <= 3]).toEqual([undefined, true])
          } else await contract.check(e)
        } catch (error) {
          failed.push(`${e.name}: ${(error as Error).message.split('\n')[0]}`)
        }
      }
      if (failed.length > 0) console.log(`${path}: ${failed.length} of ${model.entities.length} do not keep it\n${failed.join('\n')}`)
      expect(failed.length / model.entities.length).toBeLessThanOrEqual(0.05)
      await contract.empty()
    } finally {
      await pool?.end()
      await own.drop()
      rmSync(dir, { recursive: true, force: true })
    }
  })
})
