// Run as a process of its own (node dist/awkward.js ENTRY): feeds one entry point 100 KB of each awkward repetition, prints a line before
// and after each, and what was thrown. What stops for too long is ended from outside, and its last line names it.
import { objectRows } from '../../src/core/browse/index.ts'
import type { Catalog } from '../../src/core/catalog/index.ts'
import { baselinePlan, changePlan, upScript } from '../../src/core/change/index.ts'
import { parseScript } from '../../src/core/change/script.ts'
import { readScript } from '../../src/core/ddl/index.ts'
import { guessDialect, parseDialect, semanticsOf } from '../../src/core/dialect/guess.ts'
import { asReadBack, reparsable } from '../../src/core/dialect/postgres/reparse.ts'
import { emitTypeScript, overriddenIn } from '../../src/core/emit/typescript/index.ts'
import { readCsv } from '../../src/core/fixtures/csv.ts'
import { generateFixtures } from '../../src/core/fixtures/index.ts'
import { listedValues } from '../../src/core/infer/structure/index.ts'
import { pairsInTexts } from '../../src/core/infer/undeclared/joins.ts'
import { formatNotation, notationOf, notationSource, parseNotation } from '../../src/core/notation/index.ts'
import { printNotation } from '../../src/core/notation/print.ts'
import { detailOf, docketItems, review, sheetOf } from '../../src/core/review/index.ts'
import { matchesPattern, proposeLeavingOut } from '../../src/core/scope/index.ts'
import { parseUrl } from '../../src/engines/postgres/location.ts'

const size = 100_000
const units = [
  '(',
  ')',
  '((',
  '[',
  ']',
  '{',
  '}',
  "'",
  "''",
  '"',
  '""',
  '`',
  ' ',
  '\t',
  '\n',
  '\r',
  ' \n',
  '*',
  '-',
  '--',
  '-- \n',
  '/*',
  '*/',
  '/**/',
  ',',
  ', ',
  ';',
  '.',
  ':',
  '::',
  '$',
  '$$',
  '$a$',
  '$a',
  '\\',
  "\\'",
  'a',
  '0',
  '1.',
  'a.',
  'a,',
  'a b ',
  "'a',",
  "'a', ",
  '"a".',
  '((ARRAY[',
  'ANY ((ARRAY[',
  ' or ',
  'a or ',
  'select ',
  '(select ',
  'and ',
  'not ',
  'case when ',
  'case ',
  'end ',
  'in (',
  '::text',
  '::text[]',
  "E'",
  "E'\\",
  '<',
  '<>',
  '=',
  '%',
  '#',
  '@',
  '{{',
  '${',
  '{%',
  'with ',
  'with a as (',
  'the ',
  'refers to ',
  'references the ',
  'as $',
  'begin ',
  'declare ',
  'x as y ',
  'join ',
  'a(',
  'nextval(',
  "nextval('",
  'as ',
  'enum(',
  '\u0000',
  '\u2028',
  '\u202e',
  'İ',
  'é',
  '😀',
  'WITH\t',
  'CREATE ',
  'CREATE VIEW ',
  'delimiter ',
  '-- Server version',
  'public async ',
  '<a>',
  'import a from',
  'null ',
  'is null ',
  '~',
  '^',
  '|',
  '||',
  '?',
  'Aa',
  'a_',
  '_',
  '__',
  'a-',
  'primary key(',
  'integer,',
  'SET ',
  'for type ',
] as const
const of = (unit: string) => unit.repeat(Math.ceil(size / unit.length)).slice(0, size)

/** Errors that say what is wrong, in words and with a place; anything else that is thrown is a fault. */
const refused = (error: unknown) => error instanceof Error && ['ZodError', 'ExitError', 'SyntaxError'].includes(error.name)

const dialects = ['postgresql', 'mysql', 'sqlite'] as const
const semantics = (d: string) => {
  const choice = parseDialect(d)
  if (!choice) throw new Error(d)
  return semanticsOf(choice)
}

/** Everything that is made of a catalog for a page, code, a plan and rows. */
function follow(catalog: Catalog): void {
  const r = review(catalog, '0'.repeat(64) as never, [])
  docketItems(r)
  for (const e of r.model.entities.slice(0, 5)) sheetOf(e.id, catalog, catalog, r)
  for (const f of r.findings.slice(0, 20)) detailOf(f.id, catalog, r, [])
  emitTypeScript(r.model, r.revision)
  const n = notationOf(r.model, catalog, r.kinds, { neutral: false })
  parseNotation([{ file: 'n.pelvok', text: printNotation(n, null) }])
  proposeLeavingOut(catalog)
  objectRows(catalog)
  if (catalog.dialect !== 'postgresql') return
  const plan = baselinePlan(catalog)
  if (plan.ok) upScript(plan.plan, null)
  const back = changePlan(catalog, { ...catalog, relations: [] }, { title: 'x' })
  if (back.ok) upScript(back.changed.plan, null)
  generateFixtures(catalog, 1, 2)
}

