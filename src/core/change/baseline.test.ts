import { describe, expect, it } from 'vitest'
import { catalogOf, column, reference, table } from '../../../tests/support/catalogs.ts'
import type { Catalog } from '../catalog/index.ts'
import { baselinePlan, describePlanProblem } from './baseline.ts'
import { decodePlan } from './format.ts'
import { downScript, planFiles, upScript } from './script.ts'

function planOf(c: Catalog) {
  const result = baselinePlan(c)
  if (!result.ok) throw new Error(describePlanProblem(result.problem))
  return result.plan
}
const objects = (c: Catalog) => planOf(c).steps.map((s) => s.object)

const routine = (name: string, dependsOn: Catalog['routines'][number]['dependsOn'] = [], language = 'sql'): Catalog['routines'][number] => ({
  kind: 'function',
  schema: 's',
  name,
  argumentTypes: '',
  arguments: '',
  returns: 'integer',
  language,
  definition: { written: `CREATE FUNCTION s.${name}() RETURNS integer LANGUAGE ${language} AS 'SELECT 1'`, canonical: null },
  comment: null,
  dependsOn,
})

describe('baseline', () => {
  it('makes tables before the references between them, knots included', () => {
    const c = catalogOf(
      table('a', ['id', 'b_id'], ['id'], { foreignKeys: [reference('ab', ['b_id'], 'b', ['id'])] }),
      table('b', ['id', 'a_id'], ['id'], { foreignKeys: [reference('ba', ['a_id'], 'a', ['id'])] }),
    )
    expect(objects(c)).toEqual(['schema s', 'table s.a', 'table s.b', 'foreign key ab of s.a', 'foreign key ba of s.b'])
  })

  it('makes what a default calls before the table', () => {
    const t = table('a', [column('id', { default: { written: 's.f()', canonical: 's.f()' } })], ['id'], {
      dependsOn: [{ kind: 'routine', schema: 's', name: 'f()' }],
    })
    expect(objects({ ...catalogOf(t), routines: [routine('f')] })).toEqual(['schema s', 'function s.f()', 'table s.a'])
  })

  it('breaks a cycle of a table and a function at the table’s default', () => {
    const t = table('a', [column('id', { default: { written: 's.f()', canonical: 's.f()' } })], ['id'], {
      dependsOn: [{ kind: 'routine', schema: 's', name: 'f()' }],
    })
    const plan = planOf({ ...catalogOf(t), routines: [routine('f', [{ kind: 'relation', schema: 's', name: 'a' }])] })
    expect(plan.steps.map((s) => s.object)).toEqual(['schema s', 'table s.a', 'function s.f()', 'defaults of table s.a'])
    expect(plan.steps[1]?.up.join()).not.toContain('DEFAULT')
    expect(plan.steps[3]?.up).toEqual(['ALTER TABLE ONLY s.a ALTER COLUMN id SET DEFAULT s.f();'])
    expect(plan.steps[3]?.down).toEqual(['ALTER TABLE s.a ALTER COLUMN id DROP DEFAULT;'])
  })

  it('refuses a cycle without a table, with its members', () => {
    const c = {
      ...catalogOf(),
      routines: [routine('f', [{ kind: 'routine', schema: 's', name: 'g()' }]), routine('g', [{ kind: 'routine', schema: 's', name: 'f()' }])],
    }
    expect(baselinePlan(c)).toEqual({ ok: false, problem: { code: 'cycle', members: ['function s.f()', 'function s.g()'] } })
  })

  it('tells which steps need a higher role, and what it does not make', () => {
    const plan = planOf({ ...catalogOf(), routines: [routine('f', [], 'c')], unmodelled: [{ kind: 'policy', identity: 'p on s.t' }] })
    expect(plan.steps.flatMap((s) => s.hazards).map((h) => h.code)).toEqual(['needs-superuser'])
    expect(upScript(plan, null)).toContain('-- Not supported yet, and so not made:\n--   policy p on s.t')
  })

  it('goes down in reverse', () => {
    const plan = planOf(catalogOf(table('a', ['id'], ['id'])))
    expect(downScript(plan, null)).toMatch(/DROP TABLE s\.a;[\s\S]*DROP SCHEMA s;/)
  })

  it('is read back from its folder as it was', () => {
    const c = catalogOf(table('a', ['id'], ['id']))
    const plan = planOf(c)
    const { files, folder } = planFiles(plan, c, null, 'snapshot x', 1)
    expect(folder).toBe('0001-baseline')
    expect(decodePlan(JSON.parse(files['plan.json'] as string))).toEqual({ plan, revision: 'snapshot x' })
    expect(() => decodePlan({})).toThrow()
  })
})
