// Plans of a project: the baseline, the draft that carries its schema changes, and those that were kept.
import { gzipSync, strToU8 } from 'fflate'
import { z } from 'zod'
import { type Catalog, canonicalText, hashText, type SnapshotHash, type Statistics } from '../core/catalog/index.ts'
import {
  baselinePlan,
  type ChangeChoices,
  changeChoices,
  changePlan,
  decodePlan,
  describeHazard,
  describePlanProblem,
  downScript,
  isGrave,
  type Plan,
  type PlanProblem,
  parseScript,
  planFiles,
  type Rename,
  renamed,
  renameProblem,
  type Step,
  schemaEdit,
  schemaEditText,
  slug,
  sourceOf,
  thingOf,
  unproven,
  upScript,
  withSchemaEdits,
} from '../core/change/index.ts'
import { quoteAddress } from '../core/dialect/postgres/index.ts'
import {
  changesBetween,
  driftItems,
  type EditPreview,
  type EditView,
  type KeptPlanView,
  type PlanDeskView,
  renameDoubts,
  type StepRow,
  type StepView,
  type Which,
} from '../core/lineage/index.ts'
import { revisionLedger, revisionText, schemaEditsOf } from '../core/model/index.ts'
import type { AppliedPlan } from '../engines/postgres/index.ts'
import { deletePlan, insertPlan, listPlans, type PlanRow, readProofs, updatePlan } from '../store/index.ts'
import { catalogOf } from './catalogs.ts'
import { shut } from './gate.ts'
import { mtime, zipFiles } from './outputs.ts'
import { type ProjectReview, readProjectReview } from './review.ts'

export const which = z.union([z.literal('baseline'), z.literal('draft'), z.int().min(1)])

export const parseWhich = (text: string | undefined): Which | null =>
  text === 'baseline' || text === 'draft' ? text : text !== undefined && /^\d+$/.test(text) ? Number(text) : null

export interface Resolved {
  readonly which: Which
  readonly plan: Plan
  readonly base: Catalog | null
  readonly expected: Catalog
  readonly revision: string
  /** Of a kept one. */
  readonly row: PlanRow | null
}

export type Resolution = { readonly ok: true; readonly resolved: Resolved } | { readonly ok: false; readonly problem: PlanProblem }

const readCatalog = (hash: string): Promise<Catalog> => catalogOf(hash as SnapshotHash)

/** What a draft begins with: what the kept plans lead to, or the snapshot where it is the same but for how the server prints texts. */
async function draftBase(project: ProjectReview, plans: readonly PlanRow[]): Promise<Catalog> {
  const last = plans.at(-1)
  if (!last) return project.catalog
  const expected = await readCatalog(last.expected)
  return driftItems(expected, project.catalog).length === 0 ? project.catalog : expected
}

/** Renames that the base does not have yet. */
function renamesLeft(base: Catalog, renames: readonly Rename[]): readonly Rename[] {
  let now = base
  return renames.filter((r) => {
    if (renameProblem(now, r) !== null) return false
    now = renamed(now, r)
    return true
  })
}

function draftOf(project: ProjectReview, base: Catalog): Resolution {
  const wished = withSchemaEdits(
    project.catalog,
    schemaEditsOf(project.entries).flatMap((e) => e.edits),
  )
  const result = changePlan(base, wished.catalog, {
    title: 'draft',
    renames: renamesLeft(base, wished.renames),
    conversions: wished.conversions,
    cleanings: wished.cleanings,
  })
  if (!result.ok) return result
  const { plan, reaches } = result.changed
  return { ok: true, resolved: { which: 'draft', plan, base, expected: reaches, revision: revisionText(project.review.revision), row: null } }
}

async function kept(row: PlanRow): Promise<Resolved> {
  const { plan, revision } = decodePlan(JSON.parse(row.body))
  const [base, expected] = await Promise.all([row.base === null ? null : readCatalog(row.base), readCatalog(row.expected)])
  return { which: row.number, plan, base, expected, revision: revision ?? row.revision, row }
}

/** Null where there is no such plan. */
export async function resolvePlan(projectId: string, w: Which): Promise<Resolution | null> {
  const [project, plans] = await Promise.all([readProjectReview(projectId), listPlans(projectId)])
  if (!project) return null
  return resolveIn(project, plans, w)
}

