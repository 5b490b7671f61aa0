import { describe, expect, it } from 'vitest'
import { catalogOf, index, key, reference, table } from '../../../../tests/support/catalogs.ts'
import type { Relation } from '../../catalog/index.ts'
import { facts, priors } from './facts.ts'
import { guessReferences } from './index.ts'
import { shortFormOf } from './shortForms.ts'
import { weights } from './weights.ts'

const guesses = (...relations: readonly Relation[]) => guessReferences(catalogOf(...relations), relations)
/** The best answer for these columns and how sure it is; null where there is no question. */
function best(relations: readonly Relation[], subject: string): { readonly to: string; readonly sure: number } | null {
  const g = guesses(...relations).find((x) => x.subject === subject)
  if (!g) return null
  const [a] = g.answers
  return { to: `${a.parent.name}(${a.targetColumns.join()})`, sure: a.confidence }
}

const bay = table('bay', ['id', 'label'], ['id'])
const lane = table('lane', ['id', 'label'], ['id'])
const porter = table('porter', ['id', 'label'], ['id'])
const crate = (...columns: string[]) => table('crate', ['id', ...columns], ['id'])

describe('a column that names a table', () => {
  it.each([
    ['bay_id', 'bay(id)'],
    ['bayId', 'bay(id)'],
    ['BAYID', 'bay(id)'],
    ['fk_bay', 'bay(id)'],
    ['bay', 'bay(id)'],
    ['old_bay_id', 'bay(id)'],
    ['bay2_id', 'bay(id)'],
    ['bays_id', 'bay(id)'],
  ])('%s refers to %s', (column, to) => {
    const found = best([bay, lane, porter, crate(column)], `s.crate(${column})`)
    expect(found?.to).toBe(to)
    expect(found?.sure).toBeGreaterThan(0.3)
  })

  it('is surer with the marker of a key than without', () => {
    const sure = (column: string) => best([bay, lane, porter, crate(column)], `s.crate(${column})`)?.sure ?? 0
    expect(sure('bay_id')).toBeGreaterThan(0.6)
    expect(sure('bay_id')).toBeGreaterThan(sure('bay'))
  })

  it('the whole name beats a part of it', () => {
    const cold = table('cold_bay', ['id'], ['id'])
    expect(best([bay, cold, crate('cold_bay_id')], 's.crate(cold_bay_id)')?.to).toBe('cold_bay(id)')
    expect(best([bay, cold, crate('bay_id')], 's.crate(bay_id)')?.to).toBe('bay(id)')
  })

  it('an area in front of the names of tables need not be said', () => {
    const list = ['wh_bay', 'wh_lane', 'wh_porter'].map((n) => table(n, ['id'], ['id']))
    expect(best([...list, table('wh_crate', ['id', 'bay_id'], ['id'])], 's.wh_crate(bay_id)')?.to).toBe('wh_bay(id)')
  })

  it('its own table explains what the column leaves out', () => {
    const kinds = [table('crate_size', ['id'], ['id']), table('lane_size', ['id'], ['id'])]
    expect(best([...kinds, crate('size_id')], 's.crate(size_id)')?.to).toBe('crate_size(id)')
  })

  it('numbers that differ are a contradiction', () => {
    const list = [table('net4_pool', ['id'], ['id']), table('net6_pool', ['id'], ['id']), table('net6_crate', ['id', 'pool_id'], ['id'])]
    expect(best(list, 's.net6_crate(pool_id)')?.to).toBe('net6_pool(id)')
  })
})

describe('a column called like a key', () => {
  it('refers to the only table that owns it', () => {
    const list = [table('depot', ['depot_no', 'label'], ['depot_no']), table('ramp', ['ramp_no'], ['ramp_no']), crate('depot_no')]
    expect(best(list, 's.crate(depot_no)')).toMatchObject({ to: 'depot(depot_no)' })
    expect(best(list, 's.crate(depot_no)')?.sure).toBeGreaterThan(0.7)
  })
  it('with a role in front as well', () => {
    expect(best([table('depot', ['depot_no'], ['depot_no']), crate('second_depot_no')], 's.crate(second_depot_no)')?.to).toBe('depot(depot_no)')
  })
  it('the letters that begin all columns of a table are its name', () => {
    const area = table('waarea', ['arid', 'arname', 'arnote', 'arsize'], ['arid'])
    const slot = table('waslot', ['slid', 'slarid', 'slname', 'slnote'], ['slid'])
    expect(best([area, slot], 's.waslot(slarid)')?.to).toBe('waarea(arid)')
  })
  it('a table’s own key refers to nobody else’s', () => {
    const list = [table('depot', ['depot_no'], ['depot_no']), table('depot_copy', ['depot_no'], ['depot_no'])]
    expect(best(list, 's.depot(depot_no)')?.sure ?? 0).toBeLessThan(0.2)
  })
  it('"id" alone says nothing', () => {
    expect(guesses(bay, lane, porter, crate()).filter((g) => g.subject === 's.crate(id)')).toEqual([])
  })
})

