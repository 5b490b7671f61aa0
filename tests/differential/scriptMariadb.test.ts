// What a script means to MariaDB: its own information_schema against our reading, for every MySQL script of the corpus and our own.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { Catalog } from '../../src/core/catalog/index.ts'
import { mysqlScript } from '../../src/core/dialect/mysql/script.ts'
import { type MariaDb, startMariaDb } from '../support/mariadb.ts'
import { corpusPath, corpusScripts, readFileScript, tortureOf } from '../support/scripts.ts'

let server: MariaDb
beforeAll(async () => {
  server = await startMariaDb()
})
afterAll(async () => {
  await server?.stop()
})

/** Lines that say all of a schema that both can say, in one order. */
interface Told {
  readonly tables: readonly string[]
  readonly columns: readonly string[]
  readonly keys: readonly string[]
  readonly references: readonly string[]
  readonly checks: readonly string[]
}

const sorted = (list: readonly string[]) => list.toSorted()

function toldByServer(db: string): Told {
  const of = (sql: string) => sorted(server.rows(sql.replaceAll('$db', `'${db}'`)).map((r) => r.join(' ')))
  return {
    tables: of(`select table_name, case table_type when 'VIEW' then 'view' else 'table' end from information_schema.tables where table_schema = $db`),
    columns: of(`select c.table_name, c.ordinal_position, c.column_name, c.column_type, c.is_nullable, if(c.extra like '%auto_increment%', 'counts', ''),
      if(c.generation_expression is null, '', if(c.extra like '%STORED%', 'stored', 'virtual')), if(c.extra like '%on update%', 'on update', '')
      from information_schema.columns c join information_schema.tables t using (table_schema, table_name) where c.table_schema = $db and t.table_type <> 'VIEW'`),
    keys: of(`select table_name, if(non_unique = 0, 'unique', 'index'), index_name, group_concat(column_name order by seq_in_index), lower(index_type)
      from information_schema.statistics where table_schema = $db group by table_name, index_name, non_unique, index_type`),
    references:
      of(`select k.table_name, k.constraint_name, group_concat(k.column_name order by k.ordinal_position), k.referenced_table_name, group_concat(k.referenced_column_name order by k.ordinal_position),
      replace(r.update_rule, 'RESTRICT', 'NO ACTION'), replace(r.delete_rule, 'RESTRICT', 'NO ACTION') from information_schema.key_column_usage k join information_schema.referential_constraints r
      on r.constraint_schema = k.constraint_schema and r.constraint_name = k.constraint_name and r.table_name = k.table_name
      where k.table_schema = $db and k.referenced_table_name is not null group by k.table_name, k.constraint_name, k.referenced_table_name, r.update_rule, r.delete_rule`),
    checks: of(`select table_name, constraint_name from information_schema.check_constraints where constraint_schema = $db`),
  }
}

function toldByUs(c: Catalog): Told {
  const tables = c.relations.filter((r) => r.kind === 'table')
  const parts = (x: Catalog['relations'][number]['indexes'][number]) =>
    x.columns.map((p) => p.column ?? p.expression?.written.replace(/\(\d+\)$/, '') ?? '').join()
  // InnoDB treats RESTRICT and NO ACTION alike, and servers differ in which they print for what is not said (MySQL manual, FOREIGN KEY Constraints).
  const rule = (a: string) => a.toUpperCase().replace('RESTRICT', 'NO ACTION')
  return {
    tables: sorted(c.relations.map((r) => `${r.name} ${r.kind}`)),
    columns: sorted(
      tables.flatMap((r) =>
        r.columns.map((col, i) =>
          [
            r.name,
            i + 1,
            col.name,
            col.type,
            col.nullable ? 'YES' : 'NO',
            col.identity ? 'counts' : '',
            col.generated?.kept ?? '',
            col.onUpdate ? 'on update' : '',
          ].join(' '),
        ),
      ),
    ),
    keys: sorted(
      tables.flatMap((r) => [
        ...(r.primaryKey ? [`${r.name} unique PRIMARY ${r.primaryKey.columns.join()} btree`] : []),
        ...r.uniques.map((u) => `${r.name} unique ${u.name} ${u.columns.join()} btree`),
        ...r.indexes.map((x) => `${r.name} ${x.unique ? 'unique' : 'index'} ${x.name} ${parts(x)} ${x.method}`),
      ]),
    ),
    references: sorted(
      tables.flatMap((r) =>
        r.foreignKeys.map(
          (f) => `${r.name} ${f.name} ${f.columns.join()} ${f.target.table} ${f.target.columns.join()} ${rule(f.onUpdate)} ${rule(f.onDelete)}`,
        ),
      ),
    ),
    checks: sorted(tables.flatMap((r) => r.checks.map((k) => `${r.name} ${k.name}`))),
  }
}

describe('a script means the same to MariaDB', () => {
  it.each([tortureOf('mariadb'), ...corpusScripts('mysql').map(corpusPath)].map((path, i) => [path, i] as const))('%s', (path, i) => {
    server.load(`s${i}`, path)
    const ours = readFileScript(path, mysqlScript())
    expect(ours.understood).toBe(ours.structural)
    if (ours.diagnostics.some((x) => x.code === 'template')) return console.log(`${path}: a template, which no server runs; not compared`)
    expect(toldByUs(ours.catalog)).toEqual(toldByServer(`s${i}`))
  })
})
