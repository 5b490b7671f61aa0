// Passwords as they are kept: scrypt (RFC 7914) with a salt of each one's own.
import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto'

/** 32 MiB and about 0.1 s a password (OWASP Password Storage Cheat Sheet, scrypt). */
const cost = { N: 2 ** 15, r: 8, p: 3 }
const length = 32

/** The same characters typed on two machines may be other code points (NIST SP 800-63B, 5.1.1.2). */
const bytesOf = (password: string) => Buffer.from(password.normalize('NFKC'))

/** So many are worked out at once, and so many wait: whoever asks for more is told to come again. Each takes 32 MiB and a thread. */
const atOnce = 2
const waitingAtMost = 30
let running = 0
const waiting: (() => void)[] = []

/** More passwords are being looked at than this machine is to be kept busy with. */
export class TooManyAtOnce extends Error {}

async function derived(password: string, salt: Buffer, c: typeof cost): Promise<Buffer> {
  if (running >= atOnce) {
    if (waiting.length >= waitingAtMost) throw new TooManyAtOnce('too many passwords at once')
    await new Promise<void>((resolve) => waiting.push(resolve))
  } else running += 1
  try {
    return await new Promise<Buffer>((resolve, reject) => {
      scrypt(bytesOf(password), salt, length, { ...c, maxmem: 256 * c.N * c.r }, (error, key) => (error ? reject(error) : resolve(key)))
    })
  } finally {
    // The place is handed on, or given back.
    const next = waiting.shift()
    if (next) next()
    else running -= 1
  }
}

/** `scrypt$N$r$p$salt$hash` */
export async function passwordHash(password: string): Promise<string> {
  const salt = randomBytes(16)
  const key = await derived(password, salt, cost)
  return ['scrypt', cost.N, cost.r, cost.p, salt.toString('base64url'), key.toString('base64url')].join('$')
}

/** False for another password, and for a text that is no hash of one. */
export async function isPassword(password: string, hash: string): Promise<boolean> {
  const [kind, n, r, p, salt = '', key = ''] = hash.split('$')
  if (kind !== 'scrypt' || key === '') return false
  const known = Buffer.from(key, 'base64url')
  const given = await derived(password, Buffer.from(salt, 'base64url'), { N: Number(n), r: Number(r), p: Number(p) })
  return known.length === given.length && timingSafeEqual(known, given)
}
