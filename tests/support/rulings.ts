// Seeded random ledgers over the findings of a catalog.
import { accepting, checkRevert, decodeEntry, type EntryBody, type Finding, type LedgerEntry, rejecting, ruling } from '../../src/core/model/index.ts'
import { generator } from './random.ts'

export const stamped = (bodies: readonly EntryBody[]): readonly LedgerEntry[] =>
  bodies.map((b, i) => decodeEntry({ ...b, seq: i + 1, at: '2026-01-01T00:00:00.000Z', by: 'Ada' }))

/** Rulings and edits as a person could give them, some taken back. */
export function randomLedger(findings: readonly Finding[], seed: number): readonly LedgerEntry[] {
  const g = generator(seed)
  const bodies: EntryBody[] = []
  for (let n = 0; n < 25; n += 1) {
    const f = g.pick(findings)
    const choice = g.below(4)
    const facet = f.kind === 'entity' ? 'entity.name' : f.kind === 'reference' ? 'reference.ownName' : 'join.firstName'
    if (choice === 0) bodies.push(ruling(f, 'accept', accepting(f, g.pick(f.alternatives).key), null))
    else if (choice === 1 && rejecting(f)) bodies.push(ruling(f, 'reject', rejecting(f) ?? [], null))
    else if (choice === 2)
      bodies.push({ kind: 'edit', edit: { facet, subject: f.subject, value: `${f.kind === 'entity' ? 'N' : 'n'}ame${g.below(3)}` } as never, note: null })
    else {
      const seq = 1 + g.below(bodies.length + 1)
      if (checkRevert(stamped(bodies), seq).ok) bodies.push({ kind: 'revert', reverts: seq })
    }
  }
  return stamped(bodies)
}