describe('a column that says a role', () => {
  it.each(['parent_id', 'previous_id', 'replaced_by_id'])('%s leads back to its own table', (column) => {
    expect(best([bay, lane, crate(column)], `s.crate(${column})`)?.to).toBe('crate(id)')
  })
  it.each(['created_by', 'approver_id', 'packed_by_id'])('%s is somebody', (column) => {
    expect(best([bay, lane, porter, crate(column)], `s.crate(${column})`)?.to).toBe('porter(id)')
  })
  it('a kind beside it says that it may be several tables', () => {
    const alone = best([bay, porter, crate('owner_id')], 's.crate(owner_id)')?.sure ?? 0
    const beside = best([bay, porter, crate('owner_id', 'owner_kind')], 's.crate(owner_id)')?.sure ?? 0
    expect(beside).toBeLessThan(alone / 2)
  })
})

describe('what columns hold', () => {
  const typed = (type: string) => {
    const c = crate('bay_id')
    return { ...c, columns: c.columns.map((x) => (x.name === 'bay_id' ? { ...x, type } : x)) }
  }
  it('a value that can never match is no candidate', () => {
    expect(guesses(bay, typed('timestamp with time zone'))).toEqual([])
    expect(guesses(bay, typed('boolean'))).toEqual([])
  })
  it('another type makes it less likely', () => {
    const sure = (c: Relation) => best([bay, lane, c], 's.crate(bay_id)')?.sure ?? 0
    expect(sure(typed('bigint'))).toBeLessThan(sure(crate('bay_id')))
  })
  it('a plural is a count', () => {
    const sure = (column: string) => best([bay, lane, crate(column)], `s.crate(${column})`)?.sure ?? 0
    expect(sure('bays')).toBeLessThan(sure('bay'))
  })
})

describe('several columns', () => {
  const lot = table('lot', ['depot_no', 'lot_no'], ['depot_no', 'lot_no'])
  it('that a key has, are a reference to it', () => {
    const line = table('line', ['id', 'depot_no', 'lot_no'], ['id'])
    const found = best([lot, line], 's.line(depot_no,lot_no)')
    expect(found?.to).toBe('lot(depot_no,lot_no)')
    expect(found?.sure).toBeGreaterThan(0.3)
  })
  it('under one role they are another', () => {
    const line = table('line', ['id', 'from_depot_no', 'from_lot_no', 'to_depot_no', 'to_lot_no'], ['id'])
    const subjects = guesses(lot, line).map((g) => g.subject)
    expect(subjects).toContain('s.line(from_depot_no,from_lot_no)')
    expect(subjects).toContain('s.line(to_depot_no,to_lot_no)')
    expect(subjects).not.toContain('s.line(from_depot_no,to_lot_no)')
  })
  it('one of them alone is part of the longer one', () => {
    const depot = table('depot', ['depot_no'], ['depot_no'])
    const line = table('line', ['id', 'depot_no', 'lot_no'], ['id'])
    const g = guesses(depot, lot, line).find((x) => x.subject === 's.line(depot_no)')
    expect(g?.answers[0].evidence.map((e) => e.kind)).toContain('part of a longer reference')
  })
})

describe('habits', () => {
  it('what is declared elsewhere under the same name speaks for it here', () => {
    const declared = table('pallet', ['id', 'bay_id'], ['id'], { foreignKeys: [reference('f', ['bay_id'], 'bay', ['id'])] })
    const sure = (...more: readonly Relation[]) => best([bay, lane, crate('bay_id'), ...more], 's.crate(bay_id)')?.sure ?? 0
    expect(sure(declared)).toBeGreaterThan(sure())
  })
  it('what is declared is not asked', () => {
    const declared = table('pallet', ['id', 'bay_id'], ['id'], { foreignKeys: [reference('f', ['bay_id'], 'bay', ['id'])] })
    expect(guesses(bay, declared)).toEqual([])
  })
  it('where others are indexed, a column that is not is less likely', () => {
    const others = ['lane', 'porter', 'shelf', 'ramp'].map((n) => table(n, ['id', 'bay_id'], ['id'], { indexes: [index(`i_${n}`, ['bay_id'])] }))
    const plain = ['lane', 'porter', 'shelf', 'ramp'].map((n) => table(n, ['id', 'bay_id'], ['id']))
    const sure = (list: readonly Relation[]) => best([bay, crate('bay_id'), ...list], 's.crate(bay_id)')?.sure ?? 0
    expect(sure(others)).toBeLessThan(sure(plain))
  })
})

