// A schema as it grows in fifteen years, of any size: areas of tables that refer to each other, lookups that everything refers to, audit
// columns everywhere, join tables, and a third of the references not declared. Seeded: the same numbers give the same text.
import { generator } from './random.ts'

const things = ['bay', 'crate', 'lane', 'porter', 'pallet', 'dock', 'wagon', 'seal', 'route', 'shift', 'gate', 'tariff', 'parcel', 'depot', 'crane', 'berth']
const aspects = [
  'line',
  'note',
  'check',
  'plan',
  'entry',
  'event',
  'detail',
  'rate',
  'period',
  'report',
  'request',
  'level',
  'contact',
  'text',
  'score',
  'batch',
]

/** PostgreSQL statements that make `count` tables; the first are the three that most refer to. */
export function legacyScript(count: number, seed = 7): string {
  const g = generator(seed)
  const statements = [
    'CREATE TABLE staff (id integer PRIMARY KEY, login varchar(40) NOT NULL UNIQUE, full_name text);',
    'CREATE TABLE status (id integer PRIMARY KEY, label varchar(40) NOT NULL);',
    'CREATE TABLE tenant (id integer PRIMARY KEY, label varchar(80) NOT NULL);',
  ]
  const names = new Set(['staff', 'status', 'tenant'])
  let area: string[] = []
  let earlier: string[] = []
  while (statements.length < count) {
    if (area.length > 9 + g.below(8)) {
      earlier = [...earlier, ...area.slice(0, 3)]
      area = []
    }
    const root = area[0] ?? `${g.pick(things)}${names.size > things.length * 2 ? names.size : ''}`
    const name = area.length === 0 ? root : `${root}_${g.pick(aspects)}${g.chance(0.3) ? `_${g.pick(aspects)}` : ''}`
    if (names.has(name)) continue
    names.add(name)
    const join = area.length > 3 && g.chance(0.1)
    statements.push(join ? joinTable(name, area, g) : plainTable(name, area, earlier, g))
    if (!join) area.push(name)
  }
  return `${statements.join('\n')}\n`
}

type Random = ReturnType<typeof generator>

const column = (target: string, declared: boolean, nullable: boolean, name = `${target}_id`) =>
  `${name} integer${nullable ? '' : ' NOT NULL'}${declared ? ` REFERENCES ${target} (id)` : ''}`

function plainTable(name: string, area: readonly string[], earlier: readonly string[], g: Random): string {
  const targets = new Set<string>()
  for (let n = area.length === 0 ? 0 : 1 + g.below(2); n > 0; n -= 1) targets.add(g.pick(area))
  if (earlier.length > 0 && g.chance(0.3)) targets.add(g.pick(earlier))
  const columns = [
    'id integer PRIMARY KEY',
    ...[...targets].map((t) => column(t, g.chance(0.65), g.chance(0.4))),
    ...(g.chance(0.5) ? [column('status', g.chance(0.5), false)] : []),
    ...(g.chance(0.4) ? [column('tenant', g.chance(0.8), false)] : []),
    'label varchar(80) NOT NULL',
    ...(g.chance(0.6) ? ['amount numeric(12,2)'] : []),
    ...(g.chance(0.5) ? ['remark text'] : []),
    'created_at timestamp NOT NULL DEFAULT now()',
    ...(g.chance(0.8) ? [column('staff', false, true, 'created_by')] : []),
    ...(g.chance(0.5) ? [column('staff', false, true, 'changed_by')] : []),
  ]
  return `CREATE TABLE ${name} (\n    ${columns.join(',\n    ')}\n);`
}

function joinTable(name: string, area: readonly string[], g: Random): string {
  const a = g.pick(area)
  const b = g.pick(area.filter((t) => t !== a))
  const own = g.chance(0.4) ? ',\n    created_at timestamp NOT NULL DEFAULT now()' : ''
  return `CREATE TABLE ${name} (\n    ${column(a, true, false)},\n    ${column(b, true, false)}${own},\n    PRIMARY KEY (${a}_id, ${b}_id)\n);`
}
