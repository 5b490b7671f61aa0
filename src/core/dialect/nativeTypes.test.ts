import { describe, expect, it } from 'vitest'
import type { Dialect } from '../catalog/index.ts'
import { nativeType, neutralKinds, parseNeutral } from './nativeTypes.ts'
import { neutralType } from './neutralTypes.ts'

const dialects: readonly Dialect[] = ['postgresql', 'mysql', 'sqlite']
const noName = () => false

describe('kinds of values', () => {
  it('have a type on every engine, and most are of that kind there', () => {
    // What an engine has no type for is kept as the nearest: moments and spans as times, UUIDs as texts.
    const others: Readonly<Record<Dialect, readonly string[]>> = { postgresql: [], mysql: ['time', 'uuid'], sqlite: ['instant', 'interval'] }
    for (const dialect of dialects)
      for (const kind of neutralKinds) {
        const native = nativeType(dialect, { kind })
        expect(native, `${dialect} ${kind}`).not.toBeNull()
        if (!others[dialect].includes(kind)) expect([kind, neutralType(dialect, native ?? '', noName).kind]).toEqual([kind, kind])
      }
  })

  it.each([
    ['postgresql', 'decimal(10,2)', 'numeric(10,2)'],
    ['postgresql', 'text(40)', 'character varying(40)'],
    ['postgresql', 'instant(3)', 'timestamp(3) with time zone'],
    ['postgresql', 'list of list of bigint', 'bigint[][]'],
    ['mysql', 'decimal(10,2)', 'decimal(10,2)'],
    ['mysql', 'text(40)', 'varchar(40)'],
    ['mysql', 'local datetime(6)', 'datetime(6)'],
    ['mysql', 'boolean', 'tinyint(1)'],
    ['sqlite', 'decimal(10,2)', 'DECIMAL(10,2)'],
    ['sqlite', 'text', 'TEXT'],
  ] as const)('%s: %s is %s', (dialect, text, native) => {
    const parsed = parseNeutral(text)
    expect(parsed && nativeType(dialect, parsed.type, parsed.parameters)).toBe(native)
  })

  it('are nothing else', () => {
    for (const text of ['decimals', 'text (a)', 'list of', 'list of nothing', '', 'numeric(10,2)']) expect(parseNeutral(text)).toBeNull()
    expect(nativeType('mysql', { kind: 'list', of: { kind: 'integer' } })).toBeNull()
    expect(nativeType('postgresql', { kind: 'other', type: 'point' })).toBeNull()
  })
})