describe('the answer', () => {
  const g = guesses(bay, lane, porter, crate('bay_id'))[0]
  it('is made up of what its evidence is worth', () => {
    const a = g?.answers[0]
    const odds = Math.exp(a?.evidence.reduce((n, e) => n + e.weight, 0) ?? 0)
    const others = (g?.answers.slice(1) ?? []).reduce((n, x) => n + Math.exp(x.evidence.reduce((m, e) => m + e.weight, 0)), 0)
    expect(a?.confidence).toBeCloseTo(odds / (1 + odds + others), 2)
  })
  it('leaves room for none, and all of it is one', () => {
    expect((g?.answers.reduce((n, a) => n + a.confidence, 0) ?? 0) + (g?.none ?? 0)).toBeCloseTo(1, 2)
  })
  it('lists five at most', () => {
    const list = Array.from({ length: 9 }, (_, i) => table(`bay_${'abcdefghi'[i]}`, ['id'], ['id']))
    for (const x of guesses(...list, crate('bay_id'))) expect(x.answers.length).toBeLessThanOrEqual(5)
  })
  it('does not depend on the order of tables', () => {
    const list = [bay, lane, porter, crate('bay_id', 'created_by', 'parent_id')]
    const text = (l: readonly Relation[]) => JSON.stringify(guesses(...l).toSorted((a, b) => (a.subject < b.subject ? -1 : 1)))
    expect(text(list.toReversed())).toBe(text(list))
  })
  it('every fact has a weight, and says something', () => {
    const view = { table: 's.crate', columns: 'bay_id', target: 's.bay', targetColumns: 'id', role: 'old', types: 'integer', counted: '' }
    for (const [name, f] of Object.entries(facts)) {
      expect(f.says(view), name).not.toMatch(/undefined|\.$/)
      expect(weights.first, name).toHaveProperty([name])
      expect(weights.second, name).toHaveProperty([name])
      expect(priors, name).toHaveProperty([name])
    }
  })
  it('names without words are no trouble', () => {
    expect(guesses(table('--', ['!', '§'], ['!']), table('', [' '], [' ']), bay)).toEqual([])
  })
})

describe('short forms', () => {
  it.each([
    ['dept', ['department'], true],
    ['addr', ['address'], true],
    ['qty', ['quantity'], true],
    ['pn', ['part', 'number'], true],
    ['bay', ['bay'], false],
    ['lane', ['plane'], false],
    ['xy', ['crate'], false],
  ])('%s for %j: %s', (short, words, is) => {
    expect(shortFormOf(short, words) > 0).toBe(is)
  })
})

describe('unique keys', () => {
  it('are named by their own column', () => {
    const port = table('port', ['id', 'code'], ['id'], { uniques: [key('u', ['code'])] })
    expect(best([port, bay, crate('port_code')], 's.crate(port_code)')?.to).toBe('port(code)')
    expect(best([port, bay, crate('port_id')], 's.crate(port_id)')?.to).toBe('port(id)')
  })
})

