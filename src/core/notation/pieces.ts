// Pieces that several lines of a notation have.
import type { RelationAddress } from '../catalog/index.ts'
import type { TypeTarget } from '../model/index.ts'
import type { Cursor } from './cursor.ts'
import type { Said, TypeText } from './syntax.ts'
import { typeTargets } from './words.ts'

export type Writable<T> = { -readonly [K in keyof T]: T[K] }

export function address(c: Cursor, what: string): Said<RelationAddress> {
  const first = c.name(what)
  if (!c.accept('.')) return { value: { schema: '', name: first.value }, at: first.at }
  const second = c.name(what)
  return { value: { schema: first.value, name: second.value }, at: { ...first.at, to: second.at.to } }
}

export function typeText(c: Cursor): Said<TypeText> {
  if (c.token?.kind === 'code') {
    const t = c.code('a type')
    return { value: { kind: 'native', text: t.value }, at: t.at }
  }
  const neutral = c.is('some') && c.ahead(1) !== undefined && !c.is('(', 1) && !c.is(',', 1)
  if (neutral) c.expect('some')
  const raw = c.raw('a type')
  return { value: { kind: neutral ? 'neutral' : 'native', text: raw.value }, at: raw.at }
}

/** What follows the word `held`. */
export function heldAs(c: Cursor): Said<TypeTarget | null> {
  if (c.is('plainly')) return { value: null, at: c.word('plainly', ['plainly']).at }
  c.expect('as')
  return c.word('a way to hold it', typeTargets)
}
