// Who is at the keyboard: whoever signed in; where nobody has to, a name asked once and kept in a cookie, the system user until then.
import { createHash } from 'node:crypto'
import { userInfo } from 'node:os'
import { cookies } from 'next/headers'
import { cache } from 'react'
import { type Role, type Standing, sessionDays, standingOf } from '../server/accounts.ts'
import type { Signed } from '../ui/frame/Who.tsx'
import { sessionCookie } from './_access.ts'

export const nameCookie = 'pelvok-name'

export interface Identity {
  readonly name: string
  /** False until the person confirmed or changed the proposed name. */
  readonly known: boolean
  /** Null where nobody has to sign in. */
  readonly role: Role | null
}

export const sessionToken = async (): Promise<string | null> => (await cookies()).get(sessionCookie)?.value ?? null

/** Once a request. */
export const standing = cache(async (): Promise<Standing> => standingOf(await sessionToken()))

export async function identity(): Promise<Identity> {
  const now = await standing()
  if (now.signIn) return now.account ? { name: now.account.name, known: true, role: now.account.role } : { name: '', known: true, role: 'reader' }
  const given = (await cookies()).get(nameCookie)?.value
  return given ? { name: given, known: true, role: null } : { name: userInfo().username, known: false, role: null }
}

/** Whom the bar names; null until they are known. */
export const signed = ({ name, known, role }: Identity): Signed | null => (known && name !== '' ? { name, role } : null)

/** Null signs out. Only sent back over TLS where the address that people use is https. */
export async function keepSession(token: string | null): Promise<void> {
  const secure = (process.env['PELVOK_URL'] ?? '').startsWith('https:')
  const maxAge = token === null ? 0 : sessionDays * 24 * 60 * 60
  ;(await cookies()).set(sessionCookie, token ?? '', { httpOnly: true, sameSite: 'strict', secure, path: '/', maxAge })
}

/** A browser may be known under several names: each has a cookie of its own, told apart by the name's hash. */
const deviceCookie = (name: string) => `pelvok-device-${createHash('sha256').update(name.trim().normalize('NFC').toLowerCase()).digest('hex').slice(0, 16)}`

export const deviceOf = async (name: string): Promise<string | null> => (await cookies()).get(deviceCookie(name))?.value ?? null

/** For a year after it was last let in. */
export async function keepDevice(name: string, device: string): Promise<void> {
  const secure = (process.env['PELVOK_URL'] ?? '').startsWith('https:')
  ;(await cookies()).set(deviceCookie(name), device, { httpOnly: true, sameSite: 'strict', secure, path: '/api/sign-in', maxAge: 365 * 24 * 60 * 60 })
}

/** Day or night, as this browser chose. */
export async function theme(): Promise<'day' | 'night'> {
  return (await cookies()).get('pelvok-theme')?.value === 'night' ? 'night' : 'day'
}
