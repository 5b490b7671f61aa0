// What a script means to PostgreSQL: the survey of a database it was run in against our reading, for the demo, our own
// script of everything, and every script of the corpus. Only what `allowedDifference` lists may differ.
import { execFileSync } from 'node:child_process'
import { describe, expect, it } from 'vitest'
import { compareCatalogs } from '../../src/core/catalog/index.ts'
import { allowedDifference, scriptDiagnosticLine } from '../../src/core/ddl/index.ts'
import { postgresScript } from '../../src/core/dialect/postgres/script.ts'
import { corpusPath, corpusScripts, readFileScript, tortureOf } from '../support/scripts.ts'
import { makeDatabase, surveyOf } from '../support/server.ts'

/** Ends psql at once where it is not run by the server itself, and uses a name that a template engine fills in: psql runs neither. */
const notRun = /^pgagent-pg\/schema|^slony-pg\/schema/

describe('a script means the same to PostgreSQL', () => {
  const scripts = [
    'demo/schema.sql',
    tortureOf('postgresql'),
    ...corpusScripts('pg')
      .filter((s) => !notRun.test(s))
      .map(corpusPath),
  ]
  it.each(scripts)('%s', async (path) => {
    const db = await makeDatabase()
    try {
      execFileSync('psql', ['-X', '-q', '-f', path, db.url], { stdio: ['ignore', 'ignore', 'ignore'] })
      const server = (await surveyOf(db.location)).structure
      const ours = readFileScript(path, postgresScript)
      expect(ours.understood).toBe(ours.structural)
      expect(ours.diagnostics.map(scriptDiagnosticLine)).toEqual([])
      const views = new Set(server.relations.filter((r) => r.kind.includes('view')).map((r) => `relation ${r.schema}.${r.name}`))
      const differences = compareCatalogs(ours.catalog, server)
      const wrong = differences.filter((d) => allowedDifference(d, (object) => views.has(object)) === null)
      console.log(`${path}: ${differences.length - wrong.length} allowed differences`)
      expect(wrong).toEqual([])
    } finally {
      await db.drop()
    }
  })
})
