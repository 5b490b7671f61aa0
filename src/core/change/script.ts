// A plan as SQL scripts that psql or any client runs, the folder that holds them, and the steps read back from edited scripts.

import { type Catalog, canonicalText } from '../catalog/index.ts'
import { StatementReader, type TextPlace } from '../ddl/reader.ts'
import { postgresLexis } from '../dialect/postgres/lexis.ts'
import { withoutControls } from '../text/scan.ts'
import { describeHazard, type Plan, type Step, searchPathSetting } from './plan.ts'

const plural = (n: number, word: string) => `${n} ${word}${n === 1 ? '' : 's'}`
/** In a comment, which ends with its line and is to be read as it stands. */
const oneLine = (text: string) => withoutControls(text.replace(/\s+/g, ' '))

/** Pinned for the session: names are written with their schema, function bodies are not run, texts are standard, no lock is waited for long. */
export const sessionSettings = (plan: Pick<Plan, 'searchPath'>): readonly string[] => [
  searchPathSetting(plan),
  'SET check_function_bodies = off;',
  'SET standard_conforming_strings = on;',
  'SET client_min_messages = warning;',
]

function header(plan: Plan, direction: 'up' | 'down', revision: string | null): readonly string[] {
  const transactions = new Set(plan.steps.flatMap((s) => (s.transaction === null ? [] : [s.transaction]))).size
  const outside = plan.steps.filter((s) => s.transaction === null).length
  return [
    `-- ${plan.title}, ${direction}: ${plural(plan.steps.length, 'step')}, ${transactions === 1 ? 'one transaction' : plural(transactions, 'transaction')}${outside > 0 ? `, ${plural(outside, 'step')} outside of any` : ''}.`,
    `-- From ${plan.from}`,
    `-- to   ${plan.to}`,
    ...(revision === null ? [] : [`-- Revision ${revision}`]),
    ...plan.leaves.map((l) => `-- Stays: ${oneLine(l)}`),
    ...(plan.notSupported.length === 0
      ? []
      : ['-- Not supported yet, and so not made:', ...plan.notSupported.map((u) => `--   ${oneLine(`${u.kind} ${u.identity}`)}`)]),
  ]
}

/** What begins a step in a script; `parseScript` finds it again. */
const stepLine = (s: Step) => `-- ${s.number}. ${oneLine(s.object)}${s.says === 'is made' ? '' : `: ${oneLine(s.says)}`}`

function stepText(s: Step, statements: readonly string[], hazards: boolean): string {
  const told = hazards ? s.hazards.map((h) => `-- Hazard: ${oneLine(describeHazard(h))}\n`).join('') : ''
  const locks = hazards && s.locks.length > 0 ? `-- Locks: ${s.locks.map((l) => `${l.relation} ${l.mode}`).join(', ')}\n` : ''
  return `${stepLine(s)}\n${told}${locks}${statements.length > 0 ? statements.join('\n') : hazards ? '-- Nothing to do on this way.' : '-- Nothing to do: another step takes it back.'}`
}

/** Steps in the order given, in their transactions. */
function blocks(steps: readonly Step[], text: (s: Step) => string): readonly string[] {
  const out: string[] = []
  let open: number | null = null
  for (const s of steps) {
    if (open !== null && s.transaction !== open) {
      out.push('COMMIT;')
      open = null
    }
    if (s.transaction !== null && open === null) {
      out.push('BEGIN;')
      open = s.transaction
    }
    out.push(text(s))
  }
  return open === null ? out : [...out, 'COMMIT;']
}

const script = (plan: Plan, direction: 'up' | 'down', revision: string | null, body: readonly string[]) =>
  `${[[...header(plan, direction, revision), '', ...sessionSettings(plan)].join('\n'), ...body].join('\n\n')}\n`

export const upScript = (plan: Plan, revision: string | null): string =>
  script(
    plan,
    'up',
    revision,
    blocks(plan.steps, (s) => stepText(s, s.up, true)),
  )

export const downScript = (plan: Plan, revision: string | null): string =>
  script(
    plan,
    'down',
    revision,
    blocks(plan.steps.toReversed(), (s) => stepText(s, s.down, false)),
  )

export type ParsedScript =
  | { readonly ok: true; readonly statements: ReadonlyMap<number, readonly string[]> }
  | { readonly ok: false; readonly line: number; readonly problem: string }

