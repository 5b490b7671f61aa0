// A subject that has another name now: what was said of the former is said of the present one. Undo takes a rebind back like any entry.
import { columnsText, parseAddress, relationText } from '../catalog/index.ts'
import type { Edit, ReferenceTarget } from './edit.ts'
import type { KnownEntry, LedgerEntry } from './ledger.ts'
import type { TrialPath, TrialStep } from './trialPath.ts'

type Address = NonNullable<ReturnType<typeof parseAddress>>
type Rebind = Extract<KnownEntry, { kind: 'rebind' }>

interface Move {
  readonly from: Address
  /** Null where the former is gone for good. */
  readonly to: Address | null
}

const isRelation = (m: Move, a: { readonly schema: string; readonly name: string }) => a.schema === m.from.schema && a.name === m.from.name
const ofColumn = (m: Move) => m.from.columns.length > 0

function moveOf(e: Rebind): Move | null {
  const from = parseAddress(e.from)
  const to = e.to === null ? null : parseAddress(e.to)
  return from === null || (e.to !== null && to === null) ? null : { from, to }
}

const columnOf = (m: Move, column: string) => (column === m.from.columns[0] && m.to ? (m.to.columns[0] ?? column) : column)

/** One address of a subject; null where it is gone. Sets of columns stay sorted. */
function moveAddress(m: Move, text: string): string | null {
  const a = parseAddress(text)
  if (!a || !isRelation(m, a)) return text
  if (ofColumn(m)) {
    if (!a.columns.includes(m.from.columns[0] as string)) return text
    return m.to === null ? null : columnsText(a, a.columns.map((c) => columnOf(m, c)).toSorted())
  }
  if (m.to === null) return null
  return a.columns.length === 0 ? relationText(m.to) : columnsText(m.to, a.columns)
}

/** A subject may be two addresses (`columns>target`); those of schemas and routines have a colon and stay. */
function moveSubject(m: Move, subject: string): string | null {
  if (subject.includes(':')) return subject
  const parts = subject.split('>').map((p) => moveAddress(m, p))
  return parts.some((p) => p === null) ? null : parts.join('>')
}

function moveTarget(m: Move, subject: string, t: ReferenceTarget): ReferenceTarget {
  const child = parseAddress(subject.split('>')[0] as string)
  const columns = child && ofColumn(m) && isRelation(m, child) ? t.columns.map((c) => columnOf(m, c)) : t.columns
  if (!isRelation(m, { schema: t.schema, name: t.table })) return { ...t, columns }
  if (ofColumn(m)) return { ...t, columns, targetColumns: t.targetColumns.map((c) => columnOf(m, c)) }
  return m.to === null ? { ...t, columns } : { ...t, columns, schema: m.to.schema, table: m.to.name }
}

function moveEdit(m: Move, e: Edit): readonly Edit[] {
  const subject = moveSubject(m, e.subject)
  if (subject === null) return []
  if (e.facet === 'reference.target') return [{ ...e, subject, value: e.value === null ? null : moveTarget(m, e.subject, e.value) }]
  if (e.facet === 'join.reading' && e.value.as === 'many-to-many') {
    const first = moveSubject(m, e.value.first)
    const second = moveSubject(m, e.value.second)
    return first === null || second === null ? [] : [{ ...e, subject, value: { ...e.value, first, second } }]
  }
  if (e.facet === 'join.reading' && e.value.as === 'entity' && e.value.shortcut) {
    const first = moveSubject(m, e.value.shortcut.first)
    const second = moveSubject(m, e.value.shortcut.second)
    return [{ ...e, subject, value: first === null || second === null ? { as: 'entity' } : { as: 'entity', shortcut: { first, second } } }]
  }
  if (e.facet === 'entity.identity' && e.value !== null) {
    const own = parseAddress(e.subject)
    return [{ ...e, subject, value: own && ofColumn(m) && isRelation(m, own) ? e.value.map((c) => columnOf(m, c)) : e.value }]
  }
  return [{ ...e, subject } as Edit]
}

/** The same rows and the same relationships under the names they have now; null where one of them is gone. */
function movePath(m: Move, p: TrialPath): TrialPath | null {
  let gone = false
  const moved = (subject: string) => {
    const now = moveSubject(m, subject)
    gone ||= now === null
    return now ?? subject
  }
  const step = (s: TrialStep): TrialStep => {
    const at = s.relationship.indexOf(':')
    return { ...s, relationship: `${s.relationship.slice(0, at + 1)}${moved(s.relationship.slice(at + 1))}` }
  }
  const conditions = p.conditions.map((c) => ({ ...c, via: c.via.map(step), column: c.via.length === 0 ? movedColumn(m, p.entity, c.column) : c.column }))
  const path = { entity: moved(p.entity), conditions, steps: p.steps.map(step) }
  return gone ? null : path
}

