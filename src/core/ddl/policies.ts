// CREATE, ALTER and DROP POLICY (PostgreSQL manual, CREATE POLICY).
import { group, qualified } from './clauses.ts'
import type { Scanner } from './scanner.ts'
import type { PolicyClauses, Statement } from './statement.ts'

const commands = ['ALL', 'SELECT', 'INSERT', 'UPDATE', 'DELETE'] as const

function roles(s: Scanner): readonly string[] {
  const found: string[] = []
  do found.push(s.name('a role'))
  while (s.acceptMark(','))
  // PUBLIC makes the others say nothing more (policy.c, policy_role_list_to_array).
  return found.includes('public') ? [] : found
}

function clauses(s: Scanner): PolicyClauses {
  let found: PolicyClauses = { roles: null, using: null, check: null }
  while (!s.done) {
    if (s.accept('TO')) found = { ...found, roles: roles(s) }
    else if (s.accept('USING')) found = { ...found, using: group(s) }
    else {
      s.expect('WITH', 'CHECK')
      found = { ...found, check: group(s) }
    }
  }
  return found
}

/** After CREATE POLICY. */
export function createPolicy(s: Scanner): Statement {
  const name = s.name('a policy')
  s.expect('ON')
  const table = qualified(s, 'a table')
  const permissive = !s.accept('AS', 'RESTRICTIVE')
  if (permissive) s.accept('AS', 'PERMISSIVE')
  const word = s.accept('FOR') ? commands.find((c) => s.accept(c)) : 'ALL'
  if (word === undefined) throw s.unreadable('ALL, SELECT, INSERT, UPDATE or DELETE was expected')
  const command = word.toLowerCase() as Lowercase<(typeof commands)[number]>
  return { kind: 'create policy', name, table, permissive, command, ...clauses(s) }
}

/** After ALTER POLICY. */
export function alterPolicy(s: Scanner): Statement {
  const name = s.name('a policy')
  s.expect('ON')
  const table = qualified(s, 'a table')
  if (s.accept('RENAME', 'TO')) return { kind: 'alter policy', name, table, to: s.name('a policy'), roles: null, using: null, check: null }
  return { kind: 'alter policy', name, table, to: null, ...clauses(s) }
}

/** After DROP POLICY. */
export function dropPolicy(s: Scanner): Statement {
  const ifExists = s.accept('IF', 'EXISTS')
  const name = s.name('a policy')
  s.expect('ON')
  const table = qualified(s, 'a table')
  if (!s.accept('CASCADE')) s.accept('RESTRICT')
  return { kind: 'drop policy', name, table, ifExists }
}
