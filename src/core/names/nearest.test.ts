import { describe, expect, it } from 'vitest'
import { nearestNames } from './nearest.ts'

describe('nearest names', () => {
  it.each([
    ['crates', ['crate', 'bay', 'crates_old'], ['crate', 'crates_old'].slice(0, 1)],
    ['DATABASE-URL', ['HOME', 'DATABASE_URL', 'PATH'], ['DATABASE_URL']],
    ['DATABSE_URL', ['DATABASE_URL', 'DATABASE_URI'], ['DATABASE_URL', 'DATABASE_URI']],
    ['Storage', ['storage', 'postgres'], ['storage']],
    ['x', ['postgres', 'template1'], []],
  ])('of %s', (wanted, existing, expected) => expect(nearestNames(wanted, existing)).toEqual(expected))
})