async function resolveIn(project: ProjectReview, plans: readonly PlanRow[], w: Which): Promise<Resolution | null> {
  if (typeof w === 'number') {
    const row = plans.find((p) => p.number === w)
    return row ? { ok: true, resolved: await kept(row) } : null
  }
  if (w === 'draft') return draftOf(project, await draftBase(project, plans))
  const result = baselinePlan(project.catalog)
  if (!result.ok) return result
  return {
    ok: true,
    resolved: { which: 'baseline', plan: result.plan, base: null, expected: project.catalog, revision: revisionText(project.review.revision), row: null },
  }
}

/** Kept plans as they are applied, in order. */
export async function appliedPlans(projectId: string): Promise<readonly AppliedPlan[]> {
  const [rows, proofs] = await Promise.all([listPlans(projectId), readProofs(projectId)])
  return Promise.all(
    rows.map(async (row): Promise<AppliedPlan> => {
      const { plan, base, expected } = await kept(row)
      return { number: row.number, name: row.name, plan, up: row.up, down: row.down, base, expected, proof: proofs.get(markOf(plan)) ?? null }
    }),
  )
}

/** Kept plans for a list, in order. */
export async function keptPlans(projectId: string): Promise<readonly KeptPlanView[]> {
  const [rows, proofs] = await Promise.all([listPlans(projectId), readProofs(projectId)])
  return rows.map((p) => {
    const { plan } = decodePlan(JSON.parse(p.body))
    return { number: p.number, title: p.title, steps: plan.steps.length, unproven: unproven(proofs.get(markOf(plan)) ?? null) }
  })
}

/** The steps of a kept plan; null where there is none of this number. */
export async function stepRows(projectId: string, number: number): Promise<readonly StepRow[] | null> {
  const row = (await listPlans(projectId)).find((p) => p.number === number)
  return row ? decodePlan(JSON.parse(row.body)).plan.steps.map((s) => ({ number: s.number, object: s.object, says: s.says })) : null
}

export const keepInput = z.strictObject({ which: z.enum(['baseline', 'draft']), title: z.string().trim().min(1, 'enter a title').max(80) })

export type KeepAnswer = { readonly ok: true; readonly number: number } | { readonly ok: false; readonly message: string; readonly hint: string }

/** Keep the baseline or the draft under the next number. */
export async function keepPlan(projectId: string, input: z.infer<typeof keepInput>, by: string): Promise<KeepAnswer> {
  const [project, plans] = await Promise.all([readProjectReview(projectId), listPlans(projectId)])
  if (!project) return { ok: false, message: 'there is no survey yet', hint: 'Survey the source first.' }
  const no = await shut(projectId, project)
  if (no) return { ok: false, ...no }
  if (input.which === 'baseline' && plans.length > 0)
    return { ok: false, message: 'there is a baseline already', hint: 'What differs from it is in the draft.' }
  if (input.which === 'draft' && plans.length === 0)
    return { ok: false, message: 'there is no baseline yet', hint: 'Keep the baseline first: environments that have the schema already adopt it.' }
  const found = await resolveIn(project, plans, input.which)
  if (!found) return { ok: false, message: 'there is no such plan', hint: 'Reload the page.' }
  if (!found.ok) return { ok: false, message: describePlanProblem(found.problem), hint: 'Change what stands in the way.' }
  const r = found.resolved
  if (r.plan.steps.length === 0) return { ok: false, message: 'the plan has no steps', hint: 'Ask for a schema change first.' }
  const plan: Plan = { ...r.plan, title: input.title }
  const texts: Record<string, string> = { [r.plan.to]: canonicalText(r.expected) }
  if (r.base) texts[r.plan.from] = canonicalText(r.base)
  const number = await insertPlan(
    projectId,
    { name: slug(input.title), title: input.title, base: r.base ? plan.from : null, expected: plan.to, revision: r.revision, by },
    texts,
    () => filesOf(plan, r.revision),
  )
  return { ok: true, number }
}

const filesOf = (plan: Plan, revision: string) => ({
  body: JSON.stringify({ ...plan, revision }),
  up: upScript(plan, revision),
  down: downScript(plan, revision),
})

export const editInput = z.strictObject({ number: z.int().min(1), step: z.int().min(1), up: z.string().max(200_000), down: z.string().max(200_000) })

