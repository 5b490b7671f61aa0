// Environments of a project: databases that kept plans are checked against, adopted on, applied to and watched.
import { z } from 'zod'
import { type CheckAnswer, changePlan, describePlanProblem, upScript } from '../core/change/index.ts'
import { type DriftItem, driftItems, type EnvironmentView, type PlanStateView } from '../core/lineage/index.ts'
import {
  type AppliedPlan,
  type ApplyReport,
  adoptPlan,
  applyPlans,
  describeApplyRefusal,
  describeFailure,
  describeLocation,
  type Location,
  planStatus,
  preCheck,
  SourceError,
  survey,
  testConnection,
  type Wording,
} from '../engines/postgres/index.ts'
import {
  deleteEnvironment,
  deleteOverlooked,
  type EnvironmentRow,
  environmentKinds,
  findEnvironment,
  findSource,
  insertEnvironment,
  insertOverlooked,
  listEnvironments,
  listOverlooked,
  noteWatch,
  readEnvironmentSecret,
  readSecret,
} from '../store/index.ts'
import { appliedPlans, resolvePlan, which } from './plans.ts'
import { locationOf, openKept, refuseStore, SourceUnreadable, sourceInput } from './sources.ts'

export type Outcome<T> = { readonly ok: true; readonly value: T } | { readonly ok: false; readonly wording: Wording }

const refused = (message: string, hint: string, detail = ''): { readonly ok: false; readonly wording: Wording } => ({
  ok: false,
  wording: { message, detail, hint },
})

export const environmentInput = z.strictObject({
  name: z.string().trim().min(1, 'enter a name').max(60),
  kind: z.enum(environmentKinds),
  protected: z.boolean(),
  source: sourceInput,
})

/** Add an environment that can be reached. */
export async function addEnvironment(projectId: string, input: z.infer<typeof environmentInput>, by: string): Promise<Outcome<null>> {
  const answer = locationOf(input.source)
  if (!answer.ok) return answer
  const tested = await testConnection(answer.location)
  if (!tested.ok) return { ok: false, wording: describeFailure(tested.failure, answer.location) }
  const no = await refuseStore(answer.location)
  if (no) return { ok: false, wording: no }
  const { name, kind } = input
  const added = await insertEnvironment(
    projectId,
    { name, kind, protected: input.protected, label: describeLocation(answer.location), location: answer.kept },
    answer.secret,
    by,
  )
  return added ? { ok: true, value: null } : refused(`there is an environment "${name}" already`, 'Choose another name.')
}

/** The source's own database as an environment, so that nothing has to be typed twice. */
export async function addSourceEnvironment(projectId: string, by: string): Promise<Outcome<null>> {
  const source = await findSource(projectId)
  if (!source) return refused('the project was not read from a server', 'Add the database by its URL.')
  const added = await insertEnvironment(
    projectId,
    { name: 'source', kind: 'development', protected: false, label: source.label, location: source.location },
    await readSecret(source.id),
    by,
  )
  return added ? { ok: true, value: null } : refused('there is an environment "source" already', 'Use that one.')
}

export const removeEnvironment = (projectId: string, id: number): Promise<void> => deleteEnvironment(projectId, id)

/** Run `work` on an environment; what cannot be reached is told. */
async function on<T>(projectId: string, id: number, work: (l: Location, e: EnvironmentRow) => Promise<Outcome<T>>): Promise<Outcome<T>> {
  const e = await findEnvironment(projectId, id)
  if (!e) return refused('there is no such environment', 'Reload the page.')
  try {
    return await work(await openKept(e.location, () => readEnvironmentSecret(e.id)), e)
  } catch (error) {
    if (error instanceof SourceError) return { ok: false, wording: describeFailure(error.failure, error.location) }
    if (error instanceof SourceUnreadable) return { ok: false, wording: error.wording }
    throw error
  }
}

export const checkInput = z.strictObject({ environment: z.int(), which })

/** The pre-checks of a plan on one environment: what is in the way, counted, with some of it. */
export const checkPlan = (projectId: string, input: z.infer<typeof checkInput>): Promise<Outcome<readonly CheckAnswer[]>> =>
  on(projectId, input.environment, async (l) => {
    const found = await resolvePlan(projectId, input.which)
    if (!found?.ok) return refused('there is no such plan', 'Reload the page.')
    return { ok: true, value: await preCheck(l, found.resolved.plan.steps) }
  })

export const environmentOnly = z.strictObject({ environment: z.int() })

/** How far the plans are there, and what differs from what they lead to. */
export const watch = (projectId: string, id: number): Promise<Outcome<{ readonly drift: number }>> =>
  on(projectId, id, async (l, e) => {
    const plans = await appliedPlans(projectId)
    const status = await planStatus(l, plans)
    const expected = expectedThere(plans, status)
    const drift = expected ? driftItems(expected, (await survey(l, { schemas: null })).structure) : null
    await noteWatch(e.id, { status: JSON.stringify(status), drift: drift && JSON.stringify(drift) })
    return { ok: true, value: { drift: drift?.length ?? 0 } }
  })

/** What the last plan that is whole there leads to; null before the first. */
function expectedThere(plans: readonly AppliedPlan[], status: readonly PlanStateView[]) {
  const whole = status.filter((s) => s.state === 'applied' || s.state === 'adopted').at(-1)
  return plans.find((p) => p.number === whole?.number)?.expected ?? null
}

