// Text looked for across the stages of a project: what is said in the review, called in the classes, written in the ledger, planned, kept as a trial.
import type { Plan } from '../change/index.ts'
import { emitEntity } from '../emit/typescript/index.ts'
import { type LedgerEntry, revertedSeqs, sentenceText } from '../model/index.ts'
import { docketItems } from './docket.ts'
import { entryText } from './entryText.ts'
import type { Review } from './review.ts'

export interface Found {
  /** `class`, `finding`, `ledger 12`, `plan 0002, step 3`. */
  readonly what: string
  readonly name: string
  readonly says: string
  /** Where it stands: the stage, what its address asks for, and the place on its page. */
  readonly stage: 'review' | 'code' | 'ledger' | 'plan' | 'trial' | 'watch'
  readonly query: Readonly<Record<string, string>>
  readonly place: string | null
}

interface KeptPlan {
  readonly number: number
  readonly steps: Plan['steps']
}

/** So many of each kind. */
const most = 6

/** Every word of the text occurs in it. */
const matcher = (text: string): ((...parts: readonly string[]) => boolean) => {
  const words = text
    .toLowerCase()
    .split(/\s+/)
    .filter((w) => w !== '')
  return (...parts) => {
    const all = parts.join(' ').toLowerCase()
    return words.length > 0 && words.every((w) => all.includes(w))
  }
}

/** `environments`: their names. Within a kind in the order of its stage, entries newest first. O(findings + classes + entries + steps). */
export function findIn(
  text: string,
  r: Review,
  entries: readonly LedgerEntry[],
  plans: readonly KeptPlan[],
  environments: readonly string[],
): readonly Found[] {
  const matches = matcher(text)
  const found = (what: string, name: string, says: string, stage: Found['stage'], query: Found['query'], place: string | null = null): Found => ({
    what,
    name,
    says,
    stage,
    query,
    place,
  })
  const firstOf = <T>(list: readonly T[], is: (x: T) => boolean): readonly T[] => {
    const some: T[] = []
    for (const x of list) {
      if (is(x)) some.push(x)
      if (some.length === most) break
    }
    return some
  }
  const classes = firstOf(r.model.entities, (e) => matches(e.name, e.id))
  const properties = firstOf(
    r.model.entities.flatMap((e) => e.properties.map((p) => ({ e, p }))),
    ({ e, p }) => matches(`${e.name}.${p.name}`) && !matches(e.name),
  )
  const files = classes.slice(0, 3).flatMap((e) => emitEntity(r.model, r.revision, e.id)?.file.path ?? [])
  const says = (i: ReturnType<typeof docketItems>[number]) => i.says.map(sentenceText).join(' ')
  const findings = firstOf(docketItems(r), (i) => i.kind !== 'entity' && i.partOf === null && matches(says(i), i.subject))
  const gone = revertedSeqs(entries)
  const lines = firstOf(entries.toReversed(), (e) => matches(entryText(e), e.by))
  const pins = firstOf(entries, (e) => e.kind === 'pin' && !gone.has(e.seq) && matches(e.name))
  const steps = firstOf(
    plans.flatMap((p) => p.steps.map((s) => ({ p, s }))),
    ({ s }) => matches(s.object, s.says),
  )
  const numbered = (n: number) => String(n).padStart(4, '0')
  return [
    ...classes.map((e) => found('class', e.name, e.id, 'review', { at: `entity:${e.id}` })),
    ...properties.map(({ e, p }) => found('property', `${e.name}.${p.name}`, p.column, 'review', { at: `entity:${e.id}`, show: 'sheet' })),
    ...findings.map((i) => found('finding', says(i), i.status === 'open' ? 'waits' : i.status, 'review', { at: i.id })),
    ...pins.flatMap((e) => (e.kind === 'pin' ? [found('trial', e.name, `kept by ${e.by}`, 'trial', { path: JSON.stringify(e.path) })] : [])),
    ...files.map((path) => found('file', path, '', 'code', { file: path })),
    ...steps.map(({ p, s }) =>
      found(`plan ${numbered(p.number)}, step ${s.number}`, `${s.object} ${s.says}`, '', 'plan', { plan: String(p.number), step: String(s.number) }),
    ),
    ...environments.filter((name) => matches(name)).map((name) => found('environment', name, '', 'watch', {})),
    ...lines.map((e) => found(`ledger ${e.seq}`, entryText(e), e.by, 'ledger', {}, `entry-${e.seq}`)),
  ]
}
