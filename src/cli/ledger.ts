// Rulings for a command: from a ledger file, or none.
import { existsSync, readFileSync } from 'node:fs'
import { type LedgerEntry, parseLedger } from '../core/model/index.ts'
import { badInput } from './exit.ts'

/** Entries of a ledger file. Throws ExitError that names the line of what is wrong. */
export function readLedgerFile(path: string): readonly LedgerEntry[] {
  if (!existsSync(path)) throw badInput(`there is no ledger file "${path}"`, 'Make one with "pelvok ledger export", or leave --ledger away.')
  const parsed = parseLedger(readFileSync(path, 'utf8'))
  if (!parsed.ok)
    throw badInput(
      `line ${parsed.line} of "${path}" is not a ledger entry`,
      'The file is a header line and one JSON object per line; see docs/formats/ledger.md.',
      `${parsed.problem}.`,
    )
  return parsed.entries
}
