// Plan folders: writing one, and reading them back whole, hand edits included.
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs'
import { basename, join } from 'node:path'
import { gunzipSync, gzipSync } from 'node:zlib'
import { z } from 'zod'
import { type Catalog, canonicalText, decodeCatalog, hashText } from '../core/catalog/index.ts'
import { decodePlan, downScript, type Plan, type Proof, parseScript, planFiles, type Step, sessionSettings, slug, upScript } from '../core/change/index.ts'
import { type AppliedPlan, checksumOf } from '../engines/postgres/index.ts'
import { writeFiles, writeOne } from '../server/files.ts'
import { badInput } from './exit.ts'

/** Of an unpacked snapshot, in bytes: some twenty thousand tables. */
const snapshotLimit = 250_000_000

const folderName = /^(\d{4})-(.+)$/

/** Folders of plans in a folder, by number. */
export const foldersIn = (dir: string): readonly string[] =>
  existsSync(dir) && statSync(dir).isDirectory()
    ? readdirSync(dir)
        .filter((name) => folderName.test(name))
        .sort()
    : []

/** The number a plan of this title gets: its own where it is the last one already, the next one otherwise. */
function numberFor(dir: string, title: string): number {
  const last = foldersIn(dir).at(-1)
  const m = last ? folderName.exec(last) : null
  if (!m) return 1
  return m[2] === slug(title) && Number(m[1]) === 1 ? 1 : Number(m[1]) + 1
}

export function writePlan(dir: string, plan: Plan, expected: Catalog, base: Catalog | null, revision: string): string {
  const { folder, files, catalogs } = planFiles(plan, expected, base, revision, numberFor(dir, plan.title))
  const path = join(dir, folder)
  guard(path, plan)
  writeFiles(
    new Map<string, string | Uint8Array>([
      ...Object.entries(files).map(([name, text]) => [join(path, name), text] as const),
      ...Object.entries(catalogs).map(([name, text]) => [join(path, `${name}.gz`), gzipSync(text)] as const),
    ]),
  )
  return path
}

/** A plan that is there is written again only where it is the same one, as it was made. */
function guard(path: string, plan: Plan): void {
  if (!existsSync(path)) return
  const there = existsSync(join(path, 'plan.json')) ? readPlanFolder(path).plan : null
  const edited = there ? editedIn(path) : []
  if (there && edited.length === 0 && there.from === plan.from && there.to === plan.to) return
  throw badInput(
    `"${path}" is there already${edited.length > 0 ? `, and ${edited.join(' and ')} in it ${edited.length === 1 ? 'was' : 'were'} changed by hand` : ', and is another plan'}`,
    'Nothing is written over it. Give the plan another --title or --out, or take the folder away yourself.',
  )
}

/** Scripts of a plan's folder that are not as they were made. */
export function editedIn(path: string): readonly string[] {
  const { plan, revision } = decodePlan(JSON.parse(readFileSync(join(path, 'plan.json'), 'utf8')))
  const made = { 'up.sql': upScript(plan, revision), 'down.sql': downScript(plan, revision) }
  return Object.entries(made).flatMap(([file, text]) => (existsSync(join(path, file)) && readFileSync(join(path, file), 'utf8') === text ? [] : [file]))
}

const readCatalogFile = (path: string): Catalog =>
  decodeCatalog(JSON.parse(gunzipSync(readFileSync(path), { maxOutputLength: snapshotLimit }).toString('utf8')))

/** The plan with the statements of scripts that were changed by hand; each step that changed says so. */
function withEdits(path: string, plan: Plan, revision: string | null, up: string, down: string): Plan {
  let steps: readonly Step[] = plan.steps
  for (const [file, text, made, key] of [
    ['up.sql', up, upScript(plan, revision), 'up'],
    ['down.sql', down, downScript(plan, revision), 'down'],
  ] as const) {
    if (text === made) continue
    const parsed = parseScript(text, key === 'up' ? plan.steps : plan.steps.toReversed(), sessionSettings(plan))
    if (!parsed.ok)
      throw badInput(`${join(path, file)}, line ${parsed.line}: ${parsed.problem}`, 'Each step keeps the line it begins with; its statements may be others.')
    steps = steps.map((s) => {
      const own = parsed.statements.get(s.number) ?? []
      const before = s[key].filter((x) => !/^SET LOCAL/.test(x))
      const same = own.filter((x) => !/^SET LOCAL/.test(x)).join('\n') === before.join('\n')
      return same ? s : { ...s, [key]: own, hazards: [...s.hazards, { code: 'edited' as const, object: s.object, what: `its ${key} was changed by hand` }] }
    })
  }
  return { ...plan, steps }
}

