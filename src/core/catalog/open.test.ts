import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { compareCatalogs, decodeCatalog } from './index.ts'
import { openSnapshot } from './open.ts'

const kept = (name: string) => readFileSync(`tests/snapshots/${name}.json`, 'utf8')

describe('a kept snapshot', () => {
  it.each(['first-form', 'with-own-options', 'printed-once'])('of an earlier form is read, and says what a new survey says: %s', (name) => {
    const today = decodeCatalog(JSON.parse(kept('today')))
    expect(compareCatalogs(openSnapshot(kept(name)), today)).toEqual([])
  })

  it('of today is what it is', () => expect(openSnapshot(kept('today'))).toEqual(JSON.parse(kept('today'))))

  it.each([
    ['{"format": "pelvok.catalog/1"', /damaged: it is not JSON/],
    ['null', /has the format undefined/],
    ['{"format": "pelvok.catalog/9", "dialect": "postgresql"}', /has the format "pelvok.catalog\/9", and this version reads pelvok.catalog\/1/],
    ['{"format": "pelvok.catalog/1", "dialect": "other"}', /of the engine "other"/],
  ])('%s is refused with words', (text, says) => expect(() => openSnapshot(text)).toThrow(says))
})
