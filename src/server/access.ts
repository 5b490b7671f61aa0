// Who may ask for what, where people sign in: one table over all paths. What it does not name is for owners.
import type { Role } from '../store/index.ts'

const loopback = /^(127\.[\d.]+|localhost|\[?::1\]?)$/

/**
 * Can it be reached from beyond this machine: because it listens there, or because a proxy on this machine passes on what came to
 * PELVOK_URL? What a request says of its address proves nothing: anybody can send any.
 */
export function servesElsewhere(): boolean {
  const url = process.env['PELVOK_URL'] ?? ''
  return !loopback.test(process.env['PELVOK_LISTEN'] || '127.0.0.1') || (URL.canParse(url) && !loopback.test(new URL(url).hostname))
}

const rank: Readonly<Record<Role, number>> = { reader: 0, reviewer: 1, owner: 2 }

export const mayAct = (role: Role, needed: Role): boolean => rank[role] >= rank[needed]

/** Of paths that change something or read rows, by what they end in. */
const changes: readonly (readonly [RegExp, Role])[] = [
  [/^\/api\/(sign-out|password)$/, 'reader'],
  [/^\/api\/projects\/[^/]+\/place$/, 'reader'],
  [
    /^\/api\/projects\/[^/]+\/(ledger|ledger\/revert|seal|take|folder|notation|settings|look|rows|trial|jobs|changes|plans|plans\/check|rehearse|environments\/(watch|overlook))$/,
    'reviewer',
  ],
  [/^\/api\/jobs\/[^/]+\/cancel$/, 'reviewer'],
]

/** The role that a request needs; null where nobody has to be signed in. */
export function roleNeeded(method: string, path: string): Role | null {
  if (path === '/sign-in' || path === '/api/sign-in' || path === '/icon.svg' || path.startsWith('/_next/')) return null
  if (method === 'GET' || method === 'HEAD') return path === '/projects/new' ? 'owner' : 'reader'
  return changes.find(([of]) => of.test(path))?.[1] ?? 'owner'
}
