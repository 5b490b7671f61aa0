// The running application of the tests: its address, JSON calls, and waiting for jobs.
import { expect } from 'vitest'
import { eventually } from './wait.ts'

export { eventually } from './wait.ts'

/** Of the file's own application, which is up before the file is loaded. */
export const appUrl = process.env['PELVOK_E2E_URL'] ?? ''

export interface Reply<T> {
  readonly status: number
  readonly body: T
}

/** A server may close a connection that is kept open just as the next request is sent; one that changes nothing is sent again (RFC 9112, 9.3.1). */
const reading = (path: string, headers: Readonly<Record<string, string>>): Promise<Response> =>
  fetch(`${appUrl}${path}`, { headers }).catch((error: unknown) => {
    if (((error as Error).cause as { code?: string } | undefined)?.code === 'UND_ERR_SOCKET') return fetch(`${appUrl}${path}`, { headers })
    throw error
  })

export async function call<T>(path: string, body?: unknown, headers: Readonly<Record<string, string>> = {}): Promise<Reply<T>> {
  const response =
    body === undefined
      ? await reading(path, headers)
      : await fetch(`${appUrl}${path}`, { method: 'POST', headers: { 'content-type': 'application/json', ...headers }, body: JSON.stringify(body) })
  const text = await response.text()
  return { status: response.status, body: (text.startsWith('{') ? JSON.parse(text) : text) as T }
}

/** Make a project from a URL and wait for its first survey. */
export async function makeProject(name: string, url: string): Promise<string> {
  await eventually('the web server', async () => (await fetch(appUrl).catch(() => null))?.ok)
  const made = await call<{ id: string }>('/api/projects', { name, source: { by: 'url', url } })
  expect(made.status, JSON.stringify(made.body)).toBe(200)
  // Read, and made ready: while its job goes on the page shows how far it is.
  await eventually('the first survey', async () => {
    const { body } = await call<string>(`/p/${made.body.id}/source`)
    return body.includes('objects counted') && !body.includes('aria-label="progress"')
  })
  return made.body.id
}

/** Take what is proposed as it stands where something is open, and seal: outputs may be made. */
export async function seal(project: string, headers: Readonly<Record<string, string>> = {}): Promise<void> {
  const at = `/api/projects/${project}`
  const { items } = (await call<{ items: readonly { id: string }[] }>(`${at}/gate`, undefined, headers)).body
  if (items.length > 0) expect((await call(`${at}/take`, { findings: items.map((i) => i.id), note: null }, headers)).status).toBe(200)
  expect((await call(`${at}/seal`, {}, headers)).status).toBe(200)
}
