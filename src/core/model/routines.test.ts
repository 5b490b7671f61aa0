import { describe, expect, it } from 'vitest'
import { emptyCatalog, type Routine } from '../catalog/index.ts'
import { emitTypeScript } from '../emit/typescript/index.ts'
import { derive } from './derive.ts'
import { calledRoutines } from './routines.ts'

const routine = (name: string, argumentTypes: string, args: string, returns: string | null, more: Partial<Routine> = {}): Routine => ({
  kind: returns === null ? 'procedure' : 'function',
  schema: 'yard',
  name,
  argumentTypes,
  arguments: args,
  returns,
  language: 'sql',
  definition: { written: '', normal: '' } as never,
  comment: null,
  dependsOn: [],
  ...more,
})
const catalog = (...routines: Routine[]) => ({ ...emptyCatalog('postgresql'), routines })
const one = (r: Routine) => calledRoutines(catalog(r))[0]
const code = (...routines: Routine[]) => {
  const model = derive(catalog(...routines), [], [])
  return emitTypeScript(model, { snapshot: '' as never, evidence: null, ledger: 0, inference: 0 }).find((f) => f.path === 'base/routines.ts')?.text ?? ''
}

describe('routines that can be called', () => {
  it('have parameters with their names, types of several words and defaults', () => {
    const r = one(routine('weigh', 'integer, character varying, numeric', 'crate integer, character varying, "Least" numeric DEFAULT 1.5', 'double precision'))
    expect(r?.parameters).toMatchObject([
      { name: 'crate', type: 'integer', optional: false },
      { name: null, type: 'character varying', optional: false },
      { name: 'Least', type: 'numeric', optional: true },
    ])
    expect(r).toMatchObject({ result: { kind: 'value', type: 'double precision' }, many: false, untyped: null })
  })

  it('give a value, rows of columns, or nothing', () => {
    expect(one(routine('all', '', '', 'SETOF text'))).toMatchObject({ result: { kind: 'value', type: 'text' }, many: true })
    expect(one(routine('t', '', '', 'TABLE(id integer, "Of what" character varying)'))).toMatchObject({
      result: { kind: 'columns', columns: [{ name: 'id' }, { name: 'Of what', type: 'character varying' }] },
      many: true,
    })
    expect(one(routine('o', 'integer', 'a integer, OUT b text, OUT c date', 'record'))).toMatchObject({
      parameters: [{ name: 'a' }],
      result: {
        kind: 'columns',
        columns: [
          { name: 'b', type: 'text' },
          { name: 'c', type: 'date' },
        ],
      },
      many: false,
    })
    expect(one(routine('v', '', '', 'void'))?.result.kind).toBe('nothing')
  })

  it('are none that triggers or the server call; others say why no typed call is made', () => {
    expect(calledRoutines(catalog(routine('stamp', '', '', 'trigger'), routine('in', 'cstring', 'cstring', 'integer')))).toEqual([])
    expect(one(routine('r', '', '', 'SETOF record'))?.untyped).toMatch(/columns are only said/)
    expect(one(routine('p', 'anyelement', 'anyelement', 'anyelement'))?.untyped).toMatch(/arguments are only known/)
    expect(one(routine('sum', 'integer', 'integer', 'integer', { kind: 'aggregate' }))?.untyped).toMatch(/an aggregate/)
  })

  it('become calls with one name each; what has a default is left out where it is not given', () => {
    const text = code(
      routine('weigh', 'integer', 'crate integer', 'numeric'),
      routine('weigh', 'text', 'label text', 'numeric'),
      routine('pack', 'integer, integer[]', 'crate integer DEFAULT 1, VARIADIC more integer[] DEFAULT NULL', null),
      routine('split', 'integer', 'IN crate integer, OUT left_over integer', null),
      routine('any', '', '', 'record'),
    )
    expect(text).toContain('export async function weigh(on: db.Db, crate: number | null): Promise<Decimal | null> {')
    expect(text).toContain('export async function yardWeigh(on: db.Db, label: string | null)')
    expect(text).toContain("  if (crate !== undefined) a.add('crate => ', 'integer', crate === null ? null : v.integer.write(crate))")
    expect(text).toContain('CALL yard.split($1::integer, NULL)')
    expect(text).toContain('// yard.any(): no call, as it gives back records')
  })
})
