// Notation files on the command line: written, laid out, and taken into a ledger.
import { existsSync } from 'node:fs'
import { userInfo } from 'node:os'
import { join } from 'node:path'
import type { Command } from 'commander'
import type { Catalog } from '../core/catalog/index.ts'
import { decodeEntry, findConflict, type LedgerEntry, printLedger } from '../core/model/index.ts'
import { asEntries, entriesOf, formatNotation, type NotationFile, type NotationLayout, notationLayouts } from '../core/notation/index.ts'
import { notationView, reviewNotation } from '../core/review/index.ts'
import { writeFiles, writeOne } from '../server/files.ts'
import { badInput, ExitError } from './exit.ts'
import { gate } from './gate.ts'
import { notationChanges, notationFilesAt, refused } from './notationFiles.ts'
import type { ReadReview } from './reading.ts'
import { print } from './terminal.ts'

interface Reads {
  readonly catalog: Catalog
  readonly entries: readonly LedgerEntry[]
}

interface NotationCommands {
  /** A command on a SOURCE, with --ledger, rows and patterns. */
  readonly onSource: (name: string) => Command
  readonly read: (source: string, o: never) => Promise<ReadReview>
  readonly readPlain: (source: string, o: never) => Promise<Reads>
  readonly say: (line: string) => void
}

export function notationCommands(program: Command, { onSource, read, readPlain, say }: NotationCommands): void {
  onSource('notation')
    .option('--by <how>', 'with --out: one file, one for each schema, or one for each entity', 'one')
    .option('--neutral', 'types as kinds of values where the engine has one type for the kind')
    .option('--out <path>', 'a folder for the files instead of standard output')
    .option('--check', 'write nothing: is the folder what the model gives?')
    .option('--take', 'take what open findings propose as it stands')
    .description('the reviewed model as text')
    .action(async (source: string, o: { by: string; neutral?: boolean; out?: string; check?: boolean; take?: boolean }) => {
      const by = notationLayouts.find((l) => l === o.by)
      if (!by) throw badInput(`--by "${o.by}" is not known`, `Use ${notationLayouts.join(', ')}.`)
      const got = await read(source, o as never)
      const { base, review: made } = got
      gate(got, o.take ?? false, say)
      const files = reviewNotation(base, made, o.out === undefined ? 'one' : by, {
        neutral: o.neutral ?? false,
      })
      if (o.out === undefined) {
        if (o.check) throw badInput('--check needs --out', 'Name the folder that the files are in.')
        process.stdout.write(files[0]?.text ?? '')
      } else writeNotation(files, o.out, o.check ?? false, by, say)
    })

  program
    .command('format')
    .argument('<path>', 'a notation file, or a folder of them')
    .option('--check', 'write nothing: is each laid out?')
    .description('lay notation files out')
    .action((path: string, o: { check?: boolean }) => {
      const files = notationFilesAt(path)
      if (!files) throw badInput(`"${path}" is no notation file and no folder with one`, 'Their names end with .pelvok.')
      const made = files.map((f) => ({ f, laid: formatNotation(f) }))
      const problems = made.flatMap(({ laid }) => (laid.ok ? [] : laid.problems))
      if (problems.length > 0) throw refused(problems, files, say)
      const others = made.flatMap(({ f, laid }) => (laid.ok && laid.text !== f.text ? [{ file: f.file, text: laid.text }] : []))
      if (!o.check) writeFiles(new Map(others.map((f) => [f.file, f.text])))
      for (const f of others) {
        say(`${f.file}: ${o.check ? 'would be laid out otherwise' : 'laid out'}`)
      }
      if (o.check && others.length > 0) process.exitCode = 1
    })

  program
    .command('edits')
    .argument('<notation>', 'a notation file, or a folder of them')
    .requiredOption('--of <source>', 'the schema that it is about')
    .option('--schema <name>', 'read this schema only; may be repeated', (value: string, before: string[]) => [...before, value], [])
    .option('--dialect <name>', 'of a script')
    .option('--ledger <file>', 'the rulings so far')
    .option('--write', 'add the entries to the ledger file')
    .option('--json', 'print pelvok.edits/1')
    .description('what a notation says otherwise than a review; exit 1 where it does')
    .action(async (path: string, o: { of: string; ledger?: string; write?: boolean; json?: boolean }) => {
      const files = notationFilesAt(path)
      if (!files) throw badInput(`"${path}" is no notation file and no folder with one`, 'Their names end with .pelvok.')
      if (o.write && o.ledger === undefined) throw badInput('--write needs --ledger', 'Name the ledger file that the entries are added to.')
      const isNew = o.write === true && o.ledger !== undefined && !existsSync(o.ledger)
      const { catalog, entries } = await readPlain(o.of, { ...o, ...(isNew ? { ledger: undefined } : {}) } as never)
      const reading = notationChanges(files, catalog, entries, say)
      const { changes } = notationView(reading)
      const bodies = entriesOf(reading.changes)
      if (o.json) process.stdout.write(`${JSON.stringify({ format: 'pelvok.edits/1', changes, entries: bodies }, null, 2)}\n`)
      else for (const c of changes) print(`${c.of}: ${c.before ?? 'nothing'} -> ${c.after ?? 'nothing'}${c.schema ? '  (database, planned)' : ''}\n`)
      if (changes.length === 0) say('the review says the same')
      else if (!o.write || o.ledger === undefined) process.exitCode = 1
      else {
        const at = new Date().toISOString()
        const by = userInfo().username
        const conflict = bodies.map((b) => findConflict(entries, b, reading.seen, by)).find((e) => e !== null)
        if (conflict)
          throw new ExitError(1, {
            message: `${conflict.by} changed the same thing since this text was made (entry ${conflict.seq}); nothing was added`,
            detail: '',
            hint: 'Look at it as it is now: print the notation anew, and say it there.',
          })
        const added = asEntries(bodies, entries.length, by).map((e) => decodeEntry({ ...e, at }))
        writeOne(o.ledger, printLedger([...entries, ...added]))
        say(`${added.length === 1 ? 'one entry' : `${added.length} entries`} added to ${o.ledger}`)
      }
    })
}

/** The revision names the ledger's length and the snapshot: what only that differs in is stale, and otherwise the same. */
const body = (text: string) => text.slice(text.indexOf('\n') + 1)

function writeNotation(files: readonly NotationFile[], out: string, check: boolean, by: NotationLayout, say: (line: string) => void): void {
  const there = new Map((existsSync(out) ? (notationFilesAt(out) ?? []) : []).map((f) => [f.file, f.text]))
  const wanted = new Map(files.map((f) => [join(out, f.file), f.text]))
  const gone = [...there.keys()].filter((f) => !wanted.has(f))
  const changed = [...wanted].filter(([f, text]) => body(there.get(f) ?? '\n') !== body(text) || !there.has(f))
  if (check) {
    const stale = [...wanted].filter(([f, text]) => there.has(f) && there.get(f) !== text && body(there.get(f) ?? '') === body(text)).map(([f]) => f)
    process.stdout.write(`${JSON.stringify({ upToDate: changed.length === 0 && gone.length === 0, changed: changed.map(([f]) => f), gone, stale }, null, 2)}\n`)
    if (changed.length > 0 || gone.length > 0) process.exitCode = 1
    return
  }
  writeFiles(new Map([...wanted].filter(([f, text]) => there.get(f) !== text)))
  say(`${files.length === 1 ? 'one file' : `${files.length} files`} in ${out}, by ${by}`)
  // People may have written them by hand: they are told, and stay.
  for (const f of gone) say(`${f}: is not among the files of the model; it is left as it is`)
}
