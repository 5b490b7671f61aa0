// SQLite files on disk: read through sqlite3 and cross-checked with its pragmas; what is no database is refused for its own reason.
import { spawn, spawnSync } from 'node:child_process'
import { existsSync, mkdtempSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { compareCatalogs } from '../../src/core/catalog/index.ts'
import { sqliteScript } from '../../src/core/dialect/sqlite/script.ts'
import { describeSqliteFailure, surveySqlite } from '../../src/engines/sqlite/index.ts'
import { corpusPath, corpusScripts, readFileScript, tortureOf } from '../support/scripts.ts'
import { eventually } from '../support/wait.ts'

let dir: string
beforeAll(() => {
  dir = mkdtempSync(join(tmpdir(), 'pelvok-sqlite-'))
})
afterAll(() => rmSync(dir, { recursive: true, force: true }))

const make = (name: string, sql: string | Buffer): string => {
  const file = join(dir, name)
  spawnSync('sqlite3', [file], { input: sql })
  return file
}

describe('a file', () => {
  it.each([tortureOf('sqlite'), ...corpusScripts('sqlite').map(corpusPath)].map((path, i) => [path, i] as const))(
    'made from %s agrees with its own pragmas',
    async (path, i) => {
      const answer = await surveySqlite(make(`${i}.db`, readFileSync(path)))
      if (!answer.ok) throw new Error(JSON.stringify(answer.failure))
      expect(answer.reading.disagreements).toEqual([])
      expect(answer.reading.understood).toBe(answer.reading.structural)
      // ALTER TABLE rewrites the text that the file keeps: the structure is the same, the wording of expressions may not be.
      const ours = readFileScript(path, sqliteScript).catalog
      expect(
        compareCatalogs(ours, answer.reading.catalog).filter((d) => !/definition|expression|default/.test(d.field) && !d.object.includes('shadow table')),
      ).toEqual([])
    },
  )

  it('of any name, with a write-ahead log beside it, which is told and read along', async () => {
    const file = join(dir, 'odd ?name#100%.db')
    const writer = spawn('sqlite3', [file], { stdio: ['pipe', 'ignore', 'ignore'] })
    writer.stdin.write('PRAGMA journal_mode=WAL;\nCREATE TABLE bay (id INTEGER PRIMARY KEY);\n')
    // The table is in the log alone once that holds anything.
    await eventually('the log', async () => existsSync(`${file}-wal`) && statSync(`${file}-wal`).size > 0)
    const answer = await surveySqlite(file)
    writer.stdin.end()
    expect(answer).toMatchObject({ ok: true, wal: true })
    expect(answer.ok && answer.reading.catalog.relations.map((r) => r.name)).toEqual(['bay'])
  })

  it('is not changed by being read', async () => {
    const file = make('still.db', 'CREATE TABLE bay (id INTEGER PRIMARY KEY);')
    const before = readFileSync(file)
    await surveySqlite(file)
    expect(readFileSync(file).equals(before)).toBe(true)
  })
})

describe('what is no database', () => {
  it.each([
    ['text', Buffer.from('CREATE TABLE a (x);'.repeat(100)), 'is no SQLite database'],
    ['a header and nothing that fits', Buffer.concat([Buffer.from('SQLite format 3\0'), Buffer.alloc(4000, 7)]), 'is no SQLite database'],
  ])('%s', async (name, bytes, message) => {
    const file = join(dir, `${name}.db`)
    writeFileSync(file, bytes)
    const answer = await surveySqlite(file)
    expect(answer.ok).toBe(false)
    if (!answer.ok) expect(describeSqliteFailure(answer.failure, file).message).toContain(message)
  })

  it('a file that is not there', async () => {
    const answer = await surveySqlite(join(dir, 'gone.db'))
    expect(answer).toMatchObject({ ok: false, failure: { kind: 'refused' } })
    expect(existsSync(join(dir, 'gone.db'))).toBe(false)
  })
})
