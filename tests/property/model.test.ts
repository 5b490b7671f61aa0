// Properties of derive, names and the ledger over seeded random catalogs. A seed that ever failed stays in the list.

import { describe, expect, it } from 'vitest'
import { decodeCatalog, relationText } from '../../src/core/catalog/index.ts'
import { infer } from '../../src/core/infer/index.ts'
import { checkRevert, derive, type EntityModel, type LedgerEntry } from '../../src/core/model/index.ts'
import { nameProblem } from '../../src/core/names/index.ts'
import { table } from '../support/catalogs.ts'
import { randomCatalog, shuffled } from '../support/random.ts'
import { randomLedger, stamped } from '../support/rulings.ts'

const seeds = Array.from({ length: 40 }, (_, i) => i + 1)

function expectSound(m: EntityModel): void {
  const byId = new Map(m.entities.map((e) => [e.id, e]))
  expect(new Set(m.entities.map((e) => e.name.toLowerCase())).size).toBe(m.entities.length)
  for (const e of m.entities) expect(nameProblem(e.name, 'class'), e.name).toBeNull()
  const members = new Map(m.entities.map((e) => [e.id, e.properties.map((p) => p.name)]))
  for (const r of m.relationships) {
    for (const end of [r.from, r.to]) {
      expect(byId.has(end.entity), `${r.id} at ${end.entity}`).toBe(true)
      members.get(end.entity)?.push(end.property)
      const columns = byId.get(end.entity)?.properties.map((p) => p.column)
      for (const c of end.columns) expect(columns).toContain(c)
    }
    expect(r.from.columns.length).toBe(r.through ? r.through.fromColumns.length : r.to.columns.length)
  }
  for (const [id, names] of members) {
    expect(new Set(names.map((n) => n.toLowerCase())).size, `${id}: ${names.join()}`).toBe(names.length)
    for (const n of names) expect(nameProblem(n, 'property'), n).toBeNull()
  }
}

describe.each(seeds)('random catalog, seed %i', (seed) => {
  const catalog = randomCatalog(seed)
  const { findings } = infer(catalog)
  const entries = randomLedger(findings, seed * 7)

  it('derive is deterministic and independent of the order of tables and findings', () => {
    const once = derive(catalog, findings, entries)
    expect(derive(catalog, findings, entries)).toEqual(once)
    const other = decodeCatalog({ ...catalog, relations: shuffled(catalog.relations, seed) })
    const inOtherOrder = { ...catalog, relations: shuffled(catalog.relations, seed + 1) }
    expect(infer(other).findings).toEqual(findings)
    expect(infer(inOtherOrder).findings).toEqual(findings)
    expect(derive(inOtherOrder, shuffled(findings, seed), entries)).toEqual(once)
  })

  it('every end names a property of an existing entity over existing columns; names are unique and legal', () => {
    expectSound(derive(catalog, findings, []))
    expectSound(derive(catalog, findings, entries))
  })

  it('a revert of any entry that may be taken back gives the model before it', () => {
    for (const e of entries) {
      const upTo = entries.filter((x) => x.seq <= e.seq)
      if (e.kind === 'revert' || !checkRevert(upTo, e.seq).ok) continue
      const undone = [...upTo, ...stamped([{ kind: 'revert', reverts: e.seq }]).map((r) => ({ ...r, seq: (e.seq + 1) as never }))]
      expect(derive(catalog, findings, undone)).toEqual(
        derive(
          catalog,
          findings,
          entries.filter((x) => x.seq < e.seq),
        ),
      )
    }
  })

  it('a ledger derived after another gives what it gives by itself, and what says the same is the same value', () => {
    const alone = (ledger: readonly LedgerEntry[]) => derive(catalog, [...findings], ledger)
    let before = derive(catalog, findings, [])
    for (let n = 1; n <= entries.length; n += 1) {
      const ledger = entries.slice(0, n)
      const now = derive(catalog, findings, ledger)
      expect(now).toEqual(alone(ledger))
      const last = ledger.at(-1)
      const said = last && (last.kind === 'rule' || last.kind === 'edit') ? JSON.stringify(last) : null
      for (const was of said === null ? [] : before.relationships) {
        const is = now.relationships.find((r) => r.id === was.id)
        const parts = [was.id, ...(was.through?.parts ?? [])].map((id) => id.slice(id.indexOf(':') + 1))
        if (is && JSON.stringify(is) === JSON.stringify(was) && !parts.some((s) => said?.includes(s))) expect(is, was.id).toBe(was)
      }
      before = now
    }
    // Back by more than one entry, and to another branch.
    const branch = entries.filter((_, i) => i % 3 !== 0)
    expect(derive(catalog, findings, branch)).toEqual(alone(branch))
  })

  it('an unrelated table changes no finding id', () => {
    const unrelated = { ...table('zz unrelated', ['zz gauge', 'zz remark'], ['zz gauge']), schema: 'elsewhere' }
    const more = decodeCatalog({ ...catalog, relations: [...catalog.relations, unrelated] })
    const ids = new Set(infer(more).findings.map((f) => f.id))
    for (const f of findings) expect(ids.has(f.id)).toBe(true)
    expect(ids.size).toBe(findings.length + 1)
    expect(ids.has(`entity:${relationText({ schema: 'elsewhere', name: 'zz unrelated' })}` as never)).toBe(true)
  })
})
