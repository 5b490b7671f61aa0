// What a name would come to, told while it is typed: whether it can be used, what would be free, and what it touches.
import type { SnapshotHash } from '../catalog/index.ts'
import { changedPaths } from '../emit/typescript/index.ts'
import { type EntityModel, type EntryBody, editsOf, type Facet, type LedgerEntry, type LedgerSeq, type ModelDiagnostic, nameFacets } from '../model/index.ts'
import { assignNames, camelCase, nameProblem, pascalCase, plural, singularWord, splitWords } from '../names/index.ts'
import { type EditableName, editOfName } from './detail.ts'
import { type ReviewBase, reviewWith } from './review.ts'

const words = {
  empty: 'a name is needed',
  'not an identifier': 'a name is letters, digits and underscores, and does not begin with a digit',
  reserved: { class: 'a class name begins with a capital letter and is not one of TypeScript’s own', property: 'TypeScript keeps this name for itself' },
} as const

const kindOf = (facet: Facet) => (facet === 'entity.name' || facet === 'type.name' ? 'class' : 'property')

function illegal(wanted: string, of: 'class' | 'property'): string | null {
  const problem = nameProblem(wanted, of)
  return problem === null ? null : `"${wanted}" cannot be used: ${problem === 'reserved' ? words.reserved[of] : words[problem]}`
}

/** Why the names that entries give cannot be used: no identifiers, reserved, or taken by another in their scope. Null where all is well. */
export function namingProblem(base: ReviewBase, snapshot: SnapshotHash, entries: readonly LedgerEntry[], bodies: readonly EntryBody[]): string | null {
  const added = asEntries(entries, bodies)
  const names = added.flatMap(editsOf).filter((e) => nameFacets.has(e.facet))
  if (names.length === 0) return null
  for (const e of names) {
    const problem = e.value === null ? null : illegal(e.value as string, kindOf(e.facet))
    if (problem !== null) return problem
  }
  const after = reviewWith(base, snapshot, [...entries, ...added]).model
  const clash = newClash(reviewWith(base, snapshot, entries).model, after)
  return clash === null ? null : clashText(clash, after)
}

type Clash = Extract<ModelDiagnostic, { code: 'name-taken' }>

const clashesOf = (m: EntityModel) => m.diagnostics.filter((d): d is Clash => d.code === 'name-taken')

function newClash(before: EntityModel, after: EntityModel): Clash | null {
  const known = clashesOf(before)
  return clashesOf(after).find((d) => !known.some((b) => b.entity === d.entity && b.wanted === d.wanted)) ?? null
}

const clashText = (clash: Clash, model: EntityModel) =>
  clash.entity === ''
    ? `there is already a class called ${clash.wanted}`
    : `${model.entities.find((e) => e.id === clash.entity)?.name ?? clash.entity} already has a property called ${clash.wanted}; ${clash.got} is free`

const asEntries = (entries: readonly LedgerEntry[], bodies: readonly EntryBody[]): readonly LedgerEntry[] =>
  bodies.map((b, i) => ({ ...b, seq: ((entries.at(-1)?.seq ?? 0) + i + 1) as LedgerSeq, at: '', by: '' }) as LedgerEntry)

export interface RenameCheck {
  /** Why it cannot be used; null where it can. */
  readonly problem: string | null
  /** What one might have meant otherwise: one where there are many, many where there is one. */
  readonly remark: string | null
  /** A name that can be used, or says what the remark means; null where the one typed is as good. */
  readonly proposal: string | null
  /** Files that would change, in order. */
  readonly touches: readonly string[]
}

export function checkRename(base: ReviewBase, snapshot: SnapshotHash, entries: readonly LedgerEntry[], name: EditableName, wanted: string): RenameCheck {
  const of = kindOf(name.facet)
  const problem = illegal(wanted, of)
  if (problem !== null) return { problem, remark: null, proposal: legal(wanted, of), touches: [] }
  const before = reviewWith(base, snapshot, entries).model
  const after = reviewWith(base, snapshot, [...entries, ...asEntries(entries, [editOfName(name, wanted)])]).model
  const clash = newClash(before, after)
  if (clash) return { problem: clashText(clash, after), remark: null, proposal: clash.got, touches: [] }
  const [remark, proposal] = inNumber(name, wanted, before)
  return { problem: null, remark, proposal, touches: changedPaths(before, after) }
}

/** The nearest name that can be used: its words in the right case, with one more where it is reserved. */
function legal(wanted: string, of: 'class' | 'property'): string | null {
  const spoken = splitWords(wanted).filter((w) => w !== '')
  if (spoken.length === 0) return null
  const cased = of === 'class' ? pascalCase : camelCase
  const candidates = [cased(spoken), cased([...spoken, of === 'class' ? 'entity' : 'value'])]
  const [got] = assignNames([{ scope: '', candidates }], (n) => nameProblem(n, of) !== null)
  return got === undefined || nameProblem(got, of) !== null ? null : got
}

/** An end that leads to many reads as many, and one that leads to one as one. */
function inNumber(name: EditableName, wanted: string, model: EntityModel): readonly [string | null, string | null] {
  const end = model.relationships.flatMap((r) => {
    const own = name.facet === 'reference.ownName' || name.facet === 'join.firstName' ? r.from : r.to
    return r.id.includes(`:${name.subject}`) && own.property === name.value && name.facet !== 'entity.name' && name.facet !== 'property.name' ? [own] : []
  })[0]
  if (!end) return [null, null]
  const spoken = splitWords(wanted)
  const last = spoken.at(-1) ?? ''
  const [many, one] = [camelCase(plural(spoken)), camelCase([...spoken.slice(0, -1), singularWord(last)])]
  if (end.leadsTo === 'any number' && camelCase([...spoken.slice(0, -1), last]) === one && many !== wanted)
    return [`${wanted} reads like one, and there can be any number`, many]
  if (end.leadsTo !== 'any number' && one !== wanted && camelCase(plural([...spoken.slice(0, -1), singularWord(last)])) === wanted)
    return [`${wanted} reads like many, and there is at most one`, one]
  return [null, null]
}
