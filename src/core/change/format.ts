// plan.json: reading a plan back from its folder. See docs/formats/plan.md.
import { z } from 'zod'
import { unmodelled } from '../catalog/schema.ts'
import { type Plan, stepKinds } from './plan.ts'

const hash = z.string().regex(/^[0-9a-f]{64}$/)
const hazard = z.discriminatedUnion('code', [
  z.strictObject({ code: z.literal('needs-superuser'), object: z.string(), because: z.string() }),
  z.strictObject({ code: z.literal('needs-extension-files'), object: z.string(), version: z.string() }),
  z.strictObject({ code: z.literal('not-carried'), object: z.string(), what: z.string() }),
])
const step = z.strictObject({
  number: z.int().min(1),
  kind: z.enum(stepKinds),
  object: z.string(),
  up: z.array(z.string()),
  down: z.array(z.string()),
  hazards: z.array(hazard),
})
const plan = z.strictObject({
  format: z.literal('pelvok.plan/1'),
  dialect: z.enum(['postgresql', 'mysql', 'sqlite']),
  title: z.string(),
  from: hash,
  to: hash,
  searchPath: z.array(z.string()),
  steps: z.array(step),
  notSupported: z.array(unmodelled),
  revision: z.string().nullable(),
})

/** Throws a ZodError that names the path of what is wrong. */
export function decodePlan(value: unknown): { readonly plan: Plan; readonly revision: string | null } {
  const { revision, ...rest } = plan.parse(value)
  return { plan: rest as unknown as Plan, revision }
}
