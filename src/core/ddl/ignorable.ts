// The closed list of statements that say nothing about the structure. Whatever is neither read nor here is reported.
import type { Scanner } from './scanner.ts'

const list: readonly (readonly string[])[] = [
  ['INSERT'],
  ['UPDATE'],
  ['DELETE'],
  ['REPLACE'],
  ['MERGE'],
  ['TRUNCATE'],
  ['SELECT'],
  ['VALUES'],
  ['WITH'],
  ['SHOW'],
  ['EXPLAIN'],
  ['SET'],
  ['RESET'],
  ['BEGIN'],
  ['START', 'TRANSACTION'],
  ['COMMIT'],
  ['END'],
  ['ROLLBACK'],
  ['ABORT'],
  ['SAVEPOINT'],
  ['RELEASE'],
  ['LOCK'],
  ['UNLOCK'],
  ['GRANT'],
  ['REVOKE'],
  ['ANALYZE'],
  ['ANALYSE'],
  ['VACUUM'],
  ['OPTIMIZE'],
  ['CHECK', 'TABLE'],
  ['REINDEX'],
  ['CLUSTER'],
  ['CHECKPOINT'],
  ['FLUSH'],
  ['REFRESH'],
  ['PRAGMA'],
  ['LOAD'],
  ['HANDLER'],
  ['DECLARE'],
  ['FETCH'],
  ['CLOSE'],
  ['MOVE'],
  ['LISTEN'],
  ['NOTIFY'],
  ['UNLISTEN'],
  ['DISCARD'],
  ['PREPARE'],
  ['DEALLOCATE'],
  ['SECURITY', 'LABEL'],
  ['REASSIGN'],
  ['SIGNAL'],
  // An anonymous block: what it does is known only once it runs (PostgreSQL manual, DO).
  ['DO'],
  ['KILL'],
  ['ATTACH'],
  ['DETACH'],
  // Roles, databases and the server itself are no part of a schema.
  ['CREATE', 'DATABASE'],
  ['CREATE', 'ROLE'],
  ['CREATE', 'USER'],
  ['CREATE', 'GROUP'],
  ['CREATE', 'TABLESPACE'],
  ['ALTER', 'DATABASE'],
  ['ALTER', 'ROLE'],
  ['ALTER', 'USER'],
  ['ALTER', 'GROUP'],
  ['ALTER', 'SYSTEM'],
  ['ALTER', 'TABLESPACE'],
  ['ALTER', 'DEFAULT', 'PRIVILEGES'],
  ['ALTER', 'LARGE', 'OBJECT'],
  ['ALTER', 'EXTENSION'],
  ['DROP', 'DATABASE'],
  ['DROP', 'ROLE'],
  ['DROP', 'USER'],
  ['DROP', 'GROUP'],
  ['DROP', 'TABLESPACE'],
  ['DROP', 'OWNED'],
]

const byFirst = new Map<string, (readonly string[])[]>()
for (const [first, ...rest] of list) byFirst.set(first as string, [...(byFirst.get(first as string) ?? []), rest])

/** Does the scanner stand on such a statement? It stays where it is. */
export function isIgnorable(s: Scanner): boolean {
  const first = s.word
  const rests = byFirst.get(first)
  if (!rests) return false
  if (rests.some((rest) => rest.length === 0)) return true
  const start = s.place()
  s.next()
  const found = isIgnorableAfter(first, s)
  s.back(start)
  return found
}

/** Does it stand on the second word of one that begins with `first`? It may have gone on where it does. */
export function isIgnorableAfter(first: string, s: Scanner): boolean {
  const second = s.word
  return byFirst.get(first)?.some((rest) => rest[0] === second && s.acceptAll(rest)) ?? false
}
