// pelvok.ledger.jsonl: a review as a file beside the code. See docs/formats/ledger.md.
import { ZodError } from 'zod'
import { decodeEntry, encodeEntry, type LedgerEntry } from './ledger.ts'

export const ledgerFormat = 'pelvok.ledger/1'

/** A header line, then one line per entry in order of seq. */
export function printLedger(entries: readonly LedgerEntry[]): string {
  return [JSON.stringify({ format: ledgerFormat }), ...entries.map((e) => JSON.stringify(encodeEntry(e)))].join('\n').concat('\n')
}

export type LedgerFile =
  | { readonly ok: true; readonly entries: readonly LedgerEntry[] }
  | { readonly ok: false; readonly line: number; readonly problem: string }

/** Read it back; the first wrong line is refused with its number, and nothing is taken. */
export function parseLedger(text: string): LedgerFile {
  const lines = text.replace(/^\uFEFF/, '').split(/\r?\n/)
  const entries: LedgerEntry[] = []
  for (const [i, line] of lines.entries()) {
    if (line.trim() === '') continue
    try {
      const value: unknown = JSON.parse(line)
      if (entries.length === 0 && typeof value === 'object' && value !== null && 'format' in value) {
        if (value.format !== ledgerFormat)
          return { ok: false, line: i + 1, problem: `the format is ${JSON.stringify(value.format)}; this version reads ${ledgerFormat}` }
        continue
      }
      const entry = decodeEntry(value)
      if (entry.seq !== entries.length + 1)
        return { ok: false, line: i + 1, problem: `entry ${entry.seq} where ${entries.length + 1} was due; a ledger has no gaps` }
      entries.push(entry)
    } catch (error) {
      return {
        ok: false,
        line: i + 1,
        problem: error instanceof ZodError ? `${error.issues[0]?.path.join('.') || 'entry'}: ${error.issues[0]?.message}` : 'this is not JSON',
      }
    }
  }
  return { ok: true, entries }
}
