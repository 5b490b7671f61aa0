import { describe, expect, it } from 'vitest'
import { differenceGroups, groupLine } from './differenceGroups.ts'
import { unproven } from './proof.ts'

const differ = (object: string, field: string, was: string | null, is: string | null) => ({ object, field, was, is })

describe('differences by kind', () => {
  it('are one line for each kind, with one of them, and all in their order', () => {
    const groups = differenceGroups([
      differ('relation depot.bay', 'columns[id].options', '[]', '["a=1"]'),
      differ('relation depot.crate', 'columns[odd]name].options', '[]', '["a=2"]'),
      differ('relation depot.crate', 'comment', 'null', '"x"'),
      differ('sequence depot.counter', '', null, '{}'),
      differ('relation depot.lane', 'columns[a.b].options', '[]', '["a=3"]'),
    ])
    expect(groups.map((g) => [g.kind, g.all.length])).toEqual([
      ['relation, columns[].options, different', 3],
      ['relation, comment, different', 1],
      ['sequence, only found', 1],
    ])
    expect(groups.map(groupLine)).toEqual([
      '3 × relation, columns[].options, different, such as relation depot.bay columns[id].options: [] planned, ["a=1"] found',
      'relation depot.crate comment: null planned, "x" found',
      'sequence depot.counter: absent planned, {} found',
    ])
  })
  it('of none are none', () => expect(differenceGroups([])).toEqual([]))
})

describe('a plan is proven', () => {
  const proof = { server: 'PostgreSQL 15', at: '2026-01-01T00:00:00Z' }
  it.each([
    [{ ...proof, ok: true, says: '' }, null],
    [{ ...proof, ok: false, says: 'one difference from what is planned' }, 'failed its last rehearsal: one difference from what is planned'],
    [null, 'was never rehearsed as it is now'],
  ])('%o: %s', (of, says) => expect(unproven(of)).toBe(says))
})
