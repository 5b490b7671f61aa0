// Small schemas of one cause each: every reference whose target the cause tells is found, and no look-alike is taken for one.
import { describe, expect, it } from 'vitest'
import { judgeReadings, judgeReferences, readCases } from '../calibrate/cases.ts'

describe.each(readCases().map((c) => [c.name, c] as const))('%s', (_, c) => {
  it(c.truth.note, () => {
    const { missed, wrong } = judgeReferences(c, true)
    expect({ missed: [...missed.keys()], wrong: [...wrong.keys()] }).toEqual({ missed: [], wrong: [] })
  })
  it('with the keys that are declared, too', () => {
    const { missed, wrong } = judgeReferences(c, false)
    expect({ missed: [...missed.keys()], wrong: [...wrong.keys()] }).toEqual({ missed: [], wrong: [] })
  })
  it('pairs of several tables, join tables and names are read as they are', () => expect(judgeReadings(c)).toEqual([]))
})
