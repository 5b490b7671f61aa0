// Whole schemas that are awkward to infer from: many of one thing, each small. `schemas.js NAME` infers and derives from one, and says "end".
import { canonicalText, hashText } from '../../src/core/catalog/index.ts'
import { baselinePlan } from '../../src/core/change/index.ts'
import { readScript } from '../../src/core/ddl/index.ts'
import { postgresScript } from '../../src/core/dialect/postgres/script.ts'
import { emitTypeScript } from '../../src/core/emit/typescript/index.ts'
import { review } from '../../src/core/review/index.ts'
import { mapOf } from '../../src/core/strata/index.ts'

const times = <T>(n: number, f: (i: number) => T): T[] => Array.from({ length: n }, (_, i) => f(i))

export const awkwardSchemas: Readonly<Record<string, string>> = {
  'tables that share all their words': times(
    2000,
    (i) => `create table t${i} (id int primary key, t${(i + 1) % 2000}_id int, other_id int, parent_id int);`,
  ).join('\n'),
  'a view over very many tables': `create table t (id int primary key, t_id int); create view v as select a0.id from t a0 ${times(2000, (i) => `join t a${i + 1} on a${i + 1}.id = a${i}.t_id`).join(' ')};`,
  'a view that joins them in the other order': `create table t (id int primary key, t_id int); create view v as select a0.id from t a0 ${times(600, (i) => `join t a${i + 1} on true`).join(' ')} where ${times(600, (i) => `a${600 - i}.id = a${599 - i}.t_id`).join(' and ')};`,
  'children of children': `create table t0 (id int primary key); ${times(1500, (i) => `create table t${i + 1} () inherits (t${i});`).join('\n')}`,
  'partitions of partitions': `create table t0 (a int, b int) partition by range (a); ${times(600, (i) => `create table t${i + 1} partition of t${i} for values from (${i}) to (99999) partition by range (a);`).join('\n')}`,
  'one table that all refer to': `create table hub (id int primary key); ${times(800, (i) => `create table s${i} (id int primary key, hub_id int references hub, second_hub_id int references hub);`).join('\n')}`,
  'references in one long circle': `${times(800, (i) => `create table r${i} (id int primary key, next_id int);`).join('\n')} ${times(800, (i) => `alter table r${i} add foreign key (next_id) references r${(i + 1) % 800};`).join('\n')}`,
  'a table as wide as tables are': `create table wide (${times(1600, (i) => `column_${i}_id int`).join(', ')}, primary key (column_0_id));`,
  'views on views': `create table t (id int primary key, a int); create view v0 as select * from t; ${times(400, (i) => `create view v${i + 1} as select * from v${i};`).join('\n')}`,
}

const name = process.argv[1]?.endsWith('schemas.js') ? process.argv[2] : undefined
if (name !== undefined) {
  const { catalog } = readScript([{ name: 'a.sql', text: awkwardSchemas[name] ?? '' }], postgresScript)
  const r = review(catalog, hashText(canonicalText(catalog)), [])
  // The first is for what compares names: the rest of it is in the others.
  const parts = [
    ['layout', () => mapOf(catalog, r.findings, r.model, null)],
    ['code', () => emitTypeScript(r.model, r.revision)],
    ['plan', () => baselinePlan(catalog)],
  ] as const
  for (const [what, work] of name === Object.keys(awkwardSchemas)[0] ? [] : parts) {
    work()
    console.log(what)
  }
  console.log('end')
}
