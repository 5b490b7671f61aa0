// Does one column say of which table the value beside it is a row?
import { columnsText, relationText } from '../catalog/index.ts'
import { type Alternative, type Evidence, type Finding, findingId, type KindTarget, noReference } from '../model/index.ts'
import type { Inclusion, KindCount } from '../rows/index.ts'
import { type Context, takenFrom } from './context.ts'
import { allowedWords, type KindPair, keyNamed, kindPairs } from './undeclared/kinds.ts'

/** Findings about pairs of columns whose id refers to no one table by itself. */
export function polymorphicFindings(x: Context): readonly Finding[] {
  const single = new Set(x.guesses.flatMap((g) => (g.answers[0].confidence >= takenFrom ? [g.subject] : [])))
  return kindPairs(x.ground).flatMap((p) => {
    if (single.has(columnsText(p.child, [p.id.name]))) return []
    const counted = x.rows?.kinds.find(
      (k) => k.schema === p.child.schema && k.table === p.child.name && k.kindColumn === p.kind.name && k.idColumn === p.id.name,
    )
    return [findingOf(x, p, counted ?? null)]
  })
}

/** How sure it is by what is known: of words that a rule allows or the rows have, how many name a table that has the values. */
const sureness = { untold: 0.5, allNamed: 0.85, allThere: 0.97, someNamed: 0.6, noneNamed: 0.15 } as const

function findingOf(x: Context, p: KindPair, counted: KindCount | null): Finding {
  const subject = columnsText(p.child, [p.id.name, p.kind.name].toSorted())
  const allowed = allowedWords(x.ground, p)
  const words = [...new Set([...allowed, ...(counted?.kinds.map((k) => k.value) ?? [])])]
  const targets = words.flatMap((value): KindTarget[] => {
    const key = keyNamed(x.ground, p, value)
    return key ? [{ value, schema: key.relation.schema, table: key.relation.name, columns: key.columns.map((c) => c.name) }] : []
  })
  const inclusions = counted?.kinds.flatMap((k) => (k.inclusion ? [k.inclusion] : [])) ?? []
  const several: Alternative = {
    key: 'several tables',
    confidence: surenessOf(words.length, targets.length, inclusions),
    edits: [{ facet: 'reference.kinds', subject, value: { kindColumn: p.kind.name, idColumn: p.id.name, targets } }],
    evidence: evidenceFor(p, allowed, targets, counted),
  }
  const none: Alternative = {
    key: noReference,
    confidence: Math.round((1 - several.confidence) * 1000) / 1000,
    edits: [{ facet: 'reference.kinds', subject, value: null }],
    evidence: [],
  }
  return {
    id: findingId('polymorphic', subject),
    kind: 'polymorphic',
    subject,
    alternatives: several.confidence >= takenFrom ? [several, none] : [none, several],
  }
}

function surenessOf(words: number, named: number, inclusions: readonly Inclusion[]): number {
  if (words === 0) return sureness.untold
  if (named === 0) return sureness.noneNamed
  if (inclusions.length > 0 && inclusions.every((i) => i.missing <= i.values * 0.05)) return named === words ? sureness.allThere : sureness.allNamed
  return named === words ? sureness.allNamed : sureness.someNamed
}

const nameOf = (t: { readonly schema: string; readonly table: string }) => relationText({ schema: t.schema, name: t.table })

function evidenceFor(p: KindPair, allowed: readonly string[], targets: readonly KindTarget[], counted: KindCount | null): readonly Evidence[] {
  const found: Evidence[] = [{ kind: 'a kind beside it', weight: 0.5, says: `${p.kind.name} says what kind of thing ${p.id.name} is of` }]
  if (allowed.length > 0) found.push({ kind: 'allowed words', weight: 0.2, says: `${p.kind.name} may be ${allowed.join(', ')}` })
  for (const k of counted?.kinds ?? []) {
    const t = targets.find((x) => x.value === k.value)
    const i = k.inclusion
    found.push(
      t && i
        ? {
            kind: 'rows',
            weight: i.missing === 0 ? 0.6 : 0.2,
            says: `"${k.value}" in ${k.rows} rows: ${i.rows - i.orphans} are in ${nameOf(t)}, ${i.orphans} point nowhere`,
            query: i.query,
          }
        : { kind: 'rows', weight: -0.3, says: `"${k.value}" in ${k.rows} rows names no table`, query: counted?.query ?? '' },
    )
  }
  for (const t of counted ? [] : targets) found.push({ kind: 'table name', weight: 0.3, says: `"${t.value}" names ${nameOf(t)}` })
  for (const t of counted ? targets.filter((x) => !counted.kinds.some((k) => k.value === x.value)) : [])
    found.push({ kind: 'table name', weight: 0.1, says: `"${t.value}" names ${nameOf(t)}, and no row has it` })
  return found
}
