/** An output that is older than the ledger's head says so. `made`: the ledger position it was made at; null where it does not say. */
export function Stale({ made, head }: { made: number | null; head: number }) {
  if (made === null || made >= head) return null
  return <span className="text-needs">▲ stale: the ledger has {head - made === 1 ? 'one entry' : `${head - made} entries`} since, which it does not know.</span>
}