/** Statements of one step written by hand. The step says so, and a rehearsal of before does not count any more. */
export async function editStep(projectId: string, input: z.infer<typeof editInput>): Promise<KeepAnswer> {
  const row = (await listPlans(projectId)).find((p) => p.number === input.number)
  const { plan, revision } = row ? decodePlan(JSON.parse(row.body)) : { plan: null, revision: null }
  const step = plan?.steps.find((s) => s.number === input.step)
  if (!row || !plan || !step) return { ok: false, message: 'there is no such step', hint: 'Reload the page.' }
  const only = { ...step, number: 1 }
  const up = parseScript(`-- 1. x\n${input.up}`, [only], null)
  const down = parseScript(`-- 1. x\n${input.down}`, [only], null)
  if (!up.ok || !down.ok)
    return {
      ok: false,
      message: !up.ok ? up.problem : !down.ok ? down.problem : '',
      hint: 'Transactions are the plan’s; a line that begins with "-- 1." begins a step.',
    }
  const edited: Step = {
    ...step,
    up: up.statements.get(1) ?? [],
    down: down.statements.get(1) ?? [],
    hazards: [...step.hazards.filter((h) => h.code !== 'edited'), { code: 'edited', object: step.object, what: 'its SQL was written by hand' }],
  }
  await updatePlan(projectId, row.number, filesOf({ ...plan, steps: plan.steps.map((s) => (s === step ? edited : s)) }, revision ?? row.revision))
  return { ok: true, number: row.number }
}

export const forgetPlan = (projectId: string, number: number): Promise<void> => deletePlan(projectId, number)

/** What a rehearsal was of, and what a page shows: the same text, the same plan. */
export const markOf = (plan: Plan): string => hashText(upScript({ ...plan, title: '' }, null) + downScript({ ...plan, title: '' }, null))

function sizeOf(statistics: Statistics): (relation: string) => string {
  const sizes = new Map(
    statistics.relations.map((r) => [
      quoteAddress(r),
      r.rows === null ? '' : `about ${Math.round(r.rows).toLocaleString('en')} rows, ${(r.pages * 8).toLocaleString('en')} kB`,
    ]),
  )
  return (relation) => sizes.get(relation) ?? ''
}

function stepView(s: Step, size: (relation: string) => string): StepView {
  return {
    number: s.number,
    object: s.object,
    says: s.says,
    hazards: s.hazards.map((h) => ({ says: describeHazard(h), source: sourceOf[h.code], grave: isGrave(h) })),
    locks: s.locks.map((l) => ({ ...l, size: size(l.relation) })),
    transaction: s.transaction,
    checks: s.preChecks.length,
  }
}

function editViews(project: ProjectReview): readonly EditView[] {
  const list = schemaEditsOf(project.entries)
  const { catalog, outcomes } = withSchemaEdits(
    project.catalog,
    list.flatMap((e) => e.edits),
  )
  let at = 0
  return list.map((e) => ({
    seq: e.seq,
    by: e.by,
    thing: e.edits.map((x) => thingOf(catalog, x)).find((t) => t !== null) ?? null,
    parts: e.edits.map((x) => {
      const o = outcomes[at++]
      return { says: schemaEditText(x), is: o?.is ?? 'planned', because: o?.is === 'refused' ? o.because : '' }
    }),
  }))
}

/** Null before the first survey. `w`: null for what is worth looking at first. */
export async function readPlanDesk(projectId: string, w: Which | null, stepNumber: number | null): Promise<PlanDeskView | null> {
  const [project, plans, proofs] = await Promise.all([readProjectReview(projectId), listPlans(projectId), readProofs(projectId)])
  if (!project) return null
  const edits = editViews(project)
  const chosen: Which = w ?? (plans.length > 0 || edits.length > 0 ? 'draft' : 'baseline')
  const found = await resolveIn(project, plans, chosen)
  const list: PlanDeskView['plans'] = [
    ...(plans.length === 0 ? [{ which: 'baseline' as const, title: 'baseline', steps: null }] : []),
    ...plans.map((p) => ({ which: p.number, title: p.title, steps: (JSON.parse(p.body) as Plan).steps.length })),
    { which: 'draft', title: 'draft', steps: null },
  ]
  const common = { plans: list, edits, head: project.entries.at(-1)?.seq ?? 0, dialect: project.catalog.dialect }
  if (!found) return { ...common, problem: 'There is no such plan.', plan: null }
  if (!found.ok) return { ...common, problem: `There is no plan: ${describePlanProblem(found.problem)}.`, plan: null }
  const { plan, base, expected, revision, row } = found.resolved
  const size = sizeOf(project.statistics)
  const step = plan.steps.find((s) => s.number === stepNumber) ?? plan.steps[0] ?? null
  return {
    ...common,
    problem: null,
    plan: {
      which: chosen,
      title: row?.title ?? plan.title,
      steps: plan.steps.map((s) => stepView(s, size)),
      step: step ? { number: step.number, object: step.object, says: step.says, up: step.up.join('\n'), down: step.down.join('\n') } : null,
      leaves: plan.leaves,
      notSupported: plan.notSupported.map((u) => `${u.kind} ${u.identity}`),
      changes: base ? changesBetween(base, expected) : [],
      doubts: base
        ? renameDoubts(renamesLeft(base, []).reduce(renamed, base), expected).filter(
            (d) => !plan.steps.some((s) => s.kind === 'rename' && s.says.includes(d.to)),
          )
        : [],
      revision,
      ledger: revisionLedger(revision),
      mark: markOf(plan),
      unproven: unproven(proofs.get(markOf(plan)) ?? null),
    },
  }
}

