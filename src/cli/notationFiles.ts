// Notation files as they are read: as a source, or against a review.
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { type Catalog, canonicalText, hashText } from '../core/catalog/index.ts'
import type { LedgerEntry } from '../core/model/index.ts'
import { type NotationFile, type NotationProblem, type NotationReading, notationProblemLine, notationSource } from '../core/notation/index.ts'
import { readNotationOf } from '../core/review/index.ts'
import { badInput, type ExitError } from './exit.ts'

const isNotation = (name: string) => /\.pelvok$/i.test(name)

/** The notation files that a path means: one file, or those of a folder; null where it means none. */
export function notationFilesAt(path: string): readonly NotationFile[] | null {
  if (!existsSync(path)) return null
  const read = (file: string): NotationFile => ({ file, text: readFileSync(file, 'utf8') })
  if (!statSync(path).isDirectory()) return isNotation(path) ? [read(path)] : null
  const names = readdirSync(path, { recursive: true, encoding: 'utf8' }).filter(isNotation).sort()
  return names.length === 0 ? null : names.map((name) => read(join(path, name)))
}

/** With all that is wrong told before. */
export function refused(problems: readonly NotationProblem[], files: readonly NotationFile[], say: (line: string) => void): ExitError {
  const texts = new Map(files.map((f) => [f.file, f.text]))
  for (const p of problems) say(notationProblemLine(p, texts))
  return badInput(
    `${problems.length === 1 ? 'one thing is' : `${problems.length} things are`} wrong in the notation; nothing was taken from it`,
    'Mend what is told above; docs/formats/notation.md has the grammar.',
  )
}

/** A catalog and the entries that make its review say what the files say. Throws ExitError with all that is wrong told before. */
export function readNotationSource(
  files: readonly NotationFile[],
  say: (line: string) => void,
): { readonly catalog: Catalog; readonly entries: readonly LedgerEntry[] } {
  const source = notationSource(files)
  if (!source.ok) throw refused(source.problems, files, say)
  return source
}

/** What files change of the review of a catalog. Throws ExitError as above. */
export function notationChanges(
  files: readonly NotationFile[],
  catalog: Catalog,
  entries: readonly LedgerEntry[],
  say: (line: string) => void,
): NotationReading & { readonly seen: number } {
  const reading = readNotationOf({ whole: catalog, hash: hashText(canonicalText(catalog)), entries, known: null, now: null }, files)
  if (reading.problems.length > 0) throw refused(reading.problems, files, say)
  return reading
}
