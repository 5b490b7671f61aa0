// From a script of any dialect to classes that compile: the whole path but the server.
import { rmSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, describe, expect, it } from 'vitest'
import { canonicalText, hashText } from '../../src/core/catalog/index.ts'
import { mysqlScript } from '../../src/core/dialect/mysql/script.ts'
import { postgresScript } from '../../src/core/dialect/postgres/script.ts'
import { sqliteScript } from '../../src/core/dialect/sqlite/script.ts'
import { emitTypeScript } from '../../src/core/emit/typescript/index.ts'
import { printedRelationships } from '../../src/core/model/index.ts'
import { review } from '../../src/core/review/index.ts'
import { mapOf } from '../../src/core/strata/index.ts'
import { codeFolder, compile, writeFiles } from '../support/compile.ts'
import { corpusPath, corpusScripts, readFileScript, tortureOf } from '../support/scripts.ts'

const some = (suffix: 'mysql' | 'sqlite', names: RegExp) =>
  corpusScripts(suffix)
    .filter((s) => names.test(s))
    .map(corpusPath)
const scripts = [
  [tortureOf('postgresql'), postgresScript],
  ...[tortureOf('mariadb'), ...some('mysql', /^(kea|biosql|digikam)-mysql\/normalized/)].map((p) => [p, mysqlScript()] as const),
  ...[tortureOf('sqlite'), ...some('sqlite', /^(bacula|calibre|roundcube)-sqlite\/schema/)].map((p) => [p, sqliteScript] as const),
] as const

const work = codeFolder()
const folders: string[] = []
afterAll(() => rmSync(work, { recursive: true, force: true }))

describe('a script becomes classes', () => {
  it.each(scripts)('%s', (path, semantics) => {
    const { catalog } = readFileScript(path, semantics)
    const r = review(catalog, hashText(canonicalText(catalog)), [])
    const declared = catalog.relations.filter((x) => x.kind !== 'partition').flatMap((x) => x.foreignKeys)
    const keys = new Set(declared.map((f) => `${f.columns.toSorted()}>${f.target.table}`))
    expect(printedRelationships(r.model, r.findings, r.statuses, 0).length).toBeGreaterThanOrEqual(Math.min(1, keys.size))
    const scene = mapOf(catalog, r.findings, r.model, null)
    expect(scene.plates.length + scene.beads.length).toBeGreaterThan(0)
    const files = emitTypeScript(r.model, r.revision)
    const dir = join(work, String(folders.length))
    folders.push(dir)
    writeFiles(dir, files)
    const code = (text: string) => text.replace(/\/\*[\s\S]*?\*\/|\/\/.*|'(?:[^'\\]|\\.)*'/g, '')
    expect(files.filter((f) => /\b(any|unknown)\b/.test(code(f.text))).map((f) => f.path)).toEqual([])
  })

  it('all of them compile', () => {
    expect(folders).toHaveLength(scripts.length)
    compile(...folders)
  })
})