/** What a change can be asked with, beside those that are asked for: of one table by its address, or for a new one. Null before the first survey. */
export async function readChangeChoices(projectId: string, table: string | null): Promise<ChangeChoices | null> {
  const project = await readProjectReview(projectId)
  if (!project) return null
  const edits = schemaEditsOf(project.entries).flatMap((e) => e.edits)
  return changeChoices(withSchemaEdits(project.catalog, edits).catalog, table, project.entries.at(-1)?.seq ?? 0)
}

export const previewInput = z.strictObject({ edits: z.array(schemaEdit).min(1).max(200) })

/** What edits would come to beside those that there are: while somebody types. */
export async function previewEdits(projectId: string, input: z.infer<typeof previewInput>): Promise<EditPreview | null> {
  const project = await readProjectReview(projectId)
  if (!project) return null
  const before = schemaEditsOf(project.entries).flatMap((e) => e.edits)
  const now = withSchemaEdits(project.catalog, before)
  const then = withSchemaEdits(now.catalog, input.edits)
  const parts = input.edits.map((x, i) => {
    const o = then.outcomes[i]
    return { says: schemaEditText(x), is: o?.is ?? ('planned' as const), because: o?.is === 'refused' ? o.because : '' }
  })
  const plan = changePlan(now.catalog, then.catalog, { title: 'preview', renames: then.renames, conversions: then.conversions, cleanings: then.cleanings })
  if (!plan.ok) return { parts, steps: [], hazards: [describePlanProblem(plan.problem)] }
  const { steps } = plan.changed.plan
  return { parts, steps: steps.map((s) => `${s.object} ${s.says}`), hazards: steps.flatMap((s) => s.hazards.map(describeHazard)) }
}

/** The folder of a plan, zipped; null where there is none. */
export async function planArchive(projectId: string, w: Which): Promise<Uint8Array | null> {
  const found = await resolvePlan(projectId, w)
  if (!found?.ok) return null
  const r = found.resolved
  const { folder, files, catalogs } = planFiles(
    r.plan,
    r.expected,
    r.base,
    r.revision,
    r.row?.number ?? (w === 'baseline' ? 1 : (await listPlans(projectId)).length + 1),
  )
  const texts = Object.entries(files).map(([name, text]) => [`${folder}/${name}`, strToU8(text)] as const)
  const packed = Object.entries(catalogs).map(([name, text]) => [`${folder}/${name}.gz`, gzipSync(strToU8(text), { mtime })] as const)
  return zipFiles(Object.fromEntries([...texts, ...packed]))
}

/** The draft as text for a pull request: what changes, the hazards, the steps. */
export async function planText(projectId: string, w: Which): Promise<string | null> {
  const view = (await readPlanDesk(projectId, w, null))?.plan
  if (!view) return null
  const hazards = view.steps.flatMap((s) => s.hazards.map((h) => `- step ${s.number}: ${h.says} (${h.source})`))
  return [
    `# ${view.title}`,
    '',
    view.revision,
    '',
    ...(hazards.length > 0 ? ['## Hazards', '', ...hazards, ''] : []),
    '## Steps',
    '',
    ...view.steps.map(
      (s) => `${s.number}. ${s.object}: ${s.says}${s.locks.length > 0 ? ` — locks ${s.locks.map((l) => `${l.relation} ${l.mode}`).join(', ')}` : ''}`,
    ),
    '',
    ...(view.changes.length > 0
      ? [
          '## What changes',
          '',
          ...view.changes.flatMap((c) => [
            `- ${c.object} is ${c.what}`,
            ...c.fields.map((f) => `  - ${f.field}: ${f.was ?? 'nothing'} → ${f.is ?? 'nothing'}`),
          ]),
          '',
        ]
      : []),
    ...(view.leaves.length > 0 ? ['## What stays', '', ...view.leaves.map((l) => `- ${l}`), ''] : []),
  ].join('\n')
}
