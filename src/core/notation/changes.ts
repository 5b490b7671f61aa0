// What a notation changes of a review: each as an edit, with its place, what holds now and what is said.
import type { SchemaEdit } from '../change/schemaEdit.ts'
import type { Edit, EntryBody } from '../model/index.ts'
import type { Place } from './syntax.ts'

export type ChangeIs =
  | { readonly kind: 'edit'; readonly edit: Edit }
  /** Of the database: it is planned, and carried out by nobody before that. */
  | { readonly kind: 'schema'; readonly edit: SchemaEdit }
  | { readonly kind: 'entry'; readonly entry: EntryBody }
  /** Taken as it is proposed, ruled on by nobody. */
  | { readonly kind: 'unread'; readonly finding: string; readonly edits: readonly Edit[] }

export interface NotationChange {
  readonly at: Place
  /** What it is about, in the words of the model: `Crate.bay`. */
  readonly of: string
  /** Null where nothing holds. */
  readonly before: string | null
  readonly after: string | null
  readonly is: ChangeIs
}

/** In which order changes of the database can be carried out. */
const order: readonly SchemaEdit['do'][] = [
  'add table',
  'add column',
  'set type',
  'allow null',
  'require',
  'set default',
  'set key',
  'make unique',
  'declare reference',
  'add index',
  'set comment',
]

/** So many edits of the database one entry holds. */
const most = 200

/** The ledger entries that carry the changes, in the order of their places; those of the database come last, together. */
export function entriesOf(changes: readonly NotationChange[]): readonly EntryBody[] {
  const out: EntryBody[] = []
  const schema: SchemaEdit[] = []
  const unread: { finding: string; edits: readonly Edit[] }[] = []
  for (const { is } of changes) {
    if (is.kind === 'edit') out.push({ kind: 'edit', edit: is.edit as Extract<EntryBody, { kind: 'edit' }>['edit'], note: null })
    else if (is.kind === 'entry') out.push(is.entry)
    else if (is.kind === 'schema') schema.push(is.edit)
    else unread.push(is)
  }
  if (unread.length > 0)
    out.push({
      kind: 'settle',
      threshold: 0,
      findings: unread.map((u) => u.finding),
      edits: unread.flatMap((u) => u.edits) as Extract<EntryBody, { kind: 'settle' }>['edits'],
    })
  const sorted = schema.toSorted((a, b) => order.indexOf(a.do) - order.indexOf(b.do))
  for (let i = 0; i < sorted.length; i += most)
    out.push({ kind: 'schema-edit', edits: sorted.slice(i, i + most) as Extract<EntryBody, { kind: 'schema-edit' }>['edits'], note: null })
  return out
}
