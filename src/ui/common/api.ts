// Calls to Pelvok's own server, with refusals as data.

export interface Wording {
  readonly message: string
  readonly detail: string
  readonly hint: string
  readonly fields?: Readonly<Record<string, string>>
}

export type Answer<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly wording: Wording }

const unreachable: Wording = {
  message: 'Pelvok does not answer',
  detail: 'The server on this machine may have been ended.',
  hint: 'Start it again with npm start; nothing that was shown as kept is lost.',
}

/** POST JSON. Never throws, also where `signal` aborts. */
export async function post<T>(path: string, body: unknown, signal: AbortSignal | null = null): Promise<Answer<T>> {
  try {
    const response = await fetch(path, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body), signal })
    const value: unknown = await response.json().catch(() => null)
    if (response.ok) return { ok: true, value: value as T }
    const wording = value as Partial<Wording> | null
    return {
      ok: false,
      wording: { ...wording, message: wording?.message ?? `the server answered ${response.status}`, detail: wording?.detail ?? '', hint: wording?.hint ?? '' },
    }
  } catch {
    return { ok: false, wording: unreachable }
  }
}

/** Read JSON; null where it cannot be had now. */
export async function get<T>(path: string): Promise<T | null> {
  try {
    const response = await fetch(path)
    return response.ok ? ((await response.json()) as T) : null
  } catch {
    return null
  }
}
