// Route handlers in one shape: input decoded by Zod, refusals as JSON with message, detail and hint, faults logged and named.
import type { ZodError, z } from 'zod'
import { isTold } from '../../core/text/told.ts'
import { log } from '../../server/log.ts'

export interface Refusal {
  readonly message: string
  readonly detail: string
  readonly hint: string
  /** Messages by the path of the field they are about. */
  readonly fields?: Readonly<Record<string, string>>
}

export const refuse = (status: number, message: string, hint = '', detail = ''): Response =>
  Response.json({ message, detail, hint } satisfies Refusal, { status })

/** Decode the body with `schema` and answer; a body that does not fit is refused with the field it fails at. */
export async function answer<S extends z.ZodType>(request: Request, schema: S, work: (input: z.infer<S>) => Promise<Response>): Promise<Response> {
  return guarded(async () => {
    let body: unknown
    try {
      body = await request.json()
    } catch {
      return refuse(400, 'the request is not JSON')
    }
    const parsed = schema.safeParse(body)
    if (!parsed.success) return Response.json(fieldRefusal(parsed.error), { status: 400 })
    return work(parsed.data)
  })
}

/** A use case's own answer: its value, or its wording as a refusal. */
export const outcome = <S extends z.ZodType, T>(
  request: Request,
  schema: S,
  work: (input: z.infer<S>) => Promise<{ readonly ok: true; readonly value: T } | { readonly ok: false; readonly wording: Refusal }>,
): Promise<Response> =>
  answer(request, schema, async (input) => {
    const result = await work(input)
    return result.ok ? Response.json(result.value ?? {}) : refuse(409, result.wording.message, result.wording.hint, result.wording.detail)
  })

/** Gzipped bytes kept under their hash, which therefore never change; the one who asks unpacks them. Refused with `missing` where there are none. */
export const immutable = (find: (hash: string) => Promise<Uint8Array | null>, params: Promise<{ hash: string }>, missing: string): Promise<Response> =>
  guarded(async () => {
    const bytes = await find((await params).hash)
    if (!bytes) return refuse(404, missing)
    return new Response(new Uint8Array(bytes), {
      headers: { 'content-type': 'application/gzip', 'cache-control': 'private, max-age=31536000, immutable, no-transform' },
    })
  })

export async function guarded(work: () => Promise<Response>): Promise<Response> {
  try {
    return await work()
  } catch (error) {
    if (isTold(error)) return refuse(error.status, error.words.message, error.words.hint, error.words.detail)
    const message = error instanceof Error ? error.message : String(error)
    log.error({ message, stack: error instanceof Error ? error.stack : null }, 'request')
    return refuse(500, 'this failed because of a fault in Pelvok', 'Try again; if it happens again, report it with this text.', message)
  }
}

function fieldRefusal(error: ZodError): Refusal {
  const fields = Object.fromEntries(error.issues.map((i) => [i.path.join('.'), i.message]))
  const [path, message] = Object.entries(fields)[0] ?? ['', 'it does not fit']
  return { message: path === '' ? message : `${path}: ${message}`, detail: '', hint: '', fields }
}
