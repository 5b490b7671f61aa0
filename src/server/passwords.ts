// Passwords as they are kept: scrypt (RFC 7914) with a salt of each one's own.
import { randomBytes, scrypt, timingSafeEqual } from 'node:crypto'

/** 32 MiB and about 0.1 s a password (OWASP Password Storage Cheat Sheet, scrypt). */
const cost = { N: 2 ** 15, r: 8, p: 3 }
const length = 32

/** The same characters typed on two machines may be other code points (NIST SP 800-63B, 5.1.1.2). */
const bytesOf = (password: string) => Buffer.from(password.normalize('NFKC'))

const derived = (password: string, salt: Buffer, c: typeof cost): Promise<Buffer> =>
  new Promise((resolve, reject) => {
    scrypt(bytesOf(password), salt, length, { ...c, maxmem: 256 * c.N * c.r }, (error, key) => (error ? reject(error) : resolve(key)))
  })

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