/** SQL from what an environment is to what it should be. Refused where there is no plan that is whole there. */
export const repairScript = (projectId: string, id: number): Promise<Outcome<string>> =>
  on(projectId, id, async (l, e) => {
    const plans = await appliedPlans(projectId)
    const expected = expectedThere(plans, await planStatus(l, plans))
    if (!expected) return refused('no plan is adopted or applied there', 'Adopt the baseline first.')
    const found = (await survey(l, { schemas: null })).structure
    const result = changePlan(found, expected, { title: `repair of ${e.name}` })
    return result.ok ? { ok: true, value: upScript(result.changed.plan, null) } : refused(describePlanProblem(result.problem), 'Change what stands in the way.')
  })

const told = (r: ApplyReport, plans: readonly AppliedPlan[]): Outcome<ApplyReport> => {
  if (r.ok || !r.refusal) return { ok: true, value: r }
  const number = 'number' in r.refusal ? r.refusal.number : null
  return {
    ok: false,
    wording: describeApplyRefusal(
      r.refusal,
      plans.find((p) => p.number === number),
    ),
  }
}

export const adoptInput = z.strictObject({ environment: z.int(), number: z.int().min(1), typed: z.string(), unproven: z.boolean().default(false) })

const unconfirmed = (e: EnvironmentRow, typed: string) =>
  e.protected && typed !== e.name ? refused(`"${e.name}" is protected`, 'Type its name to say that you mean it.') : null

/** Record a plan as applied where its schema is there already. */
export const adopt = (projectId: string, input: z.infer<typeof adoptInput>, by: string): Promise<Outcome<ApplyReport>> =>
  on(projectId, input.environment, async (l, e) => {
    const no = unconfirmed(e, input.typed)
    if (no) return no
    const plans = await appliedPlans(projectId)
    const plan = plans.find((p) => p.number === input.number)
    if (!plan) return refused('there is no such plan', 'Reload the page.')
    const result = told(await adoptPlan(l, plan, { by, unproven: input.unproven ? 'agree' : 'refuse' }), plans)
    if (result.ok) await noteWatch(e.id, { status: JSON.stringify(await planStatus(l, plans)) })
    return result
  })

export const applyInput = z.strictObject({
  environment: z.int(),
  /** Plans up to this number are applied; or, down, those above it are taken back. */
  number: z.int().min(0),
  direction: z.enum(['up', 'down']),
  acceptLoss: z.boolean(),
  /** Plans that no rehearsal proved are meant as they are. */
  unproven: z.boolean().default(false),
  typed: z.string(),
})

/** May it run? A protected environment's name must have been typed. */
export async function mayApply(projectId: string, input: z.infer<typeof applyInput>): Promise<Outcome<null>> {
  const e = await findEnvironment(projectId, input.environment)
  if (!e) return refused('there is no such environment', 'Reload the page.')
  return unconfirmed(e, input.typed) ?? { ok: true, value: null }
}

/** Apply plans; done in the worker. Progress in steps. */
export const apply = (
  projectId: string,
  input: z.infer<typeof applyInput>,
  by: string,
  w: { readonly signal: AbortSignal; readonly progress: (doing: string, done: number, total: number) => void },
): Promise<Outcome<ApplyReport>> =>
  on(projectId, input.environment, async (l, e) => {
    const all = await appliedPlans(projectId)
    const plans = input.direction === 'up' ? all.filter((p) => p.number <= input.number) : all
    const known = (await planStatus(l, all)).filter((s) => s.done > 0 && !plans.some((p) => p.number === s.number))
    if (known.length > 0 && input.direction === 'up')
      return refused(`plan ${known[0]?.number} is there already`, 'Apply the later one; those before it are there.')
    const report = await applyPlans(l, plans, {
      by,
      signal: w.signal,
      onProgress: w.progress,
      acceptLoss: input.acceptLoss,
      unproven: input.unproven ? 'agree' : 'refuse',
      ...(input.direction === 'down' ? { downTo: input.number } : {}),
    })
    await noteWatch(e.id, { status: JSON.stringify(await planStatus(l, all)), drift: null })
    return told(report, all)
  })

export const overlookInput = z.strictObject({
  environment: z.int(),
  object: z.string().min(1),
  field: z.string(),
  found: z.string().nullable(),
  reason: z.string().trim().min(1, 'say why').max(500),
})

export async function overlook(projectId: string, input: z.infer<typeof overlookInput>, by: string): Promise<Outcome<null>> {
  if (!(await findEnvironment(projectId, input.environment))) return refused('there is no such environment', 'Reload the page.')
  await insertOverlooked({ environmentId: input.environment, object: input.object, field: input.field, found: input.found, reason: input.reason, by })
  return { ok: true, value: null }
}

export const lookAgain = (environment: number, id: number): Promise<void> => deleteOverlooked(environment, id)

/** All environments with what was last found out; overlooked drift is apart as long as it is what it was. */
export async function readEnvironments(projectId: string): Promise<readonly EnvironmentView[]> {
  const [rows, overlooked] = await Promise.all([listEnvironments(projectId), listOverlooked(projectId)])
  return rows.map((e) => {
    const own = overlooked.filter((o) => o.environmentId === e.id)
    const all = e.drift === null ? null : (JSON.parse(e.drift) as readonly DriftItem[])
    const isOverlooked = (d: DriftItem) => own.some((o) => o.object === d.object && o.field === d.field && o.found === d.is)
    return {
      id: e.id,
      name: e.name,
      kind: e.kind,
      protected: e.protected,
      label: e.label,
      // What an earlier version noted has no steps.
      status:
        e.status === null ? null : (JSON.parse(e.status) as readonly PlanStateView[]).map((s) => ({ ...s, runs: s.runs ?? [], unproven: s.unproven ?? null })),
      drift: all?.filter((d) => !isOverlooked(d)) ?? null,
      overlooked: own.map(({ id, object, field, reason, by }) => ({ id, object, field, reason, by })),
      watchedAt: e.watchedAt?.toISOString() ?? null,
    }
  })
}
