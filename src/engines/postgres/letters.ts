// The letters by which the server's catalogs tell kinds apart (manual, chapter 54). A letter that is not here is reported, never mapped.
import type { Column, ForeignKey, Policy, ReferentialAction, Relation, Routine, Trigger } from '../../core/catalog/index.ts'

type Letters<T> = Readonly<Record<string, T>>

export const actions: Letters<ReferentialAction> = { a: 'no action', r: 'restrict', c: 'cascade', n: 'set null', d: 'set default' }
export const matches: Letters<ForeignKey['match']> = { s: 'simple', f: 'full', p: 'partial' }
export const firings: Letters<Trigger['fires']> = { O: 'origin', R: 'replica', A: 'always', D: 'disabled' }
export const storages: Letters<NonNullable<Column['storage']>> = { p: 'plain', e: 'external', x: 'extended', m: 'main' }
export const compressions: Letters<NonNullable<Column['compression']>> = { p: 'pglz', l: 'lz4' }
export const generations: Letters<NonNullable<Column['identity']>['generation']> = { a: 'always', d: 'by default' }
export const keepings: Letters<NonNullable<Column['generated']>['kept']> = { s: 'stored', v: 'virtual' }
export const routineKinds: Letters<Routine['kind']> = { f: 'function', p: 'procedure', w: 'window function', a: 'aggregate' }
export const replicaKinds: Letters<'default' | 'full' | 'nothing'> = { d: 'default', f: 'full', n: 'nothing' }
export const commands: Letters<Policy['command']> = { '*': 'all', r: 'select', a: 'insert', w: 'update', d: 'delete' }
export const persistences: Letters<boolean> = { p: false, u: true }
export const relationKinds: Letters<Relation['kind']> = {
  r: 'table',
  p: 'partitioned table',
  v: 'view',
  m: 'materialized view',
  f: 'foreign table',
}

/** A letter of the server's catalog that this version of Pelvok does not know. */
export class UnknownLetter extends Error {
  constructor(letter: string, what: string) {
    super(`${what} is marked "${letter}", which this version does not know`)
    this.name = 'UnknownLetter'
  }
}

export function known<T>(letters: Letters<T>, letter: string, what: string): T {
  const value = letters[letter]
  if (value === undefined) throw new UnknownLetter(letter, what)
  return value
}
