// Gives every member of a scope a name of its own.

export interface NameRequest {
  /** Names that must differ from each other: the members of one class, or all classes. */
  readonly scope: string
  readonly candidates: readonly string[]
}

/**
 * One name per request, in the order of the requests: the first candidate that is free in its scope, else the first with the
 * lowest free number from 2. Letter case does not make a name different. Deterministic.
 */
export function assignNames(requests: readonly NameRequest[], reserved: (name: string) => boolean): readonly string[] {
  const taken = new Map<string, Set<string>>()
  return requests.map((r) => {
    const used = taken.get(r.scope) ?? new Set<string>()
    taken.set(r.scope, used)
    const free = (name: string) => !used.has(name.toLowerCase()) && !reserved(name)
    const first = r.candidates[0] ?? '_'
    let name = r.candidates.find(free)
    for (let n = 2; name === undefined; n += 1) name = free(`${first}${n}`) ? `${first}${n}` : undefined
    used.add(name.toLowerCase())
    return name
  })
}

/** `constructor` cannot be a member of a class; everything else can (ECMA-262, 15.7.1). */
export const reservedMember = (name: string): boolean => name === 'constructor' || name === '__proto__'
