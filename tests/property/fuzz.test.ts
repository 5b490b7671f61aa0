// A few rounds of the fuzz on our own scripts with every run; `npm run fuzz -- --rounds N` runs more, and the corpus.
import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { mysqlScript } from '../../src/core/dialect/mysql/script.ts'
import { postgresScript } from '../../src/core/dialect/postgres/script.ts'
import { sqliteScript } from '../../src/core/dialect/sqlite/script.ts'
import { commentsAreNothing, removalIsLocal, repetitionIsTold, type Subject, survives } from '../support/fuzz.ts'
import { tortureOf } from '../support/scripts.ts'

const subjects: readonly Subject[] = [
  { name: 'postgresql', text: readFileSync(tortureOf('postgresql'), 'utf8'), semantics: postgresScript },
  { name: 'mariadb', text: readFileSync(tortureOf('mariadb'), 'utf8'), semantics: mysqlScript() },
  { name: 'sqlite', text: readFileSync(tortureOf('sqlite'), 'utf8'), semantics: sqliteScript },
]
const seeds = Array.from({ length: 40 }, (_, i) => i + 1)

describe.each(subjects.map((s) => [s.name, s] as const))('%s', (_, s) => {
  it.each(seeds)('damaged text is survived in bounded steps, seed %i', (seed) => expect(() => survives(s, seed)).not.toThrow())
  it.each(seeds)('a statement removed reaches no further than what it names, seed %i', (seed) => expect(() => removalIsLocal(s, seed)).not.toThrow())
  it.each(seeds.slice(0, 20))('a statement twice is told once, seed %i', (seed) => expect(() => repetitionIsTold(s, seed)).not.toThrow())
  it.each(seeds)('a comment says nothing, seed %i', (seed) => expect(() => commentsAreNothing(s, seed)).not.toThrow())
})
