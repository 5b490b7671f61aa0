// The shape of JSON values as somebody says it: the part of JSON Schema (draft 2020-12) that names what a value is.
import { z } from 'zod'

export type JsonShape =
  | {
      readonly type: 'object'
      readonly properties?: Readonly<Record<string, JsonShape>>
      readonly required?: readonly string[]
      readonly additionalProperties?: false | JsonShape
    }
  | { readonly type: 'array'; readonly items: JsonShape }
  | { readonly type: 'string' | 'number' | 'integer' | 'boolean' | 'null' }
  | { readonly enum: readonly (string | number | boolean | null)[] }
  | { readonly const: string | number | boolean | null }
  | { readonly anyOf: readonly JsonShape[] }

const literal = z.union([z.string(), z.number(), z.boolean(), z.null()])
/** Words that describe and do not narrow. */
const about = {
  title: z.string().optional(),
  description: z.string().optional(),
  $schema: z.string().optional(),
  default: z.json().optional(),
  examples: z.json().optional(),
}

const shape: z.ZodType<JsonShape> = z.lazy(() =>
  z.union(
    [
      z
        .strictObject({
          type: z.literal('object'),
          properties: z.record(z.string(), shape).optional(),
          required: z.array(z.string()).optional(),
          additionalProperties: z.union([z.literal(false), shape]).optional(),
          ...about,
        })
        .transform(({ type, properties, required, additionalProperties }) => ({
          type,
          ...(properties && { properties }),
          ...(required && { required }),
          ...(additionalProperties !== undefined && { additionalProperties }),
        })),
      z.strictObject({ type: z.literal('array'), items: shape, ...about }).transform(({ type, items }) => ({ type, items })),
      z.strictObject({ type: z.enum(['string', 'number', 'integer', 'boolean', 'null']), ...about }).transform(({ type }) => ({ type })),
      z.strictObject({ enum: z.array(literal).min(1).max(1000), ...about }).transform((s) => ({ enum: s.enum })),
      z.strictObject({ const: literal, ...about }).transform((s) => ({ const: s.const })),
      z.strictObject({ anyOf: z.array(shape).min(1).max(50), ...about }).transform((s) => ({ anyOf: s.anyOf })),
    ],
    { error: 'not understood: an object, array, string, number, integer, boolean, null, enum, const or anyOf of JSON Schema' },
  ),
)

export const jsonShape = shape

export type ShapeAnswer = { readonly ok: true; readonly shape: JsonShape } | { readonly ok: false; readonly problem: string }

/** From what somebody typed; a problem says where. */
export function parseJsonShape(text: string): ShapeAnswer {
  let value: unknown
  try {
    value = JSON.parse(text)
  } catch (error) {
    return { ok: false, problem: `this is no JSON: ${error instanceof Error ? error.message : String(error)}` }
  }
  const wrong = firstWrong(value, [])
  if (wrong !== null) return { ok: false, problem: wrong }
  const parsed = shape.safeParse(value)
  return parsed.success ? { ok: true, shape: parsed.data } : { ok: false, problem: parsed.error.issues[0]?.message ?? 'it is not understood' }
}

/** A union tells only that nothing fitted; the deepest part that does not is looked for by itself. */
function firstWrong(value: unknown, path: readonly string[]): string | null {
  const here = path.length === 0 ? 'at the top' : `at ${path.join('.')}`
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return `${here}: a schema is an object such as {"type": "string"}`
  const v = value as Readonly<Record<string, unknown>>
  const inner: readonly (readonly [string, unknown])[] = [
    ...(typeof v['properties'] === 'object' && v['properties'] !== null
      ? Object.entries(v['properties']).map(([k, x]) => [`properties.${k}`, x] as const)
      : []),
    ...('items' in v ? [['items', v['items']] as const] : []),
    ...(Array.isArray(v['anyOf']) ? v['anyOf'].map((x, i) => [`anyOf.${i}`, x] as const) : []),
    ...('additionalProperties' in v && v['additionalProperties'] !== false ? [['additionalProperties', v['additionalProperties']] as const] : []),
  ]
  for (const [key, x] of inner) {
    const wrong = firstWrong(x, [...path, key])
    if (wrong !== null) return wrong
  }
  return shape.safeParse(value).success
    ? null
    : `${here}: ${JSON.stringify(value).slice(0, 60)} is not understood; words of JSON Schema that narrow otherwise are not read`
}
