// ALTER SEQUENCE on the draft, and defaults that follow it.
import { at, type Draft, lookup, relationKey, shown, written } from './draft.ts'
import { sequenceOptions, setOwner } from './makeOther.ts'
import type { Name, StatementOf } from './statement.ts'

export function alterSequenceAsTable(d: Draft, s: StatementOf<'alter table'>): void {
  const sequence = lookup(d, d.sequences, s.table)
  if (!sequence) {
    if (!s.ifExists) d.complain({ code: 'unknown-object', what: 'sequence', name: shown(s.table) })
    return
  }
  for (const a of s.actions) {
    if (a.kind === 'rename') moveSequence(d, sequence, sequence.schema, a.to.name)
    else if (a.kind === 'set schema') moveSequence(d, sequence, a.schema, sequence.name)
    else if (a.kind === 'logged') sequence.unlogged = !a.logged
  }
}

/** Defaults that count with it follow: the server keeps them by the sequence's identity. */
export function moveSequence(d: Draft, q: { schema: string; name: string }, schema: string, name: string): void {
  const old = d.semantics.nextValue(q)
  d.sequences.delete(relationKey(d, q.schema, q.name))
  d.classNames.delete(at(q.schema, q.name))
  q.schema = schema
  q.name = name
  d.sequences.set(relationKey(d, schema, name), q as never)
  d.classNames.add(at(schema, name))
  for (const r of d.relations.values())
    for (const c of r.columns) if (c.default && sameCall(c.default.written, old)) c.default = written(d.semantics.nextValue(q))
}

/** `nextval('s'::regclass)` in any spelling of its quotes and schema. */
export function sameCall(text: string, call: string): boolean {
  const bare = (t: string) => t.replace(/pg_catalog\.|::(text|regclass)|[()"\s]/g, '').replace(/'(?:[^'.]*\.)?/g, "'")
  return bare(text) === bare(call)
}

export function alterSequence(d: Draft, s: StatementOf<'alter sequence'>): void {
  const q = lookup(d, d.sequences, s.name)
  if (!q) {
    if (!s.ifExists && !identityOf(d, s.name)) d.complain({ code: 'unknown-object', what: 'sequence', name: shown(s.name) })
    return
  }
  const type = s.settings.type ? d.semantics.type(s.settings.type, d, q.name) : q.options.type
  q.options = sequenceOptions(s.settings, type, q.options)
  setOwner(d, relationKey(d, q.schema, q.name), s.settings)
}

const identityOf = (d: Draft, n: Name) => [...d.relations.values()].some((r) => r.columns.some((c) => c.identity?.sequence?.name === n.name))
