// Golden files: one case is a folder with input.json (a snapshot) and one expected file per aspect, made to be read in a diff.
// UPDATE_GOLDEN=1 writes them anew; CI never does.
import { existsSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { decodeCatalog } from '../../src/core/catalog/index.ts'
import { baselinePlan, describePlanProblem, upScript } from '../../src/core/change/index.ts'
import { emitTypeScript, fixturesTypeScript } from '../../src/core/emit/typescript/index.ts'
import { fixtureSql, generateFixtures, namedFixtures } from '../../src/core/fixtures/index.ts'
import { describeModelDiagnostic, sentencesOf, sentenceText } from '../../src/core/model/index.ts'
import { docketItems, notationText, review, reviewBase, reviewNotation } from '../../src/core/review/index.ts'
import { layoutMap, mapInput } from '../../src/core/strata/index.ts'

const root = import.meta.dirname
const cases = readdirSync(root).filter((name) => existsSync(join(root, name, 'input.json')))

/** One line per fact. */
function aspects(input: string): Readonly<Record<string, string>> {
  const catalog = decodeCatalog(JSON.parse(input))
  const r = review(catalog, '0'.repeat(64) as never, [])
  const lines = (list: readonly string[]) => `${list.join('\n')}\n`
  const scene = layoutMap(mapInput(catalog, r.findings, r.model, null))
  const plan = baselinePlan(catalog)
  return {
    'inferred.txt': lines(docketItems(r).map((i) => `${i.status} ${i.confidence.toFixed(2)} ${i.id}: ${i.says.map(sentenceText).join(' ')}`)),
    'model.txt': lines([
      ...r.model.entities.map((e) => `${e.name}: ${e.properties.map((p) => `${p.name} ${p.type}${p.nullable ? '?' : ''}`).join(', ')}`),
      ...r.model.relationships.map((x) => `${x.id} ${x.kind} ${x.state}: ${sentencesOf(x, r.model).map(sentenceText).join(' ')}`),
      ...r.model.diagnostics.map(describeModelDiagnostic),
    ]),
    'layout.txt': lines([
      ...scene.bands.map(
        (b) =>
          `band ${b.area}: ${scene.plates
            .filter((p) => p.area === b.area)
            .map((p) => `${p.nameLines.join('')}@${p.rank}`)
            .join(' ')}`,
      ),
      ...(scene.strip
        ? [
            `strip: ${scene.plates
              .filter((p) => p.area === null)
              .map((p) => p.nameLines.join(''))
              .join(' ')}`,
          ]
        : []),
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
  const made = aspects(readFileSync(join(root, name, 'input.json'), 'utf8'))
  it.each(Object.keys(made))('%s', (file) => {
    const path = join(root, name, file)
    if (process.env['UPDATE_GOLDEN'] === '1' && !process.env['CI']) writeFileSync(path, made[file] as string)
    expect(made[file]).toBe(readFileSync(path, 'utf8'))
  })
})