describe('what other columns say', () => {
  const kinds = (relations: readonly Relation[], subject: string) =>
    guesses(...relations)
      .find((x) => x.subject === subject)
      ?.answers[0].evidence.map((e) => e.kind) ?? []

  it('a column called alike whose words tell their table speaks for one that says nothing', () => {
    const list = [table('flour_grade', ['id'], ['id']), table('baker_grade', ['id'], ['id']), table('flour_grade_price', ['id', 'grade_id'], ['id'])]
    expect(best([...list, crate('grade_id')], 's.crate(grade_id)')?.to).toBe('flour_grade(id)')
    expect(kinds([...list, crate('grade_id')], 's.crate(grade_id)')).toContain('clear elsewhere')
  })
  it('no column is its own witness', () => {
    const list = [table('flour_grade', ['id'], ['id']), table('flour_grade_price', ['id', 'grade_id'], ['id'])]
    expect(kinds(list, 's.flour_grade_price(grade_id)')).not.toContain('clear elsewhere')
  })
  it('a log refers to what the table refers to that it mirrors, and to its rows by their key', () => {
    const visit = table('visit', ['id', 'bay_id', 'came'], ['id'])
    const log = table('log_visit', ['log_no', 'id', 'bay_id', 'came'], ['log_no'])
    expect(best([bay, lane, visit, log], 's.log_visit(bay_id)')?.to).toBe('bay(id)')
    expect(best([bay, lane, visit, log], 's.log_visit(id)')?.to).toBe('visit(id)')
  })
  it('a mirror without a key of its own keeps the former key, and refers to nothing by it', () => {
    const visit = table('visit', ['visit_no', 'bay_id', 'came'], ['visit_no'])
    const old = table('visit_old', ['visit_no', 'bay_id', 'came'], [])
    expect(best([bay, lane, visit, old], 's.visit_old(visit_no)')).toBeNull()
  })
  it('two columns of a table called after another one are rows of that', () => {
    const link = table('bay_link', ['a_id', 'b_id', 'metres'], ['a_id', 'b_id'])
    expect(best([bay, lane, link], 's.bay_link(a_id)')?.to).toBe('bay(id)')
    expect(best([bay, lane, link], 's.bay_link(b_id)')?.to).toBe('bay(id)')
  })
})

describe('what is not asked', () => {
  it('keys that tables own, and words that stand for anything', () => {
    const list = [
      table('crate_kind', ['id', 'label'], ['id']),
      table('note', ['note_id', 'label', 'type', 'bay_id'], ['note_id']),
      table('note_copy', ['note_copy_id', 'type'], ['note_copy_id']),
    ]
    const subjects = guesses(bay, lane, ...list).map((g) => g.subject)
    expect(subjects).toContain('s.note(bay_id)')
    expect(subjects.filter((s) => /\(type\)|note_copy_id|\(note_id\)|\(id\)/.test(s))).toEqual([])
  })
  it('what a child inherits of the key of its parent', () => {
    const parent = table('stamped', ['row_no', 'label'], ['row_no'])
    const child = { ...table('ramp', ['row_no', 'label', 'ramp_no'], ['ramp_no']), inherits: [{ schema: 's', name: 'stamped' }] }
    expect(best([parent, child, bay], 's.ramp(row_no)')).toBeNull()
  })
})

describe('a start of their own', () => {
  it('references over several columns do not begin where those of one do', () => {
    const lot = table('lot', ['depot_no', 'lot_no'], ['depot_no', 'lot_no'])
    const g = guesses(lot, table('line', ['id', 'depot_no', 'lot_no'], ['id'])).find((x) => x.subject === 's.line(depot_no,lot_no)')
    const told = g?.answers[0].evidence.map((e) => e.kind) ?? []
    expect(told).toContain('several columns')
    expect(told).not.toContain('starting point')
  })
})

describe('a role alone', () => {
  it('is never so sure that nobody is asked', () => {
    const people = table('porter', ['id', 'full_name', 'login'], ['id'])
    const list = ['crate', 'lane', 'ramp', 'shelf', 'depot'].map((n) => table(n, ['id', 'created_by'], ['id']))
    const g = guesses(people, ...list).filter((x) => x.subject.endsWith('(created_by)'))
    expect(g.length).toBe(5)
    for (const { answers } of g) {
      expect(answers[0].parent.name).toBe('porter')
      expect(answers[0].confidence).toBeLessThanOrEqual(0.851)
    }
  })
})

describe('what nobody is asked', () => {
  it('a word that is no table here, and might be any role of the table itself', () => {
    const refers = table('tag', ['id', 'crate_id'], ['id'], { foreignKeys: [reference('of', ['crate_id'], 'crate', ['id'])] })
    const asked = guesses(bay, refers, crate('business_id', 'bay_id')).map((g) => g.subject)
    expect(asked).toEqual(['s.crate(bay_id)'])
  })
  it('whether columns that the keys of several sisters have refer to one of them', () => {
    const sister = (name: string) => table(name, ['message', 'place', 'text'], ['message', 'place'])
    expect(guesses(...['arrival', 'departure', 'delay', 'notice'].map(sister)).filter((g) => g.subject.includes(','))).toEqual([])
  })
})
