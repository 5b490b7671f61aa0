// Reads a notation against a review while it is typed, off the main thread.
import type { Catalog, SnapshotHash } from '../core/catalog/index.ts'
import type { Finding, LedgerEntry } from '../core/model/index.ts'
import { completionsAt, formatNotation } from '../core/notation/index.ts'
import {
  notationBase,
  notationText,
  notationView,
  type Review,
  type ReviewBase,
  readNotationOf,
  reviewBase,
  reviewBaseWith,
  reviewWith,
} from '../core/review/index.ts'
import type { RowEvidence } from '../core/rows/index.ts'
import { fetched } from './fetched.ts'
import type { FromNotation, ToNotation } from './notationMessages.ts'

const fileName = 'model.pelvok'

let opened: { readonly base: ReviewBase; readonly hash: SnapshotHash; readonly review: Review } | null = null
let entries: readonly LedgerEntry[] = []

const post = (message: FromNotation) => self.postMessage(message)

function refresh(hash: SnapshotHash, known: ReviewBase): void {
  const base = reviewBase(known.whole, entries, known)
  const review = reviewWith(base, hash, entries)
  opened = { base, hash, review }
  post({ type: 'text', text: notationText(base, review) })
}

async function open(message: Extract<ToNotation, { type: 'open' }>): Promise<void> {
  entries = message.entries
  const [catalog, rows, findings] = await Promise.all([
    fetched<Catalog>(message.snapshotUrl, 'snapshot'),
    message.rowsUrl === null ? null : fetched<RowEvidence>(message.rowsUrl, 'row evidence'),
    message.findingsUrl === null ? null : fetched<readonly Finding[]>(message.findingsUrl, 'findings', false).catch(() => null),
  ])
  const hash = message.snapshotUrl.slice(message.snapshotUrl.lastIndexOf('/') + 1) as SnapshotHash
  refresh(hash, findings ? reviewBaseWith(catalog, entries, rows, findings) : reviewBase(catalog, entries, null, rows))
}

async function handle(message: ToNotation): Promise<void> {
  if (message.type === 'open') return open(message)
  if (message.type === 'append') {
    const known = new Set(entries.map((e) => e.seq))
    entries = [...entries, ...message.entries.filter((e) => !known.has(e.seq))].sort((a, b) => a.seq - b.seq)
    return opened ? refresh(opened.hash, opened.base) : undefined
  }
  if (!opened) return
  const { base, hash, review } = opened
  switch (message.type) {
    case 'read': {
      const reading = readNotationOf({ whole: base.whole, hash, entries, known: base, now: review }, [{ file: fileName, text: message.text }])
      return post({ type: 'read', ask: message.ask, view: { ...notationView(reading), seen: reading.seen, head: entries.at(-1)?.seq ?? 0 } })
    }
    case 'layOut': {
      const laid = formatNotation({ file: fileName, text: message.text })
      return post({ type: 'laidOut', ask: message.ask, text: laid.ok ? laid.text : null })
    }
    case 'complete':
      return post({
        type: 'completions',
        ask: message.ask,
        found: completionsAt(message.text, message.at, notationBase(base, review, entries)),
      })
    default:
      return unreachable(message)
  }
}

function unreachable(message: never): never {
  throw new Error(`a message of no known type: ${JSON.stringify(message)}`)
}

self.onmessage = (event: MessageEvent<ToNotation>) => {
  handle(event.data).catch((error: unknown) => post({ type: 'failed', message: error instanceof Error ? error.message : String(error) }))
}
