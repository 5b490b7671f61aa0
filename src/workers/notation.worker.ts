// Reads a notation against a review while it is typed, off the main thread.
import type { Catalog, SnapshotHash } from '../core/catalog/index.ts'
import type { Finding, LedgerEntry } from '../core/model/index.ts'
import { completionsAt, formatNotation } from '../core/notation/index.ts'
import { notationBase, notationText, notationView, type ReviewBase, readNotationOf, reviewBase, reviewBaseWith, reviewWith } from '../core/review/index.ts'
import type { RowEvidence } from '../core/rows/index.ts'
import { fetched } from './fetched.ts'
import type { FromNotation, ToNotation } from './notationMessages.ts'

const fileName = 'model.pelvok'

let opened: { readonly base: ReviewBase; readonly hash: SnapshotHash } | null = null
let entries: readonly LedgerEntry[] = []

const post = (message: FromNotation) => self.postMessage(message)

function refresh(): void {
  if (!opened) return
  const base = reviewBase(opened.base.whole, entries, opened.base)
  opened = { ...opened, base }
  post({ type: 'text', text: notationText(base, reviewWith(base, opened.hash, entries)) })
}

async function open(message: Extract<ToNotation, { type: 'open' }>): Promise<void> {
  entries = message.entries
  const [catalog, rows, findings] = await Promise.all([
    fetched<Catalog>(message.snapshotUrl, 'snapshot'),
    message.rowsUrl === null ? null : fetched<RowEvidence>(message.rowsUrl, 'row evidence'),
    message.findingsUrl === null ? null : fetched<readonly Finding[]>(message.findingsUrl, 'findings').catch(() => null),
  ])
  const hash = message.snapshotUrl.slice(message.snapshotUrl.lastIndexOf('/') + 1) as SnapshotHash
  opened = { base: findings ? reviewBaseWith(catalog, entries, rows, findings) : reviewBase(catalog, entries, null, rows), hash }
  refresh()
}

async function handle(message: ToNotation): Promise<void> {
  if (message.type === 'open') return open(message)
  if (message.type === 'append') {
    const known = new Set(entries.map((e) => e.seq))
    entries = [...entries, ...message.entries.filter((e) => !known.has(e.seq))].sort((a, b) => a.seq - b.seq)
    return refresh()
  }
  if (!opened) return
  const { base, hash } = opened
  switch (message.type) {
    case 'read': {
      const reading = readNotationOf({ whole: base.whole, hash, entries, known: base }, [{ file: fileName, text: message.text }])
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
        found: completionsAt(message.text, message.at, notationBase(base, reviewWith(base, hash, entries), entries)),
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
