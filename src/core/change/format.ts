// plan.json: reading a plan back from its folder. See docs/formats/plan.md.
import { z } from 'zod'
import * as c from '../catalog/schema.ts'
import { lockModes, type Plan, stepKinds } from './plan.ts'

const hash = z.string().regex(/^[0-9a-f]{64}$/)
const object = z.string()
const because = z.strictObject({ code: z.enum(['rewrites', 'reads-all', 'needs-superuser', 'no-way-back', 'made-anew']), object, because: z.string() })
const what = z.strictObject({
  code: z.enum(['not-carried', 'loses-data', 'narrows', 'converts', 'stale', 'fails-on-rows', 'waits', 'edited']),
  object,
  what: z.string(),
})
const hazard = z.union([because, what, z.strictObject({ code: z.literal('needs-extension-files'), object, version: z.string() })])

const free = <K extends string, S extends z.ZodType>(kind: K, value: S) => z.strictObject({ kind: z.literal(kind), value })
const on = <K extends string, S extends z.ZodType>(kind: K, value: S) => z.strictObject({ kind: z.literal(kind), on: c.relationAddress, value })
const part = z.discriminatedUnion('kind', [
  free('schema', z.strictObject({ name: z.string(), comment: z.string().nullable() })),
  free('extension', c.extension),
  free('enum', c.enumeratedType),
  free('domain', c.domain),
  free('composite', c.compositeType),
  free('range', c.rangeType),
  free('object', c.definedObject),
  free('sequence', c.sequence),
  free('owner', c.sequence.pick({ schema: true, name: true, ownedBy: true })),
  free('routine', c.routine),
  free('table', c.relation),
  free('view', c.relation),
  z.strictObject({ kind: z.literal('column'), on: c.relationAddress, value: c.column, place: z.number() }),
  on('default', z.strictObject({ column: z.string(), expression: c.expression })),
  on('primary key', c.keyConstraint),
  on('unique', c.keyConstraint),
  on('reference', c.foreignKey),
  on('check', c.checkConstraint),
  on('index', c.index),
  on('exclusion', c.exclusion),
  on('replica identity', z.strictObject({ index: z.string() })),
  on('policy', c.policy),
  on('trigger', c.trigger),
  on('rule', c.rewriteRule),
  free('unmodelled', c.unmodelled),
])

const step = z.strictObject({
  number: z.int().min(1),
  kind: z.enum(stepKinds),
  object,
  says: z.string(),
  up: z.array(z.string()),
  down: z.array(z.string()),
  transaction: z.int().min(1).nullable(),
  locks: z.array(z.strictObject({ relation: z.string(), mode: z.enum(lockModes) })),
  hazards: z.array(hazard),
  preChecks: z.array(
    z.strictObject({
      id: z.string(),
      asks: z.string(),
      count: z.string(),
      sample: z.string(),
      cleaning: z.string().nullable(),
      cleaningSays: z.string().nullable(),
    }),
  ),
  probe: z.string().nullable(),
  sets: z.array(z.tuple([z.string(), part.nullable()])),
})
const plan = z.strictObject({
  format: z.literal('pelvok.plan/1'),
  dialect: z.enum(['postgresql', 'mysql', 'sqlite']),
  title: z.string(),
  from: hash,
  to: hash,
  searchPath: z.array(z.string()),
  steps: z.array(step),
  notSupported: z.array(c.unmodelled),
  leaves: z.array(z.string()),
  revision: z.string().nullable(),
})

/** Throws a ZodError that names the path of what is wrong. */
export function decodePlan(value: unknown): { readonly plan: Plan; readonly revision: string | null } {
  const { revision, ...rest } = plan.parse(value)
  return { plan: rest as unknown as Plan, revision }
}
