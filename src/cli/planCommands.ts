// Commands about plans: making, rehearsing, adopting and applying them, and telling how far a database is.
import type { Command } from 'commander'
import { type Catalog, canonicalText, hashText } from '../core/catalog/index.ts'
import {
  baselinePlan,
  changePlan,
  describeHazard,
  describePlanProblem,
  type Plan,
  parseRename,
  type Rename,
  renamed,
  rightsKept,
  upScript,
  withSchemaEdits,
} from '../core/change/index.ts'
import { inferenceVersion } from '../core/infer/index.ts'
import { type DriftItem, driftItems, renameDoubts } from '../core/lineage/index.ts'
import { revisionText, schemaEditsOf } from '../core/model/index.ts'
import { asEntries, entriesOf } from '../core/notation/index.ts'
import {
  type AppliedPlan,
  type ApplyOptions,
  type ApplyReport,
  adoptPlan,
  applyPlans,
  describeApplyRefusal,
  planStatus,
  preCheck,
  readRows,
} from '../engines/postgres/index.ts'
import { chainFaults, isBroken } from './checkPlans.ts'
import { badInput, ExitError } from './exit.ts'
import { readLedgerFile } from './ledger.ts'
import { notationChanges, notationFilesAt } from './notationFiles.ts'
import { isPlanFolder, readPlans, writePlan } from './plans.ts'
import { locationIn, rehearseCommand, serverAt, type Talk } from './rehearseCommand.ts'
import { readSource, type SourceOptions } from './source.ts'
import { print } from './terminal.ts'

const json = (value: unknown) => `${JSON.stringify(value, null, 2)}\n`
const several = (value: string, before: string[]) => [...before, value]

interface PlanOptions {
  readonly from: string
  readonly to: string
  readonly schema: string[]
  readonly dialect?: string
  readonly ledger?: string
  readonly out?: string
  readonly title?: string
  readonly rename: string[]
  readonly check?: string
  readonly json?: boolean
}

function renamesOf(texts: readonly string[]): readonly Rename[] {
  return texts.map((text) => {
    const r = parseRename(text)
    if (!r) throw badInput(`--rename "${text}" cannot be read`, 'Example: --rename field.bay=field.lane, or --rename "field.bay(kind)=field.bay(sort)".')
    return r
  })
}

interface Made {
  readonly plan: Plan
  readonly expected: Catalog
  readonly base: Catalog | null
  readonly revision: string
}

async function makePlan(o: PlanOptions, { say, progress }: Talk): Promise<Made> {
  const options: SourceOptions = { schemas: o.schema.length > 0 ? o.schema : null, dialect: o.dialect ?? null, progress, say }
  // Behind a schema, a notation changes what it states; at the beginning it is all there is.
  const notation = o.from === 'empty' ? null : notationFilesAt(o.to)
  const to = (await readSource(notation ? o.from : o.to, options)).catalog
  const entries = o.ledger === undefined ? [] : readLedgerFile(o.ledger)
  const revision = revisionText({ snapshot: hashText(canonicalText(to)), evidence: null, ledger: entries.length, inference: inferenceVersion })
  if (o.from === 'empty') {
    const result = baselinePlan(to)
    if (!result.ok) throw noPlan(describePlanProblem(result.problem))
    return { plan: result.plan, expected: to, base: null, revision }
  }
  if (notationFilesAt(o.from))
    throw badInput('a plan begins with a whole schema, and a notation states a part of one', 'Give a server, a script or a snapshot with --from.')
  const base = notation || o.from === o.to ? to : isPlanFolder(o.from) ? wholeChain(o.from).expected : (await readSource(o.from, options)).catalog
  const said = notation ? asEntries(entriesOf(notationChanges(notation, base, entries, say).changes), entries.length, '') : []
  const edits = schemaEditsOf([...entries, ...said]).flatMap((e) => e.edits)
  const wished = withSchemaEdits(to, edits)
  wished.outcomes.forEach((x, i) => {
    if (x.is === 'refused') say(`schema change ${i + 1} is left out: ${x.because}`)
  })
  const renames = [...renamesOf(o.rename), ...wished.renames]
  const result = changePlan(base, wished.catalog, { title: o.title ?? 'change', renames, conversions: wished.conversions, cleanings: wished.cleanings })
  if (!result.ok) throw noPlan(describePlanProblem(result.problem))
  for (const q of renameDoubts(renames.reduce(renamed, base), wished.catalog))
    say(`is ${q.to} what ${q.from} is called now (${q.because})? Here one is dropped and one is made; say --rename "${q.from}=${q.to}" where rows are to stay.`)
  await tellRights(o.from, base, result.changed.plan, say)
  return { plan: result.changed.plan, expected: result.changed.reaches, base, revision }
}

