// Names of any kind, for every kind of object: what the server keeps is what we read, from it and from a script, and what a plan makes again.
import { describe, expect, it } from 'vitest'
import { compareCatalogs } from '../../src/core/catalog/index.ts'
import { baselinePlan, describePlanProblem } from '../../src/core/change/index.ts'
import { allowedDifference, readScript, scriptDiagnosticLine } from '../../src/core/ddl/index.ts'
import { postgresScript } from '../../src/core/dialect/postgres/script.ts'
import { rehearse } from '../../src/engines/postgres/index.ts'
import { adminLocation, makeDatabase, surveyOf } from '../support/server.ts'

const names = [
  'Mixed Case',
  'with "quotes" inside',
  `it's`,
  'dot.ted',
  'select',
  'a\\b%s$1',
  '$$',
  ' spaces around ',
  '1st; --',
  'größe_über_alles',
  '箱'.repeat(21),
  'x'.repeat(63),
]

/** One of each kind under the same name, as far as the kinds have spaces of their own. */
function everythingCalled(name: string): string {
  const q = `"${name.replaceAll('"', '""')}"`
  const lit = `'${name.replaceAll("'", "''")}'`
  return `
    create schema ${q};
    create type ${q}.${q} as enum (${lit}, 'other');
    create domain ${q}.kind as text constraint ${q} check (value <> ${lit});
    create type ${q}.pair as (${q} int, note text);
    create type ${q}.span as range (subtype = numeric);
    create collation ${q}.${q} (locale = 'C');
    create sequence ${q}.counter;
    create function ${q}.${q}(${q} integer) returns integer language sql as 'select 1';
    create function ${q}.fires() returns trigger language plpgsql as 'begin return new; end';
    create table ${q}.base (id int constraint ${q} primary key, ${q} ${q}.${q} default ${lit}, p ${q}.pair, w ${q}.span, t text collate ${q}.${q}, k ${q}.kind);
    create table ${q}.other (id int generated always as identity primary key, ${q} int not null constraint ${q} references ${q}.base (id), constraint positive check (${q} > 0));
    create index ix on ${q}.other (${q});
    create trigger ${q} before update of ${q} on ${q}.other for each row execute function ${q}.fires();
    create policy ${q} on ${q}.other using (${q} > 1);
    create view ${q}.seen as select ${q} from ${q}.other;
    create statistics ${q}.${q} on id, ${q} from ${q}.other;
    comment on column ${q}.other.${q} is ${lit};`
}

describe('names of any kind', () => {
  it.each(names)('%j', async (name) => {
    const text = everythingCalled(name)
    const db = await makeDatabase(text)
    try {
      const { structure } = await surveyOf(db.location)
      expect(structure.schemas.map((s) => s.name)).toContain(name)
      expect(structure.relations.find((r) => r.name === 'other')).toMatchObject({
        foreignKeys: [{ name, columns: [name] }],
        triggers: [{ name }],
        policies: [{ name }],
      })
      const script = readScript([{ name: 'names.sql', text }], postgresScript)
      expect(script.diagnostics.map(scriptDiagnosticLine)).toEqual([])
      const isView = (object: string) => object.endsWith('seen')
      expect(compareCatalogs(script.catalog, structure).filter((d) => allowedDifference(d, isView) === null)).toEqual([])
      const plan = baselinePlan(structure)
      if (!plan.ok) throw new Error(describePlanProblem(plan.problem))
      const r = await rehearse(plan.plan, structure, adminLocation(), {})
      expect([r.failure, r.phases.flatMap((p) => p.differences)]).toEqual([null, []])
    } finally {
      await db.drop()
    }
  })
})
