import { expect, it } from 'vitest'
import { planBetween, postgres } from '../../../tests/support/plans.ts'
import { baselinePlan, touchedBy } from './index.ts'

const base = `
  CREATE TABLE bay (id integer PRIMARY KEY, label varchar(20) NOT NULL);
  CREATE TABLE crate (id integer PRIMARY KEY, bay_id integer, kind text);
  CREATE TABLE lane (id integer PRIMARY KEY, bay_id integer REFERENCES bay (id));
  CREATE VIEW crates AS SELECT id, kind FROM crate;`
const touched = (from: string, to: string, options: Parameters<typeof planBetween>[2] = {}) => {
  const { plan, reaches } = planBetween(from, to, options)
  return { plan, ...touchedBy(plan, postgres(from), reaches) }
}

it('a reference changes the table it is of, and locks the one it refers to', () => {
  const t = touched(base, `${base} ALTER TABLE crate ADD CONSTRAINT crate_bay FOREIGN KEY (bay_id) REFERENCES bay (id);`)
  expect(t.becomes).toEqual({ 'public.crate': 'changed', 'public.bay': 'locked' })
  expect(t.declared).toEqual(['public.crate(bay_id)'])
  expect(t.steps).toEqual(t.plan.steps.map(() => ({ about: ['public.crate'], locks: ['public.bay'] })))
})

it('indexes, defaults and views are those of a relation; what is dropped stays beside what there is', () => {
  const t = touched(
    base,
    `${base.replace(/CREATE TABLE lane.*\n/, '')} CREATE INDEX crate_kind_idx ON crate (kind); ALTER TABLE bay ALTER label SET DEFAULT 'x';
     CREATE TABLE rack (id integer PRIMARY KEY);`,
  )
  expect(t.becomes).toEqual({ 'public.rack': 'made', 'public.lane': 'dropped', 'public.crate': 'changed', 'public.bay': 'changed' })
  expect(t.catalog.relations.map((r) => r.name)).toEqual(['bay', 'crate', 'crates', 'rack', 'lane'])
  expect(t.catalog.relations.find((r) => r.name === 'lane')?.foreignKeys).toHaveLength(1)
  const about = Object.fromEntries(t.plan.steps.map((s, i) => [s.object, t.steps[i]?.about]))
  expect(about).toMatchObject({
    'index public.crate_kind_idx': ['public.crate'],
    'default of public.bay.label': ['public.bay'],
    'table public.lane': ['public.lane'],
  })
})

it('a renamed table is one table, under its new name', () => {
  const t = touched(base, base.replaceAll('lane', 'aisle'), {
    renames: [{ of: 'relation', from: { schema: 'public', name: 'lane' }, to: { schema: 'public', name: 'aisle' } }],
  })
  expect(t.becomes['public.aisle']).toBe('changed')
  expect(t.becomes['public.lane']).toBeUndefined()
  expect(t.steps[0]?.about).toEqual(['public.aisle'])
})

it('in an empty database nothing stands out, and every step that is about a relation says which', () => {
  const catalog = postgres(`${base} CREATE MATERIALIZED VIEW full_crates AS SELECT id FROM crate; CREATE TYPE mood AS ENUM ('calm');`)
  const result = baselinePlan(catalog)
  if (!result.ok) throw new Error('there is no baseline')
  const t = touchedBy(result.plan, null, catalog)
  expect(t.becomes).toEqual({})
  expect(result.plan.steps.filter((_, i) => t.steps[i]?.about.length === 0).map((s) => s.kind)).toEqual(['type'])
})