/** What is given back to objects that are made anew, as it is on the server that the plan begins with. */
async function tellRights(from: string, base: Catalog, plan: Plan, say: (line: string) => void): Promise<void> {
  const asked = rightsKept(plan, base)
  const location = asked.length === 0 ? null : locationIn(from)
  if (location === null) return
  await readRows(location, null, async (ask) => {
    for (const a of asked) for (const [, statement] of (await ask({ sql: a.query, values: [] })).rows) say(`step ${a.step} gives back: ${statement}`)
  })
}

/** The last plan of a folder whose chain holds. */
function wholeChain(dir: string): AppliedPlan {
  const broken = chainFaults(dir).filter(isBroken)
  if (broken.length > 0)
    throw badInput(`the plans in "${dir}" are no chain`, 'Say pelvok check for all of it.', broken.map((f) => `${f.folder} ${f.says}.`).join(' '))
  return readPlans(dir).at(-1) as AppliedPlan
}

const noPlan = (message: string) => new ExitError(1, { message, detail: '', hint: 'Change what stands in the way, and make the plan again.' })

export function planCommands(program: Command, talk: Talk): void {
  const { say, progress } = talk
  program
    .command('plan')
    .requiredOption('--from <source>', '"empty" for the baseline, or the schema to begin with')
    .requiredOption('--to <source>', 'the schema to arrive at')
    .option('--schema <name>', 'read this schema only; may be repeated', several, [])
    .option('--dialect <name>', 'of a script: postgresql, sqlite, mysql or mariadb')
    .option('--ledger <file>', 'the rulings of a review: its schema changes are part of what is arrived at')
    .option('--rename <a=b>', 'field.bay=field.lane: the same table under another name; may be repeated', several, [])
    .option('--title <text>', 'of the plan; its folder is named after it')
    .option('--check <server>', 'ask the pre-checks on this database; exit 1 where one fails')
    .option('--out <dir>', 'write a folder NNNN-title/ there instead of printing up.sql')
    .option('--json', 'print plan.json instead of up.sql')
    .description('an ordered migration')
    .action(async (o: PlanOptions) => {
      const made = await makePlan(o, talk)
      const { plan } = made
      for (const u of plan.notSupported) say(`not supported yet, and not made: ${u.kind} ${u.identity}`)
      for (const l of plan.leaves) say(`stays: ${l}`)
      for (const s of plan.steps) for (const h of s.hazards) if (made.base) say(`step ${s.number}: ${describeHazard(h)}`)
      if (o.out) say(`${plan.steps.length} steps in ${writePlan(o.out, plan, made.expected, made.base, made.revision)}`)
      else process.stdout.write(o.json ? json(plan) : upScript(plan, made.revision))
      if (o.check !== undefined) {
        const answers = (await preCheck(serverAt('--check', o.check), plan.steps)).filter((a) => a.count !== 0)
        for (const a of answers)
          say(`step ${a.step}: ${a.asks} No: ${a.count === null ? a.said : `${a.count} in the way`}${a.cleaning ? `; to clean: ${a.cleaning}` : ''}`)
        if (answers.length > 0) process.exitCode = 1
      }
    })

  rehearseCommand(program, talk)

  program
    .command('adopt')
    .argument('<dir>', 'a plan folder, or a folder of them')
    .requiredOption('--on <server>', 'the database that has the schema already')
    .option('--unproven', 'agree to a plan that no rehearsal proved; the journal keeps it')
    .option('--json', 'print the result as JSON')
    .description('record the baseline as applied on the schema it came from, running nothing')
    .action(async (dir: string, o: { on: string; unproven?: boolean; json?: boolean }) => {
      const location = serverAt('--on', o.on)
      const [first] = readPlans(dir)
      report(
        await adoptPlan(location, first as AppliedPlan, unprovenWish(o)),
        o.json,
        () => `${number(first as AppliedPlan)} is recorded as applied; nothing ran`,
      )
    })

  program
    .command('apply')
    .argument('<dir>', 'a plan folder, or a folder of them')
    .requiredOption('--to <server>', 'the database to change')
    .option('--down-to <nnnn>', 'take back every plan with a greater number', Number)
    .option('--accept-loss', 'take back steps that have no way back, and what has rows, too')
    .option('--unproven', 'agree to plans that no rehearsal proved; the journal keeps it')
    .option('--lock-timeout <ms>', 'how long a lock is waited for at a time', Number, 5000)
    .option('--lock-tries <n>', 'how often', Number, 10)
    .option('--json', 'print the result as JSON')
    .description('run what is not in the database yet, in order')
    .action(
      async (
        dir: string,
        o: { to: string; downTo?: number; acceptLoss?: boolean; unproven?: boolean; lockTimeout: number; lockTries: number; json?: boolean },
      ) => {
        const location = serverAt('--to', o.to)
        const result = await applyPlans(location, readPlans(dir), {
          ...(o.downTo === undefined ? {} : { downTo: o.downTo }),
          acceptLoss: o.acceptLoss ?? false,
          ...unprovenWish(o),
          lockTimeout: o.lockTimeout,
          lockTries: o.lockTries,
          onProgress: (doing, done, total) => progress(`${done} of ${total}: ${doing}`),
        })
        report(result, o.json, (r) =>
          r.ran.length === 0
            ? 'nothing to do'
            : r.ran.map((s) => `${String(s.plan).padStart(4, '0')} step ${s.step}: ${s.object} ${s.says} (${s.milliseconds} ms)`).join('\n'),
        )
      },
    )

  program
    .command('status')
    .argument('<dir>', 'a plan folder, or a folder of them')
    .requiredOption('--on <server>', 'the database')
    .option('--json', 'print the result as JSON')
    .description('how far each plan is on a database; exit 1 where one is not applied as it is')
    .action(async (dir: string, o: { on: string; json?: boolean }) => {
      const list = await planStatus(serverAt('--on', o.on), readPlans(dir))
      tellChain(dir)
      if (o.json) process.stdout.write(json(list))
      else
        print(
          `${list.map((s) => `${String(s.number).padStart(4, '0')}-${s.name}: ${s.state}, ${s.done} of ${s.steps} steps${s.at ? `, ${s.at} by ${s.by}` : ''}${s.unproven ? `; it ${s.unproven}` : ''}`).join('\n')}\n`,
        )
      if (list.some((s) => s.state !== 'applied' && s.state !== 'adopted')) process.exitCode = 1
    })

  program
    .command('check')
    .argument('<dir>', 'a folder of plans')
    .option('--json', 'print the result as JSON')
    .description('whether the plans of a folder are one chain: numbers, what each begins with, files changed by hand; exit 1 where they are not')
    .action((dir: string, o: { json?: boolean }) => {
      if (!isPlanFolder(dir)) throw badInput(`"${dir}" holds no plan`, 'Make one with "pelvok plan --from empty --to SOURCE --out DIR".')
      const faults = chainFaults(dir)
      if (o.json) process.stdout.write(json({ format: 'pelvok.check/1', faults }))
      else
        print(
          faults.length === 0 ? 'the plans are one chain\n' : `${faults.map((f) => `${f.folder === '' ? dir : f.folder} ${f.says}. ${f.remedy}`).join('\n')}\n`,
        )
      if (faults.some(isBroken)) process.exitCode = 1
    })

  program
    .command('drift')
    .argument('<source>', 'what the database should be: a plan folder or any source')
    .argument('<server>', 'the database')
    .option('--schema <name>', 'read this schema only; may be repeated', several, [])
    .option('--json', 'print the result as JSON')
    .description('what differs, in both directions; exit 1 where anything does')
    .action(async (source: string, server: string, o: { schema: string[]; json?: boolean }) => {
      const options: SourceOptions = { schemas: o.schema.length > 0 ? o.schema : null, dialect: null, progress, say }
      const expected = await expectedOf(source, options)
      const found = (await readSource(server, options)).catalog
      const items = driftItems(expected, found)
      if (o.json) process.stdout.write(json({ format: 'pelvok.drift/1', items }))
      else print(items.length === 0 ? 'no drift\n' : `${items.map(driftLine).join('\n')}\n`)
      if (items.length > 0) process.exitCode = 1
    })

  const tellChain = (dir: string) => {
    for (const f of chainFaults(dir).filter(isBroken)) say(`${f.folder} ${f.says}. ${f.remedy}`)
  }
  /** A plan that was never rehearsed is told of and runs; one whose rehearsal failed takes a word of agreement. */
  function unprovenWish(o: { readonly unproven?: boolean }): Pick<ApplyOptions, 'unproven' | 'onUnproven'> {
    const onUnproven = (p: AppliedPlan, because: string) =>
      say(`${number(p)} is not proven: it ${because}; the journal says so. Rehearse it first, or say --unproven.`)
    return { unproven: o.unproven ? 'agree' : 'tell', onUnproven }
  }
  const number = (p: AppliedPlan) => `${String(p.number).padStart(4, '0')}-${p.name}`
  function report(r: ApplyReport, asJson: boolean | undefined, text: (r: ApplyReport) => string): void {
    if (asJson) process.stdout.write(json(r))
    else if (r.ok) print(`${text(r)}\n`)
    else if (r.refusal) {
      const w = describeApplyRefusal(r.refusal)
      for (const s of r.ran) print(`${String(s.plan).padStart(4, '0')} step ${s.step}: ${s.object} ${s.says} (${s.milliseconds} ms)\n`)
      say(`pelvok: ${w.message}`)
      if (w.detail) say(`  ${w.detail}`)
      say(`  ${w.hint}`)
    }
    if (!r.ok) process.exitCode = 1
  }
}

const driftLine = (i: DriftItem): string =>
  `${i.where}: ${i.object}${i.field === '' ? '' : ` ${i.field}: ${i.is ?? 'nothing'}, where ${i.was ?? 'nothing'} is expected`}; ${i.remedy}`

/** What a database should be: what the last plan of a folder leads to, or any source. */
async function expectedOf(source: string, o: SourceOptions): Promise<Catalog> {
  if (isPlanFolder(source)) return (readPlans(source).at(-1) as AppliedPlan).expected
  return (await readSource(source, o)).catalog
}
