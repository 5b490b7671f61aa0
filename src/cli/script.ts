// A script on the command line: one file, a folder of them in order of name, or a zip; read piece by piece.
import { createReadStream, existsSync, readdirSync, readFileSync, statSync } from 'node:fs'
import { join } from 'node:path'
import { createGunzip } from 'node:zlib'
import { decodeText, type TextPieces, textDecoderOf, unpackScripts } from '../core/ddl/files.ts'
import { ArchiveTooLarge, ScriptReader, type ScriptResult, scriptDiagnosticLine } from '../core/ddl/index.ts'
import { dialectLabel, type Guess, guessDialect, parseDialect, semanticsOf } from '../core/dialect/guess.ts'
import { badInput } from './exit.ts'

const piece = 1 << 20

/** Files of a script in the order they run. */
function filesOf(path: string): readonly string[] {
  if (!statSync(path).isDirectory()) return [path]
  const names = readdirSync(path, { recursive: true, encoding: 'utf8' }).filter((n) => /\.(sql|ddl|psql|mysql)(\.gz)?$/i.test(n))
  if (names.length === 0) throw badInput(`the folder "${path}" holds no .sql file`, 'Give a folder with scripts; they are read in the order of their names.')
  return names.sort((a, b) => a.localeCompare(b, 'en', { numeric: true })).map((n) => join(path, n))
}

/** Statements in the .sql files of a folder, or in one file; what they are is not looked at. */
export function statementTexts(path: string): readonly string[] {
  if (!existsSync(path)) throw badInput(`there is no file or folder "${path}"`, 'Give --queries a folder with .sql files, or one such file.')
  return filesOf(path).flatMap((f) =>
    decodeText(readFileSync(f))
      .split(/;\s*(?:\n|$)/)
      .filter((t) => t.trim() !== ''),
  )
}

/** Reads a script whole. `dialect` is what --dialect says, null for a guess. Messages go to `say`. */
export async function readScriptSource(path: string, dialect: string | null, say: (line: string) => void): Promise<ScriptResult> {
  const given = dialect === null ? null : parseDialect(dialect)
  if (dialect !== null && given === null)
    throw badInput(`there is no dialect "${dialect}"`, 'Use postgresql, sqlite, mysql or mariadb, the last two with a version where it matters: mysql:8.0.')
  const zipped = /\.zip$/i.test(path) ? unpackedAt(path) : null
  if (zipped !== null && zipped.length === 0)
    throw badInput(`"${path}" holds no .sql file`, 'Give a zip with scripts; they are read in the order of their names.')
  const files = zipped === null ? filesOf(path) : []
  const guess: Guess = given
    ? { choice: given, because: 'it was said so' }
    : guessDialect(
        zipped
          ? zipped
              .map((f) => f.text)
              .join('\n')
              .slice(0, piece)
          : await headOf(files),
      )
  if (!given) say(`read as ${dialectLabel(guess.choice)}: ${guess.because}`)
  const reader = new ScriptReader(semanticsOf(guess.choice))
  if (zipped) for (const f of zipped) reader.feed(f.name, f.text, true)
  else for (const f of files) await feedFile(reader, f)
  const result = reader.finish()
  for (const d of result.diagnostics) say(scriptDiagnosticLine(d))
  say(
    `${result.understood} of ${result.structural} structural statements understood (${share(result)} %), ${result.ignored} about rows, rights and settings passed over`,
  )
  if (result.understood === 0)
    throw badInput(
      `nothing in "${path}" was understood as a script of ${dialectLabel(guess.choice)}`,
      'Name the dialect with --dialect where the guess is wrong; a SOURCE is also a URL, env:NAME, or a snapshot.',
    )
  return result
}

const share = (r: ScriptResult) => (r.structural === 0 ? 100 : Math.floor((1000 * r.understood) / r.structural) / 10)

/** Unpacked where it is gzipped. */
function read(path: string): AsyncIterable<unknown> {
  const file = createReadStream(path, { highWaterMark: piece })
  return /\.gz$/i.test(path) ? file.pipe(createGunzip()) : file
}

async function headOf(files: readonly string[]): Promise<string> {
  let head = ''
  for (const f of files) {
    for await (const bytes of read(f)) {
      head += decodeText(bytes as Uint8Array)
      if (head.length >= piece) break
    }
    if (head.length >= piece) break
  }
  return head
}

async function feedFile(reader: ScriptReader, path: string): Promise<void> {
  let decoder: TextPieces | null = null
  for await (const chunk of read(path)) {
    const bytes = chunk as Uint8Array
    decoder ??= textDecoderOf(bytes, bytes.length < piece)
    reader.feed(path, decoder.decode(bytes, { stream: true }), false)
  }
  reader.feed(path, decoder?.decode() ?? '', true)
}

function unpackedAt(path: string): ReturnType<typeof unpackScripts> {
  try {
    return unpackScripts(readFileSync(path))
  } catch (error) {
    if (error instanceof ArchiveTooLarge) throw badInput(`"${path}" is refused: ${error.message}`, 'Unpack it, and give the folder.')
    throw badInput(`"${path}" is no zip that can be opened`, 'Make it again, or give the scripts themselves.')
  }
}
