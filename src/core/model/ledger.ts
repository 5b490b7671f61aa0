// The ledger: an append-only list of entries; undo appends. Kinds this version does not know are kept as they are.
import { z } from 'zod'
import { schemaEdit } from '../change/schemaEdit.ts'
import { namingRule } from '../names/index.ts'
import { type Edit, edit, type LedgerSeq } from './edit.ts'
import { typescriptSettings } from './targetSettings.ts'
import { trialPath } from './trialPath.ts'

const scopeEdit = z.strictObject({ facet: z.literal('scope'), subject: z.string().min(1), value: z.enum(['in', 'out']) })
const note = z.string().max(10_000).nullable()

/** What an entry says, without who, when and where in the ledger. */
export const entryBody = z.discriminatedUnion('kind', [
  z.strictObject({
    kind: z.literal('rule'),
    finding: z.string().min(1),
    verdict: z.enum(['accept', 'amend', 'reject', 'ask']),
    edits: z.array(edit),
    /** What was seen when ruling; see `fingerprint`. */
    fingerprint: z.string(),
    /** Of the verdict "ask": who is asked what. */
    asks: z.strictObject({ whom: z.string().min(1).max(200), question: z.string().min(1).max(2000) }).optional(),
    /** Shared by the rulings that were given at once on findings alike; they are undone at once. */
    batch: z.string().min(1).max(60).optional(),
    note,
  }),
  /** `batch` as of rulings: what was set at once is undone at once. */
  z.strictObject({ kind: z.literal('edit'), edit, batch: z.string().min(1).max(60).optional(), note }),
  /** What takes part from now on; see core/scope. */
  z.strictObject({ kind: z.literal('scope'), edits: z.array(scopeEdit).min(1), note }),
  /** How names are proposed from now on; what a person called something stays. */
  z.strictObject({ kind: z.literal('naming'), rule: namingRule, note }),
  /** How the code of a target language is laid out from now on. */
  z.strictObject({ kind: z.literal('settings'), target: z.literal('typescript'), settings: typescriptSettings, note }),
  /** `from` is called `to` now, a relation or one column; null: it is gone, and what was said of it with it. */
  z.strictObject({ kind: z.literal('rebind'), from: z.string().min(1), to: z.string().min(1).nullable(), note }),
  z.strictObject({ kind: z.literal('note'), subject: z.string().min(1), text: z.string().min(1).max(10_000) }),
  /** Proposals taken because they were sure enough when a revision was sealed. */
  z.strictObject({ kind: z.literal('settle'), threshold: z.number().min(0).max(1), findings: z.array(z.string()), edits: z.array(edit) }),
  /** Proposals taken as they stand, so that outputs can be made before everything is reviewed; with what was seen of each. */
  z.strictObject({
    kind: z.literal('take'),
    findings: z.array(z.strictObject({ id: z.string().min(1), fingerprint: z.string() })).min(1),
    edits: z.array(edit),
    note,
  }),
  /** A path of the trial, kept under a name. */
  z.strictObject({ kind: z.literal('pin'), name: z.string().trim().min(1).max(120), path: trialPath }),
  /** Changes of the database, carried out together; see core/change/schemaEdit.ts. */
  z.strictObject({ kind: z.literal('schema-edit'), edits: z.array(schemaEdit).min(1).max(200), note }),
  z.strictObject({ kind: z.literal('revert'), reverts: z.int().min(1) }),
])

const position = { seq: z.int().min(1), at: z.string().min(1), by: z.string().min(1).max(200) }
const anyEntry = z.looseObject({ ...position, kind: z.string().min(1) })

export type EntryBody = z.infer<typeof entryBody>
interface Position {
  readonly seq: LedgerSeq
  /** ISO 8601, UTC. */
  readonly at: string
  readonly by: string
}
export type KnownEntry = Position & EntryBody
/** An entry of a later version: kept, exported, and without effect here. */
export type OtherEntry = Position & { readonly kind: 'other'; readonly body: Readonly<Record<string, unknown>> }
export type LedgerEntry = KnownEntry | OtherEntry

const knownKinds: ReadonlySet<string> = new Set(entryBody.options.map((o) => o.shape.kind.value))

/** Read one entry from JSON. Throws a ZodError for a known kind with a wrong body; an unknown kind becomes an `other`. */
export function decodeEntry(value: unknown): LedgerEntry {
  const { seq, at, by, ...rest } = anyEntry.parse(value)
  const where = { seq: seq as LedgerSeq, at, by }
  if (!knownKinds.has(rest.kind)) return { ...where, kind: 'other', body: rest }
  return { ...where, ...entryBody.parse(rest) }
}

/** The JSON object of an entry, as the exchange file and the store keep it. */
export function encodeEntry(e: LedgerEntry): Readonly<Record<string, unknown>> {
  return e.kind === 'other' ? { seq: e.seq, at: e.at, by: e.by, ...e.body } : { ...e }
}

/** Proposals that nobody looked at one by one: what a seal settled, and what was taken as it stood. A later rule about names goes for them too. */
export const isUnread = (e: LedgerEntry): boolean => e.kind === 'settle' || e.kind === 'take'

/** The edits an entry makes; none for notes and reverts. */
export function editsOf(e: LedgerEntry): readonly Edit[] {
  switch (e.kind) {
    case 'rule':
    case 'settle':
    case 'take':
    case 'scope':
      return e.edits
    case 'edit':
      return [e.edit]
    case 'naming':
    case 'rebind':
    case 'note':
    case 'pin':
    case 'settings':
    case 'schema-edit':
    case 'revert':
    case 'other':
      return []
    default:
      return unreachable(e)
  }
}

function unreachable(e: never): never {
  throw new Error(`a ledger entry of no known kind: ${JSON.stringify(e)}`)
}