const proofFile = z.object({
  format: z.literal('pelvok.rehearsal/1'),
  checksum: z.string(),
  ok: z.boolean(),
  server: z.string(),
  at: z.string(),
  says: z.string(),
})

/** Of the scripts as they are now; null where the folder has none, or of other scripts. */
function readProof(path: string, up: string, down: string): Proof | null {
  if (!existsSync(join(path, 'rehearsal.json'))) return null
  const { checksum, ok, server, at, says } = proofFile.parse(JSON.parse(readFileSync(join(path, 'rehearsal.json'), 'utf8')))
  return checksum === checksumOf({ up, down }) ? { ok, server, at, says } : null
}

/** Keep what a rehearsal said beside the plan. A folder that cannot be written keeps nothing, and says so. */
export function writeProof(path: string, p: Pick<AppliedPlan, 'up' | 'down'>, proof: Proof, say: (line: string) => void): void {
  try {
    writeOne(join(path, 'rehearsal.json'), `${JSON.stringify({ format: 'pelvok.rehearsal/1', checksum: checksumOf(p), ...proof }, null, 2)}\n`)
  } catch (error) {
    say(`what the rehearsal said could not be kept in "${path}": ${(error as Error).message}`)
  }
}

/** Where a plan of `dir` is. */
export const folderOf = (dir: string, p: Pick<AppliedPlan, 'number' | 'name'>): string =>
  existsSync(join(dir, 'plan.json')) ? dir : join(dir, `${String(p.number).padStart(4, '0')}-${p.name}`)

/** One folder. Refuses one whose catalogs are not what plan.json says. */
export function readPlanFolder(path: string): AppliedPlan {
  const m = folderName.exec(basename(path))
  try {
    const { plan, revision } = decodePlan(JSON.parse(readFileSync(join(path, 'plan.json'), 'utf8')))
    const expected = readCatalogFile(join(path, 'catalog.json.gz'))
    const base = existsSync(join(path, 'base.json.gz')) ? readCatalogFile(join(path, 'base.json.gz')) : null
    if (hashText(canonicalText(expected)) !== plan.to) throw badInput(`catalog.json.gz in "${path}" is not the one plan.json leads to`, 'Make the plan again.')
    if (base && hashText(canonicalText(base)) !== plan.from)
      throw badInput(`base.json.gz in "${path}" is not the one plan.json begins with`, 'Make the plan again.')
    const up = readFileSync(join(path, 'up.sql'), 'utf8')
    const down = readFileSync(join(path, 'down.sql'), 'utf8')
    return {
      number: Number(m?.[1] ?? 1),
      name: m?.[2] ?? slug(plan.title),
      plan: withEdits(path, plan, revision, up, down),
      up,
      down,
      base,
      expected,
      proof: readProof(path, up, down),
    }
  } catch (error) {
    if (error instanceof Error && error.name === 'ExitError') throw error
    throw badInput(
      `"${path}" is not a plan folder`,
      'It needs up.sql, down.sql, plan.json and catalog.json.gz, as "pelvok plan --out" writes them.',
      error instanceof Error ? `${error.message.split('\n')[0]}.` : '',
    )
  }
}

export const isPlanFolder = (dir: string): boolean =>
  existsSync(join(dir, 'plan.json')) || foldersIn(dir).some((name) => existsSync(join(dir, name, 'plan.json')))

/** DIR itself where it is one, or all NNNN-title folders in it, in order. Two of one number are refused: two branches made them. */
export function readPlans(dir: string): readonly AppliedPlan[] {
  if (!existsSync(dir)) throw badInput(`there is no folder "${dir}"`, 'Make one with "pelvok plan --from empty --to SOURCE --out DIR".')
  if (existsSync(join(dir, 'plan.json'))) return [readPlanFolder(dir)]
  const folders = foldersIn(dir)
  if (folders.length === 0) throw badInput(`"${dir}" holds no plan`, 'Make one with "pelvok plan --from empty --to SOURCE --out DIR".')
  for (const [i, name] of folders.entries()) {
    const before = folders[i - 1]
    if (before && before.slice(0, 4) === name.slice(0, 4))
      throw badInput(
        `"${before}" and "${name}" have one number`,
        'Two branches made them: give the later one the next number, make its plan again from what the other leads to, and rehearse it.',
      )
  }
  return folders.map((name) => readPlanFolder(join(dir, name)))
}
