import { expect, it } from 'vitest'
import { planBetween, postgres } from '../../../tests/support/plans.ts'
import type { SnapshotHash } from '../catalog/index.ts'
import { touchedBy } from '../change/index.ts'
import { planMap } from './planMap.ts'
import { reviewBase, reviewWith } from './review.ts'

const base = `
  CREATE TABLE office (id integer PRIMARY KEY, label text NOT NULL);
  CREATE TABLE bay (id integer PRIMARY KEY, office_id integer NOT NULL REFERENCES office (id));
  CREATE TABLE crate (id integer PRIMARY KEY, bay_id integer NOT NULL REFERENCES bay (id), kind_code text);
  CREATE TABLE label (id integer PRIMARY KEY, crate_id integer NOT NULL REFERENCES crate (id));
  CREATE TABLE mark (id integer PRIMARY KEY, word text);
  CREATE TABLE crate_mark (crate_id integer REFERENCES crate (id), mark_id integer REFERENCES mark (id), PRIMARY KEY (crate_id, mark_id));
  CREATE TABLE reading (bay_id integer NOT NULL REFERENCES bay (id), at date NOT NULL) PARTITION BY RANGE (at);
  CREATE TABLE reading_2026 PARTITION OF reading FOR VALUES FROM ('2026-01-01') TO ('2027-01-01');`

function mapOf(to: string, whole = false, from = base) {
  const { plan, reaches } = planBetween(from, to)
  const touched = touchedBy(plan, postgres(from), reaches)
  const own = reviewBase(touched.catalog, [])
  return { plan, map: planMap(own, reviewWith(own, '' as SnapshotHash, []), [], null, touched, whole) }
}
const plates = (m: ReturnType<typeof mapOf>['map']) => m.scene.plates.map((p) => p.id).sort()

it('shows what a plan changes and what is one step from it, or everything', () => {
  const to = `${base} CREATE INDEX label_crate ON label (crate_id);`
  expect(plates(mapOf(to).map)).toEqual(['public.crate', 'public.label'])
  expect(mapOf(to).map.whole).toBe(false)
  expect(plates(mapOf(to, true).map)).toContain('public.office')
  expect(mapOf(to).map.steps).toEqual([{ selected: 'entity:public.label', about: ['public.label'], plates: ['public.label'] }])
})

it('a join table is its bead, a partition the table it is of', () => {
  const { map } = mapOf(`${base} CREATE INDEX on_mark ON crate_mark (mark_id);
    CREATE TABLE reading_2027 PARTITION OF reading FOR VALUES FROM ('2027-01-01') TO ('2028-01-01');`)
  const bead = map.scene.beads[0]
  expect([bead?.first, bead?.second].sort()).toEqual(['public.crate', 'public.mark'])
  expect(map.becomes).toMatchObject({ [bead?.id as string]: 'changed', 'public.reading': 'changed' })
  const onBead = map.steps.find((s) => s.selected === bead?.id)
  expect([...(onBead?.plates ?? [])].sort()).toEqual(['public.crate', 'public.mark'])
  expect(map.absent).toEqual([])
})

it('a dropped table is drawn still, a new one already, and a reference that is declared leads to what it locks', () => {
  const { map } = mapOf(`${base.replace(/CREATE TABLE label .*\n/, '')} CREATE TABLE tag (id integer PRIMARY KEY, bay_id integer REFERENCES bay (id));`)
  expect(map.becomes).toMatchObject({ 'public.label': 'dropped', 'public.tag': 'made' })
  expect(plates(map)).toEqual(expect.arrayContaining(['public.label', 'public.tag', 'public.bay', 'public.crate']))
  const made = map.steps.find((s) => s.about.includes('public.tag') && s.plates.includes('public.bay'))
  expect(made?.selected).toBe('entity:public.tag')
  expect(map.scene.lines.find((l) => l.child === 'public.tag')?.state).toBe('enforced')
})

it('the line of a reference that is declared is marked as new', () => {
  const { map } = mapOf(base, false, base.replace('bay_id integer NOT NULL REFERENCES bay (id), kind_code', 'bay_id integer NOT NULL, kind_code'))
  expect(map.becomes).toEqual({ 'public.crate': 'changed', 'public.bay': 'locked', 'reference:public.crate(bay_id)': 'made' })
})

it('what does not take part is told, not drawn', () => {
  const { plan, reaches } = planBetween(base, `${base} CREATE INDEX label_crate ON label (crate_id);`)
  const touched = touchedBy(plan, postgres(base), reaches)
  const scoped = { ...touched.catalog, relations: touched.catalog.relations.filter((r) => r.name !== 'label') }
  const own = reviewBase(scoped, [])
  const map = planMap(own, reviewWith(own, '' as SnapshotHash, []), [], null, touched, false)
  expect(map.absent).toEqual(['public.label'])
  expect(map.becomes).toEqual({})
  expect(map.steps).toEqual([{ selected: null, about: [], plates: [] }])
})
