// Who is at the keyboard: on loopback a name, asked once, kept in a cookie; the system user until then.
import { userInfo } from 'node:os'
import { cookies } from 'next/headers'

export const nameCookie = 'pelvok-name'

export interface Identity {
  readonly name: string
  /** False until the person confirmed or changed the proposed name. */
  readonly known: boolean
}

export async function identity(): Promise<Identity> {
  const given = (await cookies()).get(nameCookie)?.value
  return given ? { name: given, known: true } : { name: userInfo().username, known: false }
}

/** Day or night, as this browser chose. */
export async function theme(): Promise<'day' | 'night'> {
  return (await cookies()).get('pelvok-theme')?.value === 'night' ? 'night' : 'day'
}