const script = (d: string, text: string) => readScript([{ name: 'a.sql', text }], semantics(d)).catalog
/** Where a text can stand in a script. */
const places: Readonly<Record<string, (t: string) => string>> = {
  whole: (t) => t,
  'behind a table': (t) => `create table t (id int primary key, a varchar(9));\n${t}`,
  check: (t) => `create table t (id int primary key, a varchar(9), check (a in (${t})));`,
  'check, open': (t) => `create table t (id int primary key, a varchar(9), check (a = ${t}`,
  default: (t) => `create table t (id int primary key, a varchar(9) default ${t});`,
  generated: (t) => `create table t (id int primary key, a varchar(9) generated always as (${t}) stored);`,
  view: (t) => `create table t (id int primary key); create view v as select ${t};`,
  'view behind from': (t) => `create table t (id int primary key); create view v as select id from ${t};`,
  routine: (t) => `create function f() returns int language sql as $f$ ${t} $f$;`,
  arguments: (t) => `create function f(${t}) returns int language sql as 'select 1';`,
  trigger: (t) => `create table t (id int); create trigger g before insert on t for each row begin ${t}; end;`,
  index: (t) => `create table t (id int, a text); create index i on t (id) where ${t};`,
  type: (t) => `create table t (id ${t});`,
  name: (t) => `create table "${t.replaceAll('"', '""')}" (id int primary key, "${t.replaceAll('"', '""')}" int);`,
  comment: (t) => `create table t (id int primary key, t_id int); comment on column t.t_id is '${t.replaceAll("'", "''")}';`,
  enum: (t) => `create type e as enum ('${t.replaceAll("'", "''")}');`,
}

/** The same value with each text that is an expression, a comment, or whatever `is` names, exchanged. */
function exchanged(value: unknown, t: string, is: (key: string) => boolean): unknown {
  if (Array.isArray(value)) return value.map((v) => exchanged(v, t, is))
  if (typeof value !== 'object' || value === null) return value
  return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, typeof v === 'string' && is(k) ? t : exchanged(v, t, is)]))
}
const small = (d: string): Catalog =>
  script(
    d,
    `create table bay (id int primary key, label varchar(20) default 'x' check (label in ('x', 'y')), note text);
     create table crate (id int primary key, bay_id int references bay (id), kind varchar(3));
     create view crates as select c.id, b.label from crate c join bay b on b.id = c.bay_id;`,
  )

type Entry = (t: string) => void
const entries: Readonly<Record<string, Entry>> = {
  ...Object.fromEntries(
    dialects.flatMap((d) => Object.entries(places).map(([place, text]): [string, Entry] => [`script ${d} ${place}`, (t) => follow(script(d, text(t)))])),
  ),
  ...Object.fromEntries(
    dialects.flatMap((d): [string, Entry][] => [
      [`snapshot ${d} expressions`, (t) => follow(exchanged(small(d), t, (k) => k === 'written' || k === 'canonical') as Catalog)],
      [`snapshot ${d} comments`, (t) => follow(exchanged(small(d), t, (k) => k === 'comment') as Catalog)],
      [`snapshot ${d} types`, (t) => follow(exchanged(small(d), t, (k) => k === 'type') as Catalog)],
    ]),
  ),
  notation: (t) => void notationSource([{ file: 'a.pelvok', text: t }]),
  'notation entity': (t) => void notationSource([{ file: 'a.pelvok', text: `entity Bay = bay\n  ${t}\n` }]),
  'notation layout': (t) => void formatNotation({ file: 'a.pelvok', text: `entity Bay = bay\n  ${t}\n` }),
  guess: (t) => void guessDialect(t),
  csv: (t) => void readCsv(t),
  url: (t) => void [parseUrl(t), parseUrl(`postgresql://${t}`), parseUrl(`postgresql://h/a?${t}`)],
  queries: (t) => void pairsInTexts([t, `select * from ${t}`, `select 1 from bay join crate on ${t}`], small('postgresql').relations),
  pattern: (t) =>
    void [
      matchesPattern(t, { schema: 'public', name: 'a'.repeat(1000) }),
      matchesPattern(`${'*a'.repeat(500)}b`, { schema: 'public', name: t.slice(0, 1000) }),
    ],
  'printed expression': (t) => void [asReadBack(`a = ANY ((ARRAY[${t}])::text[])`), reparsable(t), asReadBack(`a = ANY ((ARRAY[${t}`)],
  'listed values': (t) => void [listedValues(`x in ('${t}')`, 'x'), listedValues(`x in (${t})`, 'x'), listedValues(`x = 'a'${t}`, 'x')],
  'own code': (t) => void overriddenIn(new Map([['a.ts', t]]), { 'a.ts': 'a.ts' }),
  'hand-written plan': (t) => void parseScript(`-- 1. x\n${t}`, [], null),
}

const wanted = process.argv.slice(2)
/** Where to go on after one that was ended. */
const from = Number(process.env['AWKWARD_FROM'] ?? 0)
for (const [name, entry] of Object.entries(entries)) {
  if (wanted.length > 0 && !wanted.includes(name)) continue
  for (const [i, unit] of units.entries()) {
    if (i < from) continue
    console.log(`start ${i} ${name} ${JSON.stringify(unit)}`)
    const started = performance.now()
    try {
      entry(of(unit))
    } catch (error) {
      if (!refused(error))
        console.log(
          `threw ${name} ${JSON.stringify(unit)} ${String((error as Error)?.stack ?? error)
            .split('\n')
            .slice(0, 4)
            .join(' | ')
            .slice(0, 500)}`,
        )
    }
    const ms = performance.now() - started
    if (process.env['AWKWARD_SLOW'] && ms > Number(process.env['AWKWARD_SLOW'])) console.log(`slow ${name} ${JSON.stringify(unit)} ${Math.round(ms)}`)
  }
}
console.log('end')
