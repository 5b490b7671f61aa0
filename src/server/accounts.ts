// Signing in: accounts with a role, sessions, and who may do what. While there is no account everybody on this machine may do everything.
import { createHash, randomBytes, timingSafeEqual } from 'node:crypto'
import { z } from 'zod'
import {
  type AccountChange,
  changeAccount as changeStored,
  deleteAttempts,
  deleteSession,
  findAccount,
  findSession,
  insertAccount,
  insertAttempt,
  insertSession,
  keyed,
  listAccounts,
  type Role,
  type StoredAccount,
} from '../store/index.ts'
import { servesElsewhere } from './access.ts'
import { log } from './log.ts'
import { isPassword, passwordHash, TooManyAtOnce } from './passwords.ts'

export { listAccounts, type Role } from '../store/index.ts'

export const roles = ['reader', 'reviewer', 'owner'] as const satisfies readonly Role[]

const password = z.string().min(12, 'at least 12 characters').max(200, 'at most 200 characters')
const name = z.string().trim().normalize('NFC').min(1, 'enter a name').max(80, 'at most 80 characters')
export const accountInput = z.strictObject({ name, role: z.enum(roles), password })
export const accountChange = z.union([z.strictObject({ role: z.enum(roles) }), z.strictObject({ password }), z.strictObject({ remove: z.literal(true) })])
export const ownPassword = z.strictObject({ old: z.string().max(200), password })
export const signInInput = z.strictObject({ name: z.string().max(200), password: z.string().max(200) })

/** Is signing in asked for, and who is it then? */
export type Standing = { readonly signIn: false } | { readonly signIn: true; readonly account: StoredAccount | null }

const hashOf = (token: string) => createHash('sha256').update(token).digest()

export async function standingOf(token: string | null): Promise<Standing> {
  const { accounts, account } = await findSession(token === null ? null : hashOf(token))
  return accounts ? { signIn: true, account } : { signIn: false }
}

export const sessionDays = 14
const attemptsAllowed = 10
const minutes = 15

export type SignIn =
  /** `device`: by which this browser is known to have been let in under the name. */
  | { readonly ok: true; readonly token: string; readonly device: string }
  | { readonly ok: false; readonly reason: 'wrong' }
  | { readonly ok: false; readonly reason: 'busy' }
  | { readonly ok: false; readonly reason: 'too many'; readonly minutes: number }

/** Compared with where nobody has that name, so that both answers take as long. */
let nobody: Promise<string> | null = null

async function sessionFor(accountId: string): Promise<string> {
  const token = randomBytes(32).toString('base64url')
  await insertSession(hashOf(token), accountId, sessionDays)
  return token
}

/** Who asks to be let in: from what address, and what the browser says it is known by. */
export interface Asking {
  readonly address: string
  readonly device: string | null
}

const deviceOf = (name: string): string => keyed(`device ${name.toLowerCase()}`)

/** Attempts of one address under all names, in the same time. */
const attemptsOfAddress = 100

/**
 * What attempts are counted under. A browser that was let in under a name before is counted by itself: nobody else's attempts, from the
 * same address or from any other, keep it out (OWASP, Slow Down Online Guessing Attacks with Device Cookies).
 */
function countersOf(name: string, { address, device }: Asking): readonly (readonly [string, number])[] {
  if (device !== null && sameText(device, deviceOf(name))) return [[`known ${name}`, attemptsAllowed]]
  return [
    [`from ${address} ${name}`, attemptsAllowed],
    [`from ${address}`, attemptsOfAddress],
  ]
}

const sameText = (a: string, b: string): boolean => {
  const [x, y] = [Buffer.from(a), Buffer.from(b)]
  return x.length === y.length && timingSafeEqual(x, y)
}

/** The attempt is counted before the password is looked at: many at once are not more than one after the other. */
export async function signIn(given: z.infer<typeof signInInput>, asking: Asking): Promise<SignIn> {
  const tried = given.name.trim().normalize('NFC')
  const counters = countersOf(tried, asking)
  for (const [counter, allowed] of counters) if ((await insertAttempt(counter, minutes)) > allowed) return { ok: false, reason: 'too many', minutes }
  try {
    return await letIn(tried, given.password, counters[0]?.[0] ?? '')
  } catch (error) {
    if (error instanceof TooManyAtOnce) return { ok: false, reason: 'busy' }
    throw error
  }
}

async function letIn(tried: string, password: string, counter: string): Promise<SignIn> {
  nobody ??= passwordHash(randomBytes(16).toString('hex'))
  const account = await findAccount(tried)
  const right = await isPassword(password, account?.password ?? (await nobody))
  if (!account || !right) {
    log.warn({ account: account !== null }, 'sign-in refused')
    return { ok: false, reason: 'wrong' }
  }
  await deleteAttempts(counter)
  return { ok: true, token: await sessionFor(account.id), device: deviceOf(tried) }
}

export const signOut = (token: string): Promise<void> => deleteSession(hashOf(token))

/** The first account is an owner's; whoever makes it is signed in by it at once. Null where the name is taken. */
export async function makeAccount(input: z.infer<typeof accountInput>, by: string, first: boolean): Promise<{ readonly token: string | null } | null> {
  const made = await insertAccount({ name: input.name, role: first ? 'owner' : input.role, password: await passwordHash(input.password), by }, first)
  if (!made) return null
  const account = first ? await findAccount(input.name) : null
  return { token: account ? await sessionFor(account.id) : null }
}

export async function changeAccount(id: string, change: z.infer<typeof accountChange>): Promise<'done' | 'no such account' | 'last owner'> {
  const stored: AccountChange = 'remove' in change ? 'remove' : 'password' in change ? { password: await passwordHash(change.password) } : change
  // Without an account nobody would have to sign in, wherever they are.
  if (stored === 'remove' && servesElsewhere() && (await listAccounts()).length === 1) return 'last owner'
  return changeStored(id, stored)
}

/** Other sessions of the account end; the one that asks goes on. A wrong old password counts as an attempt to sign in. */
export async function changeOwnPassword(account: StoredAccount, token: string, input: z.infer<typeof ownPassword>): Promise<'done' | 'wrong' | 'too many'> {
  const counter = `own ${account.name}`
  if ((await insertAttempt(counter, minutes)) > attemptsAllowed) return 'too many'
  const stored = await findAccount(account.name)
  if (!stored || !(await isPassword(input.old, stored.password))) return 'wrong'
  await deleteAttempts(counter)
  await changeStored(account.id, { password: await passwordHash(input.password) }, hashOf(token))
  return 'done'
}
