// Signing in: accounts with a role, sessions, and who may do what. While there is no account everybody on this machine may do everything.
import { createHash, randomBytes } from 'node:crypto'
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
  listAccounts,
  type Role,
  type StoredAccount,
} from '../store/index.ts'
import { servesElsewhere } from './access.ts'
import { log } from './log.ts'
import { isPassword, passwordHash } from './passwords.ts'

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
  | { readonly ok: true; readonly token: string }
  | { readonly ok: false; readonly reason: 'wrong' }
  | { readonly ok: false; readonly reason: 'too many'; readonly minutes: number }

/** Compared with where nobody has that name, so that both answers take as long. */
let nobody: Promise<string> | null = null

async function sessionFor(accountId: string): Promise<string> {
  const token = randomBytes(32).toString('base64url')
  await insertSession(hashOf(token), accountId, sessionDays)
  return token
}

/** The attempt is counted before the password is looked at: many at once are not more than one after the other. */
export async function signIn(given: z.infer<typeof signInInput>): Promise<SignIn> {
  const tried = given.name.trim().normalize('NFC')
  if ((await insertAttempt(tried, minutes)) > attemptsAllowed) return { ok: false, reason: 'too many', minutes }
  nobody ??= passwordHash(randomBytes(16).toString('hex'))
  const account = await findAccount(tried)
  const right = await isPassword(given.password, account?.password ?? (await nobody))
  if (!account || !right) {
    log.warn({ account: account !== null }, 'sign-in refused')
    return { ok: false, reason: 'wrong' }
  }
  await deleteAttempts(tried)
  return { ok: true, token: await sessionFor(account.id) }
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
  if ((await insertAttempt(account.name, minutes)) > attemptsAllowed) return 'too many'
  const stored = await findAccount(account.name)
  if (!stored || !(await isPassword(input.old, stored.password))) return 'wrong'
  await deleteAttempts(account.name)
  await changeStored(account.id, { password: await passwordHash(input.password) }, hashOf(token))
  return 'done'
}
