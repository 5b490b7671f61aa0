// A slice of npm run pairs: plans between random schemas, both ways, on filled databases.
import { describe, expect, it } from 'vitest'
import { runPair } from '../support/pairs.ts'

describe('random pairs', () => {
  it.each([3, 16, 26, 43, 49, 54, 61, 93, 97])('seed %i', async (seed) => {
    const r = await runPair(seed)
    expect(r.problems, r.kinds.join(', ')).toEqual([])
    expect(r.steps).toBeGreaterThan(0)
  })
})