/** Statements that begin or end a transaction (manual, BEGIN, COMMIT, ROLLBACK and what stands beside them). */
const transactionWord = /^(begin|start\s+transaction|commit|end|rollback|abort|prepare\s+transaction)\b/i

/** Comments and ends of statements. */
const betweenStatements = /--[^\n]*|\/\*[\s\S]*?(?:\*\/|$)|;/g

const marksOf = (steps: readonly Step[], whole: boolean) => (whole ? blocks(steps, (s) => `-- ${s.number}.`) : steps.map((s) => `-- ${s.number}.`))

/**
 * The statements of each step of an edited script. Steps keep their lines (`-- 3. …`), their order and their transactions, and the
 * settings before the first stay; whatever else is missing there, or more, is refused with its line.
 * @param steps in the order of the script
 * @param settings those of the plan; null for a part of a script, which has neither settings nor transactions
 */
export function parseScript(text: string, steps: readonly Step[], settings: readonly string[] | null): ParsedScript {
  const places: TextPlace[] = []
  const reader = new StatementReader('up.sql', postgresLexis, {
    statement: (_, place) => places.push(place),
    unreadable: (_, _expected, _text, whole) => places.push(whole),
  })
  reader.feed(text, true)
  const found = new Map<number, string[]>()
  const missing = new Set(settings ?? [])
  const marks = marksOf(steps, settings !== null)
  let at = 0
  let end = 0
  let current: string[] | null = null
  const lineAt = (offset: number) => text.slice(0, offset).split('\n').length
  const refused = (offset: number, problem: string): ParsedScript => ({ ok: false, line: lineAt(offset), problem })
  const next = () => marks[at] ?? 'the end of the script'
  for (const place of [...places, { from: text.length, to: text.length, line: 0 }]) {
    const left = /\S/.exec(text.slice(end, place.from).replace(betweenStatements, (m) => ' '.repeat(m.length)))
    if (left) return refused(end + left.index, 'rows of COPY and commands of a client program are no statements that a server runs')
    for (const m of text.slice(end, place.from).matchAll(/^--[ \t]*(\d+)\.[ \t]/gm)) {
      const number = Number(m[1])
      if (found.has(number)) return refused(end + m.index, `step ${number} is there twice`)
      if (!steps.some((s) => s.number === number)) return refused(end + m.index, `the plan has no step ${number}`)
      if (next() !== `-- ${number}.`)
        return refused(end + m.index, `step ${number} stands where ${next()} belongs; the order and the transactions are the plan's`)
      at++
      current = []
      found.set(number, current)
    }
    const statement = `${text.slice(place.from, place.to).trim()};`
    end = place.to
    if (statement === ';') continue
    if (transactionWord.test(statement)) {
      if (statement.toUpperCase() !== next()) return refused(place.from, `${statement} stands where ${next()} belongs; transactions are the plan's`)
      at++
    } else if (current) current.push(statement)
    else if (!missing.delete(statement))
      return refused(place.from, `a statement stands where ${next()} belongs: before the first step there are only the settings of the plan`)
  }
  if (at < marks.length) return refused(text.length, `${next()} is missing; a step may be left empty, and not be taken out`)
  for (const setting of missing) return refused(0, `${setting} is missing`)
  return { ok: true, statements: found }
}

/** `declare the levies' reference!` → `declare-the-levies-reference` */
export const slug = (title: string): string =>
  title
    .toLowerCase()
    .normalize('NFKD')
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 60) || 'plan'

export interface PlanFolder {
  readonly folder: string
  readonly files: Readonly<Record<string, string>>
  /** The caller gzips these: name without `.gz` → text. */
  readonly catalogs: Readonly<Record<string, string>>
}

/** The files of a plan's folder by name. `base`: the catalog it begins with; null for an empty database. */
export function planFiles(plan: Plan, expected: Catalog, base: Catalog | null, revision: string | null, number: number): PlanFolder {
  return {
    folder: `${String(number).padStart(4, '0')}-${slug(plan.title)}`,
    files: {
      'up.sql': upScript(plan, revision),
      'down.sql': downScript(plan, revision),
      'plan.json': `${JSON.stringify({ ...plan, revision }, null, 2)}\n`,
    },
    catalogs: { 'catalog.json': canonicalText(expected), ...(base === null ? {} : { 'base.json': canonicalText(base) }) },
  }
}
