// What a class or property may be called, for names that people type.

/** Class names that would hide a global the emitted code uses, or words that cannot name a class (ECMA-262, 12.7.2). */
const reservedClasses = new Set(
  'Object Function Array String Number Boolean Symbol BigInt Date Promise Map Set Error Proxy Reflect JSON Math RegExp Uint8Array Record Readonly Partial Pick Omit Required Exclude Extract NonNullable ReturnType Infinity NaN Iterator Atomics Intl Buffer'.split(
    ' ',
  ),
)

export const reservedClass = (name: string): boolean => reservedClasses.has(name)

export type NameProblem = 'empty' | 'not an identifier' | 'reserved'

/** Why `name` cannot name a class or a property; null where it can. */
export function nameProblem(name: string, of: 'class' | 'property'): NameProblem | null {
  if (name === '') return 'empty'
  if (!/^[\p{L}_$][\p{L}\p{N}_$]*$/u.test(name)) return 'not an identifier'
  if (of === 'class' ? reservedClass(name) || !/^[\p{Lu}_$]/u.test(name) : name === 'constructor' || name === '__proto__') return 'reserved'
  return null
}
