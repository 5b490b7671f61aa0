// What a naming rule would change, before it is set or taken back.
import { fileNames } from '../emit/typescript/index.ts'
import { derive, type EntityModel, type LedgerEntry, type LedgerSeq } from '../model/index.ts'
import { type NamingRule, ruleKey, ruleText } from '../names/index.ts'
import { type ReviewBase, reviewBase } from './review.ts'

export interface Renaming {
  readonly what: 'class' | 'property' | 'end' | 'file'
  /** The class it belongs to, under its name before; "" for a class or file itself. */
  readonly of: string
  readonly before: string
  readonly after: string
}

/** A rule in force. */
export interface RuleInForce {
  readonly seq: number
  readonly by: string
  readonly text: string
}

/** The last rule about each thing, oldest first. */
export function rulesInForce(active: readonly LedgerEntry[]): readonly RuleInForce[] {
  const found = new Map<string, RuleInForce>()
  for (const e of active) {
    if (e.kind !== 'naming') continue
    found.delete(ruleKey(e.rule))
    found.set(ruleKey(e.rule), { seq: e.seq, by: e.by, text: ruleText(e.rule) })
  }
  return [...found.values()]
}

/** All names that would be others with this rule, in order of class. What a person called something stays, so it is not among them. */
export function namingPreview(base: ReviewBase, entries: readonly LedgerEntry[], rule: NamingRule): readonly Renaming[] {
  const next = (Math.max(0, ...entries.map((e) => e.seq)) + 1) as LedgerSeq
  const after = [...entries, { seq: next, at: '', by: '', kind: 'naming' as const, rule, note: null }]
  const changed = reviewBase(base.whole, after, base)
  return renamings(derive(base.catalog, base.findings, entries), derive(changed.catalog, changed.findings, after))
}

function renamings(before: EntityModel, after: EntityModel): readonly Renaming[] {
  const classes = new Map(before.entities.map((e) => [e.id as string, e.name]))
  const later = new Map(after.entities.map((e) => [e.id as string, e]))
  const filesBefore = fileNames(before)
  const filesAfter = fileNames(after)
  const found: Renaming[] = []
  const add = (what: Renaming['what'], of: string, was: string, is: string | undefined) => {
    if (is !== undefined && was !== is) found.push({ what, of, before: was, after: is })
  }
  for (const e of before.entities) {
    const now = later.get(e.id)
    add('class', '', e.name, now?.name)
    add('file', '', `${filesBefore.get(e.name)}.ts`, now && `${filesAfter.get(now.name)}.ts`)
    for (const p of e.properties) add('property', e.name, p.name, now?.properties.find((x) => x.column === p.column)?.name)
  }
  const ends = new Map(after.relationships.map((r) => [r.id, r]))
  for (const r of before.relationships) {
    const now = ends.get(r.id)
    for (const side of ['from', 'to'] as const) add('end', classes.get(r[side].entity) ?? '', r[side].property, now?.[side].property)
  }
  return found
}
