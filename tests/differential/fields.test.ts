// For each field of the Catalog's structure that a survey reads: two databases that differ only there, and the comparison says
// so. The list of fields is taken from the schema of the format, so a new field fails until it has its case.
import { beforeAll, describe, expect, it } from 'vitest'
import type { z } from 'zod'
import { type Catalog, compareCatalogs } from '../../src/core/catalog/index.ts'
import { catalog as catalogSchema } from '../../src/core/catalog/schema.ts'
import { makeDatabase, surveyOf, versionOf } from '../support/server.ts'
import { type Case, cases } from './fieldCases.ts'

/** Fields that no difference between two PostgreSQL databases can reach, each with its reason. */
const unreachable: Readonly<Record<string, string>> = {
  format: 'one version of the format',
  dialect: 'one engine',
  'relations[].columns[].onUpdate': 'of MySQL',
  'relations[].exclusions[].attachedTo': 'partitioned tables have exclusion constraints from PostgreSQL 17 on',
  'relations[].primaryKey.nullsNotDistinct': 'columns of a primary key are not null',
}
/** The other parts of a dependency or an address are told apart by the case of its first part, an expression by its text. */
const covered = /\.dependsOn\[\]\.(schema|name)$|\.(written|canonical)$|\.collation\.(schema|name)$|\.operatorClass\.(schema|name)$/

type Schema = z.ZodType & {
  readonly _zod: {
    readonly def: {
      readonly type: string
      readonly shape?: Record<string, Schema>
      readonly element?: Schema
      readonly innerType?: Schema
      readonly options?: Schema[]
    }
  }
}

function fieldsOf(schema: Schema, path: string): readonly string[] {
  const { def } = schema._zod
  if (def.type === 'object') {
    const names = Object.keys(def.shape ?? {})
    if (names.join() === 'written,canonical') return [path]
    return names.flatMap((k) => fieldsOf(def.shape?.[k] as Schema, path === '' ? k : `${path}.${k}`))
  }
  if (def.type === 'array') return fieldsOf(def.element as Schema, `${path}[]`)
  if (def.type === 'nullable') {
    const inner = def.innerType as Schema
    const address =
      inner._zod.def.type === 'object' && Object.keys(inner._zod.def.shape ?? {}).join() === 'schema,name' && /(collation|operatorClass)$/.test(path)
    return address ? [path] : fieldsOf(inner, path)
  }
  if (def.type === 'union') return [...new Set((def.options ?? []).flatMap((o) => fieldsOf(o, path)))]
  return [path]
}

const fields = fieldsOf(catalogSchema as unknown as Schema, '').filter((p) => !(p in unreachable) && !covered.test(p))

/** `columns[a].type` and `columns[].type` name the same field. */
const plain = (field: string) => field.replace(/\[[^\]]*\]/g, '[]').replace(/ order$/, '')
const kindOf: Readonly<Record<string, string>> = {
  schema: 'schemas',
  extension: 'extensions',
  enumerated: 'enums',
  domain: 'domains',
  composite: 'composites',
  range: 'ranges',
  sequence: 'sequences',
  relation: 'relations',
  routine: 'routines',
  not: 'unmodelled',
}

const version = await versionOf()
const here = Object.entries(cases).filter(([, c]) => (c.since ?? 0) <= version)

describe('a difference in one field is found', () => {
  it('every field of the format has its case', () => {
    expect(fields.filter((p) => !(p in cases))).toEqual([])
    expect(Object.keys(cases).filter((p) => !fields.includes(p))).toEqual([])
  })

  const surveys = new Map<string, { readonly first: Catalog; readonly second: Catalog }>()
  beforeAll(async () => {
    const pair = async ([path, c]: [string, Case]) => {
      const a = await makeDatabase(`${c.setup ?? ''} ${c.first ?? ''}`)
      const b = await makeDatabase(`${c.setup ?? ''} ${c.change}`)
      surveys.set(path, { first: (await surveyOf(a.location)).structure, second: (await surveyOf(b.location)).structure })
      await Promise.all([a.drop(), b.drop()])
    }
    const queue = [...here]
    await Promise.all(
      Array.from({ length: 4 }, async () => {
        for (let next = queue.shift(); next; next = queue.shift()) await pair(next)
      }),
    )
  }, 300_000)

  it.each(here.map(([path]) => path))('%s', (path) => {
    const pair = surveys.get(path)
    expect(pair).toBeDefined()
    if (!pair) return
    const found = compareCatalogs(pair.first, pair.second).map(
      (d) => `${kindOf[d.object.split(' ')[0] as string] ?? 'objects'}[]${d.field === '' ? '' : `.${plain(d.field)}`}`,
    )
    expect(found.length).toBeGreaterThan(0)
    // Either this very field differs, or an object that it tells apart, or that it is part of, is there on one side only.
    const reached = found.some((x) => path === x || path.startsWith(`${x}.`) || path.startsWith(`${x}[]`) || x.startsWith(path))
    expect(reached, `${path} among ${found.join(', ')}`).toBe(true)
  })
})
