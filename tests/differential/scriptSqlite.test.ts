// What a script means to SQLite: its pragmas against our reading, for every SQLite script of the corpus and our own.
import { execFileSync, spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Catalog, Relation } from '../../src/core/catalog/index.ts'
import { sqliteScript } from '../../src/core/dialect/sqlite/script.ts'
import { corpusPath, corpusScripts, readFileScript, tortureOf } from '../support/scripts.ts'

let dir: string
beforeAll(() => {
  dir = mkdtempSync(join(tmpdir(), 'pelvok-sqlite-'))
})
afterAll(() => rmSync(dir, { recursive: true, force: true }))

type Row = Readonly<Record<string, string | number | null>>

function rows(file: string, sql: string): readonly Row[] {
  const out = execFileSync('sqlite3', ['-json', file, sql], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] })
  return out.trim() === '' ? [] : (JSON.parse(out) as Row[])
}

const quote = (text: string) => `'${text.replaceAll("'", "''")}'`
const sorted = (list: readonly string[]) => list.toSorted()
/** The declared type is kept with the white space of its author. */
const oneSpace = (text: unknown) =>
  String(text)
    .replace(/\s+/g, ' ')
    .replace(/ ?([(),]) ?/g, '$1')
    .trim()

/** Views over functions of an application: SQLite itself cannot tell their columns. */
function untold(file: string): ReadonlySet<string> {
  const views = rows(file, `select name from sqlite_master where type = 'view'`).map((v) => String(v['name']))
  return new Set(
    views.filter((v) => {
      try {
        rows(file, `select name from pragma_table_xinfo(${quote(v)})`)
        return false
      } catch {
        return true
      }
    }),
  )
}

function toldByServer(file: string, virtual: ReadonlySet<string>, broken: ReadonlySet<string>) {
  const list = rows(file, `select name, type from pragma_table_list where schema = 'main' and type in ('table', 'view') and name not like 'sqlite_%'`).filter(
    (t) => !virtual.has(String(t['name'])),
  )
  /** Where no columns are named, the primary key is meant. */
  const keyOf = (table: string) =>
    rows(file, `select lower(name) as name from pragma_table_info(${quote(table)}) where pk > 0 order by pk`)
      .map((c) => c['name'])
      .join()
  return {
    relations: sorted(list.map((t) => `${t['name']} ${t['type']}`)),
    columns: sorted(
      list
        .filter((t) => !broken.has(String(t['name'])))
        .flatMap((t) =>
          rows(file, `select name, type, "notnull", pk, hidden from pragma_table_xinfo(${quote(String(t['name']))}) order by cid`).map((c, i) =>
            [
              t['name'],
              i,
              c['name'],
              t['type'] === 'view' ? '' : oneSpace(c['type']),
              t['type'] === 'view' || c['pk'] !== 0 ? '' : c['notnull'],
              c['pk'],
              c['hidden'],
            ].join('|'),
          ),
        ),
    ),
    keys: sorted(
      list.flatMap((t) =>
        rows(
          file,
          `select i.name, i."unique", i.origin, i.partial, (select group_concat(coalesce(x.name, '()'), ',') from pragma_index_info(i.name) x) as columns from pragma_index_list(${quote(String(t['name']))}) i`,
        )
          .filter((x) => x['origin'] !== 'pk')
          .map((x) =>
            [t['name'], x['origin'] === 'u' ? 'unique' : x['unique'] ? `unique index ${x['name']}` : `index ${x['name']}`, x['columns'], x['partial']].join(
              '|',
            ),
          ),
      ),
    ),
    references: sorted(
      list.flatMap((t) =>
        rows(
          file,
          `select id, "table" as target, group_concat("from", ',') as columns, group_concat("to", ',') as targets, on_update, on_delete from pragma_foreign_key_list(${quote(String(t['name']))}) group by id`,
        ).map((f) =>
          [
            t['name'],
            f['columns'],
            String(f['target']).toLowerCase(),
            f['targets'] === null ? keyOf(String(f['target'])) : String(f['targets']).toLowerCase(),
            f['on_update'],
            f['on_delete'],
          ].join('|'),
        ),
      ),
    ),
    triggers: sorted(rows(file, `select name, tbl_name from sqlite_master where type = 'trigger'`).map((t) => `${t['tbl_name']}|${t['name']}`)),
  }
}

function toldByUs(c: Catalog, broken: ReadonlySet<string>) {
  const place = (r: Relation, column: string) => (r.primaryKey?.columns.indexOf(column) ?? -1) + 1
  return {
    relations: sorted(c.relations.map((r) => `${r.name} ${r.kind}`)),
    columns: sorted(
      c.relations
        .filter((r) => !broken.has(r.name))
        .flatMap((r) =>
          r.columns.map((col, i) =>
            [
              r.name,
              i,
              col.name,
              r.kind === 'view' ? '' : oneSpace(col.type),
              r.kind === 'view' || place(r, col.name) > 0 ? '' : col.nullable ? 0 : 1,
              place(r, col.name),
              col.generated === null ? 0 : col.generated.kept === 'stored' ? 3 : 2,
            ].join('|'),
          ),
        ),
    ),
    keys: sorted(
      c.relations.flatMap((r) => [
        ...r.uniques.map((u) => `${r.name}|unique|${u.columns.join()}|0`),
        ...r.indexes.map(
          (x) => `${r.name}|${x.unique ? 'unique index' : 'index'} ${x.name}|${x.columns.map((p) => p.column ?? '()').join()}|${x.predicate === null ? 0 : 1}`,
        ),
      ]),
    ),
    references: sorted(
      c.relations.flatMap((r) =>
        r.foreignKeys.map((f) =>
          [
            r.name,
            f.columns.join(),
            f.target.table.toLowerCase(),
            f.target.columns.join().toLowerCase(),
            f.onUpdate.toUpperCase(),
            f.onDelete.toUpperCase(),
          ].join('|'),
        ),
      ),
    ),
    triggers: sorted(c.relations.flatMap((r) => r.triggers.map((t) => `${r.name}|${t.name}`))),
  }
}

describe('a script means the same to SQLite', () => {
  it.each([tortureOf('sqlite'), ...corpusScripts('sqlite').map(corpusPath)].map((path, i) => [path, i] as const))('%s', (path, i) => {
    const file = join(dir, `${i}.db`)
    // Statements that need functions of an application fail; the rest is run.
    spawnSync('sqlite3', [file], { input: readFileSync(path) })
    const ours = readFileScript(path, sqliteScript)
    expect(ours.understood).toBe(ours.structural)
    const byName = new Set(ours.catalog.unmodelled.map((u) => u.identity.split(' (')[0] as string))
    const broken = untold(file)
    expect(toldByUs(ours.catalog, broken)).toEqual(toldByServer(file, byName, broken))
  })
})