function movedColumn(m: Move, entity: string, column: string): string {
  const a = parseAddress(entity)
  return a && ofColumn(m) && isRelation(m, a) ? columnOf(m, column) : column
}

/** `reference:` and its subject; of structure the topic goes with the kind, and the name behind a slash stays what it is. A native type is no address. */
function partsOf(finding: string): { readonly kind: string; readonly subject: string; readonly name: string } {
  const [, kind = '', subject = finding, name = ''] = /^((?:structure:(?!type:))?[^:]*:)([^/]*)(.*)$/.exec(finding) ?? []
  return { kind, subject, name }
}

function moveFinding(m: Move, finding: string): string | null {
  const own = partsOf(finding)
  const subject = moveSubject(m, own.subject)
  return subject === null ? null : `${own.kind}${subject}${own.name}`
}

/** Null where nothing of the entry is left. A ruling that was carried over was seen under another name: it has no fingerprint. */
function moveEntry(m: Move, e: LedgerEntry): LedgerEntry | null {
  switch (e.kind) {
    case 'rule': {
      const finding = moveFinding(m, e.finding)
      if (finding === null) return null
      const edits = e.edits.flatMap((x) => moveEdit(m, x as Edit)) as typeof e.edits
      const moved = finding !== e.finding || JSON.stringify(edits) !== JSON.stringify(e.edits)
      return moved ? { ...e, finding, edits, fingerprint: '' } : e
    }
    case 'edit': {
      const [edit] = moveEdit(m, e.edit as Edit)
      return edit ? { ...e, edit: edit as typeof e.edit } : null
    }
    case 'take':
      return {
        ...e,
        findings: e.findings.flatMap((f) => {
          const id = moveFinding(m, f.id)
          return id === null ? [] : [{ id, fingerprint: id === f.id ? f.fingerprint : '' }]
        }),
        edits: e.edits.flatMap((x) => moveEdit(m, x as Edit)),
      } as LedgerEntry
    case 'settle':
    case 'scope':
      return { ...e, edits: e.edits.flatMap((x) => moveEdit(m, x as Edit)) } as LedgerEntry
    case 'note': {
      const subject = moveSubject(m, e.subject)
      return subject === null ? null : { ...e, subject }
    }
    case 'pin': {
      const path = movePath(m, e.path)
      return path === null ? null : { ...e, path }
    }
    case 'naming':
    case 'settings':
    case 'rebind':
    // It says what names the database is to have, not what is said of those it has.
    case 'schema-edit':
    case 'revert':
    case 'other':
      return e
    default:
      return unreachable(e)
  }
}

function unreachable(e: never): never {
  throw new Error(`a ledger entry of no known kind: ${JSON.stringify(e)}`)
}

/** Entries that count, with each rebind carried out on those before it. O(entries × rebinds). */
export function rebound(entries: readonly LedgerEntry[]): readonly LedgerEntry[] {
  let list = entries
  for (const e of entries) {
    const move = e.kind === 'rebind' ? moveOf(e) : null
    if (move) list = list.flatMap((x) => (x.seq < e.seq ? (moveEntry(move, x) ?? []) : x))
  }
  return list
}

/** Addresses of relations, and of columns, that an entry says something of: its subjects, and what it says they refer to. */
export function subjectsOf(e: LedgerEntry, edits: readonly Edit[]): readonly string[] {
  const own = e.kind === 'rule' ? [partsOf(e.finding).subject] : e.kind === 'note' ? [e.subject] : []
  const targets = edits.flatMap((x) =>
    x.facet === 'reference.target' && x.value !== null ? [columnsText({ schema: x.value.schema, name: x.value.table }, x.value.targetColumns)] : [],
  )
  const identities = edits.flatMap((x) => {
    const a = x.facet === 'entity.identity' ? parseAddress(x.subject) : null
    return x.facet === 'entity.identity' && a && x.value !== null ? [columnsText(a, x.value)] : []
  })
  return [...own, ...edits.map((x) => x.subject), ...targets, ...identities].filter((s) => !s.includes(':')).map((s) => s.split('>')[0] as string)
}
