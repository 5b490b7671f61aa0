// Golden files: one case is a folder with input.json (a snapshot), or with input.sql and the dialect behind the last hyphen of its name,
// and one expected file per aspect, made to be read in a diff. In `diagnostics` each text has what is wrong with it beside it.
// UPDATE_GOLDEN=1 writes them anew; CI never does.
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { type Catalog, canonicalText, decodeCatalog } from '../../src/core/catalog/index.ts'
import { baselinePlan, describePlanProblem, upScript } from '../../src/core/change/index.ts'
import { readScript, scriptDiagnosticLine } from '../../src/core/ddl/index.ts'
import { parseDialect, semanticsOf } from '../../src/core/dialect/guess.ts'
import { emitTypeScript, fixturesTypeScript } from '../../src/core/emit/typescript/index.ts'
import { fixtureSql, generateFixtures, namedFixtures } from '../../src/core/fixtures/index.ts'
import { describeModelDiagnostic, sentencesOf, sentenceText } from '../../src/core/model/index.ts'
import { notationProblemLine, notationSource } from '../../src/core/notation/index.ts'
import { docketItems, notationText, review, reviewBase, reviewNotation } from '../../src/core/review/index.ts'
import { mapOf } from '../../src/core/strata/index.ts'

const root = import.meta.dirname
const cases = readdirSync(root).filter((name) => existsSync(join(root, name, 'input.json')))
const scripts = readdirSync(root).filter((name) => existsSync(join(root, name, 'input.sql')))
const wrong = readdirSync(join(root, 'diagnostics')).filter((name) => /\.(sql|pelvok)$/.test(name))

const semanticsNamed = (name: string) => {
  const dialect = parseDialect(name)
  if (!dialect) throw new Error(`there is no dialect ${name}`)
  return semanticsOf(dialect)
}

/** What is expected in a file, or written there where that is asked for. */
function compare(path: string, made: string): void {
  if (process.env['UPDATE_GOLDEN'] === '1' && !process.env['CI']) writeFileSync(path, made)
  expect(made).toBe(readFileSync(path, 'utf8'))
}

/** One line per fact. */
function aspects(catalog: Catalog): Readonly<Record<string, string>> {
  const r = review(catalog, '0'.repeat(64) as never, [])
  const lines = (list: readonly string[]) => `${list.join('\n')}\n`
  const scene = mapOf(catalog, r.findings, r.model, null)
  const plan = baselinePlan(catalog)
  return {
    'inferred.txt': lines(docketItems(r).map((i) => `${i.status} ${i.confidence.toFixed(2)} ${i.id}: ${i.says.map(sentenceText).join(' ')}`)),
    'model.txt': lines([
      ...r.model.entities.map((e) => `${e.name}: ${e.properties.map((p) => `${p.name} ${p.type}${p.nullable ? '?' : ''}`).join(', ')}`),
      ...r.model.relationships.map((x) => `${x.id} ${x.kind} ${x.state}: ${sentencesOf(x, r.model).map(sentenceText).join(' ')}`),
      ...r.model.diagnostics.map(describeModelDiagnostic),
    ]),
    'layout.txt': lines([
      ...scene.blocks.map(
        (b) =>
          `${b.kind} ${b.name}: ${scene.plates
            .filter((p) => p.block === b.key)
            .map((p) => `${p.nameLines.join('')}@${p.rank}`)
            .join(' ')}${b.folded ? ` and ${b.folded.count} views` : ''}`,
      ),
      ...scene.bundles.map((b) => `bundle ${b.from} > ${b.to}: ${b.count}${b.back > 0 ? `, ${b.back} back` : ''}`),
      ...scene.beads.map((b) => `bead ${b.filled ? 'filled' : 'hollow'} ${b.id}`),
      ...scene.knots.map((k) => k.label),
    ]),
    'emitted.ts.txt': emitTypeScript(r.model, r.revision)
      .map((f) => `==== ${f.path}\n${f.text}`)
      .join('\n'),
    'model.pelvok': notationText(reviewBase(catalog, []), r),
    'fixtures.sql': fixtureSql(namedFixtures(catalog, r.model, generateFixtures(catalog, 1, 2))),
    'baseline.sql': plan.ok ? upScript(plan.plan, null) : `${describePlanProblem(plan.problem)}\n`,
  }
}

describe.each(cases)('emitted of %s', (name) => {
  it('names no host, no password and no address', () => {
    const catalog = decodeCatalog(JSON.parse(readFileSync(join(root, name, 'input.json'), 'utf8')))
    const r = review(catalog, '0'.repeat(64) as never, [])
    const base = reviewBase(catalog, [])
    const rows = namedFixtures(catalog, r.model, generateFixtures(catalog, 1, 3))
    const all = [
      ...emitTypeScript(r.model, r.revision),
      ...reviewNotation(base, r, 'entity'),
      { text: fixturesTypeScript(rows, r.model).text },
      { text: fixtureSql(rows) },
    ]
    const found = all.flatMap((f) => f.text.match(/\w+:\/\/\S+|\blocalhost\b|\b\d{1,3}(?:\.\d{1,3}){3}\b|password|secret/gi) ?? [])
    expect(found).toEqual([])
  })
})

describe.each(cases)('%s', (name) => {
  const made = aspects(decodeCatalog(JSON.parse(readFileSync(join(root, name, 'input.json'), 'utf8'))))
  it.each(Object.keys(made))('%s', (file) => compare(join(root, name, file), made[file] as string))
})

describe.each(scripts)('%s', (name) => {
  const read = readScript([{ name: 'input.sql', text: readFileSync(join(root, name, 'input.sql'), 'utf8') }], semanticsNamed(name.split('-').at(-1) as string))
  const { 'emitted.ts.txt': emitted, ...others } = aspects(read.catalog)
  // Of the code what is each entity's own: the rest is the same for all.
  const own = (emitted as string).split(/^(?===== )/m).filter((f) => /^==== base\/[A-Z]\w*(?<!Store)\.ts/.test(f))
  const made: Readonly<Record<string, string>> = {
    'catalog.txt': `${JSON.stringify(JSON.parse(canonicalText(read.catalog)), null, 1)}\n`,
    'diagnostics.txt': read.diagnostics.map((d) => `${scriptDiagnosticLine(d)}\n`).join(''),
    ...others,
    'emitted.ts.txt': own.join(''),
  }
  it.each(Object.keys(made))('%s', (file) => compare(join(root, name, file), made[file] as string))
})

describe.each(wrong)('what is wrong with %s', (name) => {
  it('is told with its place', () => {
    const text = readFileSync(join(root, 'diagnostics', name), 'utf8')
    const told = name.endsWith('.pelvok')
      ? notationProblems(name, text)
      : readScript([{ name, text }], semanticsNamed(name.replace('.sql', ''))).diagnostics.map(scriptDiagnosticLine)
    expect(told.length).toBeGreaterThan(3)
    compare(join(root, 'diagnostics', `${name}.txt`), told.map((line) => `${line}\n`).join(''))
  })
})

function notationProblems(file: string, text: string): readonly string[] {
  const source = notationSource([{ file, text }])
  return source.ok ? [] : source.problems.map((p) => notationProblemLine(p, new Map([[file, text]])))
}
