// Snapshots as this process has them open: each is parsed once, for whoever asks.
import { type Catalog, openSnapshot, type SnapshotHash } from '../core/catalog/index.ts'
import { readSnapshotText } from '../store/index.ts'

interface Kept {
  readonly catalog: Promise<Catalog>
  /** Characters of its text; 0 while it is read. */
  size: number
}

const kept = new Map<string, Kept>()
/** Characters of text that those kept may come to; a parsed one takes a few bytes for each. The last one asked for is always kept. */
const most = 40_000_000

/** Throws where the hash is not kept in the store, or not whole. */
export function catalogOf(hash: SnapshotHash): Promise<Catalog> {
  const known = kept.get(hash)
  if (known) {
    kept.delete(hash)
    kept.set(hash, known)
    return known.catalog
  }
  const entry: Kept = {
    size: 0,
    catalog: readSnapshotText(hash).then((text) => {
      entry.size = text.length
      letGo()
      return openSnapshot(text)
    }),
  }
  entry.catalog.catch(() => kept.delete(hash))
  kept.set(hash, entry)
  return entry.catalog
}

function letGo(): void {
  let all = [...kept.values()].reduce((n, k) => n + k.size, 0)
  for (const [hash, k] of kept) {
    if (all <= most || kept.size === 1) return
    kept.delete(hash)
    all -= k.size
  }
}
