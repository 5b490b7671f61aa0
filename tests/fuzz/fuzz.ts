// npm run fuzz -- --rounds N [--seed S]: the checks of tests/support/fuzz.ts over our own scripts and the open corpus.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { guessDialect, parseDialect, semanticsOf } from '../../src/core/dialect/guess.ts'
import { commentsAreNothing, removalIsLocal, repetitionIsTold, type Subject, survives } from '../support/fuzz.ts'

const option = (name: string, fallback: number) => {
  const at = process.argv.indexOf(`--${name}`)
  return at < 0 ? fallback : Number(process.argv[at + 1])
}
const rounds = option('rounds', 200)
const first = option('seed', 1)
const corpus = '../shared/corpus'
const own = readdirSync('tests/scripts').map((f) => ({ path: `tests/scripts/${f}`, dialect: f.split('.')[1] as string }))
const others = !existsSync(corpus)
  ? []
  : readdirSync(corpus)
      .filter((d) => existsSync(`${corpus}/${d}/dialect`))
      .flatMap((d) =>
        ['schema.sql', 'normalized.sql'].map((f) => ({ path: `${corpus}/${d}/${f}`, dialect: readFileSync(`${corpus}/${d}/dialect`, 'utf8').trim() })),
      )
      .filter((f) => existsSync(f.path))
const subjects = [...own, ...others].map(({ path, dialect }): Subject => {
  const text = readFileSync(path, 'utf8')
  return { name: path, text, semantics: semanticsOf(parseDialect(dialect) ?? guessDialect(text).choice) }
})

const checks = { survives, removalIsLocal, repetitionIsTold, commentsAreNothing }
let failed = 0
for (let round = 0; round < rounds; round += 1) {
  const seed = first + round
  const subject = subjects[seed % subjects.length] as Subject
  for (const [name, check] of Object.entries(checks)) {
    try {
      check(subject, seed)
    } catch (error) {
      failed += 1
      console.log(`${name}: ${error instanceof Error ? error.message : String(error)}`)
    }
  }
}
console.log(`${rounds} rounds from seed ${first} over ${subjects.length} scripts: ${failed} failed`)
process.exitCode = failed === 0 ? 0 : 1
