// Which files a ruling changes, told without making them all: the same as if all were made.
import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { decodeCatalog } from '../../src/core/catalog/index.ts'
import { changedPaths, emitTypeScript } from '../../src/core/emit/typescript/index.ts'
import { infer } from '../../src/core/infer/index.ts'
import { decodeEntry, derive, type EntityModel, type EntryBody, plainSettings, type TrialStep } from '../../src/core/model/index.ts'

const catalog = decodeCatalog(JSON.parse(readFileSync('tests/golden/coop/input.json', 'utf8')))
const { findings } = infer(catalog)
const modelOf = (...bodies: readonly EntryBody[]) =>
  derive(
    catalog,
    findings,
    bodies.map((b, i) => decodeEntry({ seq: i + 1, at: '2026-11-20T10:00:00Z', by: 'Mara', ...b })),
  )
const textsOf = (m: EntityModel) => new Map(emitTypeScript(m, { snapshot: '' as never, evidence: null, ledger: 0, inference: 0 }).map((f) => [f.path, f.text]))
/** The slow way. */
function compared(before: EntityModel, after: EntityModel): readonly string[] {
  const [was, is] = [textsOf(before), textsOf(after)]
  return [...new Set([...was.keys(), ...is.keys()])].filter((path) => was.get(path) !== is.get(path)).sort()
}

const edit = (facet: string, subject: string, value: unknown) => ({ kind: 'edit', edit: { facet, subject, value }, note: null }) as EntryBody
const settings = (more: object) => ({ kind: 'settings', target: 'typescript', settings: { ...plainSettings, ...more }, note: null }) as EntryBody
const kept = (entity: string, steps: readonly TrialStep[]): EntryBody => ({
  kind: 'pin',
  name: 'A kept one',
  path: { entity, conditions: [], steps: [...steps] },
})

const weight = catalog.relations.find((r) => r.name === 'harvest')?.columns.find((c) => c.name === 'gross_kg')?.type

const rulings: Readonly<Record<string, EntryBody>> = {
  'a class that many refer to is renamed': edit('entity.name', 'coop.bk_keeper', 'Member'),
  'a class that nobody refers to is renamed': edit('entity.name', 'coop.change_log', 'Journal'),
  'a class takes the name of a file of the whole': edit('entity.name', 'field.hive', 'Links'),
  'a property is renamed': edit('property.name', 'field.hive(frames)', 'frameCount'),
  'a property that a key leads by is renamed': edit('property.name', 'coop.bk_keeper(keeper_no)', 'number'),
  'an end is renamed': edit('reference.ownName', 'field.hive(apiary_id)', 'place'),
  'the other end is renamed': edit('reference.inverseName', 'field.hive(apiary_id)', 'colonies'),
  'a reference is no more': edit('reference.target', 'field.hive(apiary_id)', null),
  'there is at most one': edit('reference.atMostOne', 'field.hive(apiary_id)', true),
  'a type is held otherwise': edit('type.target', `type:${weight}`, 'number'),
  'a type has a name': edit('type.name', 'type:date', 'Day'),
  'a name that a word of ours has': edit('type.name', 'type:date', 'Decimal'),
  'one column is held otherwise': edit('type.target', 'field.harvest(gross_kg)', 'number'),
  'JSON has a shape': edit('json.schema', 'field.apiary(flags)', { type: 'object', properties: { shade: { type: 'boolean' } } }),
  'a column counts changes': edit('column.role', 'field.hive(frames)', 'version'),
  'columns stand together': edit('columns.group', 'columns:created_at,created_by', null),
  'files have another case': { kind: 'naming', rule: { rule: 'case', target: 'typescript', of: 'file', as: 'kebab-case' }, note: null },
  'another folder': settings({ base: 'made' }),
  'another indentation': settings({ indent: 'tab' }),
  'imports without an end': settings({ imports: 'nothing' }),
  'a path is kept': kept('field.hive', [{ relationship: 'reference:field.inspection(hive_id)', end: 'to' }]),
}

describe('files that change', () => {
  it.each(Object.keys(rulings))('where %s', (name) => {
    const [before, after] = [modelOf(), modelOf(rulings[name] as EntryBody)]
    const slow = compared(before, after)
    expect(slow.length).toBeGreaterThan(0)
    expect(changedPaths(before, after)).toEqual(slow)
    expect(changedPaths(after, before)).toEqual(slow)
  })

  it('are those of another class too, where a kept path leads through it', () => {
    const path = kept('field.hive', [
      { relationship: 'reference:field.inspection(hive_id)', end: 'to' },
      { relationship: 'reference:field.inspection(keeper_no)', end: 'from' },
    ])
    for (const name of Object.keys(rulings)) {
      const [before, after] = [modelOf(path), modelOf(path, rulings[name] as EntryBody)]
      expect([name, changedPaths(before, after)]).toEqual([name, compared(before, after)])
    }
  })

  it('are none where nothing changes', () => {
    expect(changedPaths(modelOf(), modelOf())).toEqual([])
  })
})
