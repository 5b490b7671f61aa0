// A notation as a source: the catalog it states, and the entries that make the review of that catalog say the same.
import { type Catalog, columnsText } from '../catalog/index.ts'
import { infer } from '../infer/index.ts'
import { derive, type Edit, type EntryBody, foldFacets, type KindReading, type LedgerEntry, type LedgerSeq } from '../model/index.ts'
import { plainNaming } from '../names/index.ts'
import { entriesOf, type NotationChange } from './changes.ts'
import { checkNotation } from './check.ts'
import { Differ } from './differ.ts'
import { differenceOf } from './difference.ts'
import { type NotationFile, type ParsedNotation, parseNotation } from './parse.ts'
import type { NotationProblem } from './problem.ts'
import { linesOf, type Notation, nowhere } from './syntax.ts'
import { catalogOf } from './toCatalog.ts'
import { type NotationBase, World } from './world.ts'

export type NotationSource =
  | { readonly ok: true; readonly catalog: Catalog; readonly entries: readonly LedgerEntry[]; readonly revision: string | null }
  | { readonly ok: false; readonly problems: readonly NotationProblem[] }

/**
 * Reads files that are all there is of a model. The entries say what inference would not propose by itself, and take away what it
 * would; none is anybody's ruling on what is only guessed. All that is wrong is told at once. O(text) and one inference.
 */
export function notationSource(files: readonly NotationFile[]): NotationSource {
  const { notation, problems, revision } = parseNotation(files)
  const w = new World(notation, null)
  checkNotation(w, true)
  if (problems.length + w.problems.length > 0) return { ok: false, problems: sorted([...problems, ...w.problems]) }
  const catalog = catalogOf(w)
  const { findings } = infer(catalog, null, plainNaming)
  const facets = foldFacets(findings, [])
  const kinds = new Map<string, KindReading>()
  for (const subject of facets.subjects('reference.kinds')) {
    const value = facets.get('reference.kinds', subject)
    if (value) kinds.set(subject, value)
  }
  const base: NotationBase = { model: derive(catalog, findings, []), catalog, whole: catalog, findings, facets, kinds, formerly: new Map(), planned: [] }
  const against = new World(notation, base)
  const changes = [...differenceOf(against, base, true), ...unsaid(against, base)]
  if (against.problems.length > 0) return { ok: false, problems: sorted(against.problems) }
  return { ok: true, catalog, entries: asEntries(entriesOf(changes), 0, 'notation'), revision }
}

/** Bodies as entries behind `after`, before a ledger has given them a time. */
export const asEntries = (bodies: readonly EntryBody[], after: number, by: string): readonly LedgerEntry[] =>
  bodies.map((b, i): LedgerEntry => ({ ...b, seq: (after + i + 1) as LedgerSeq, at: '1970-01-01T00:00:00.000Z', by }))

const sorted = (list: readonly NotationProblem[]) => list.toSorted((a, b) => (a.at.file < b.at.file ? -1 : a.at.file > b.at.file ? 1 : a.at.from - b.at.from))

export interface NotationReading {
  readonly notation: Notation
  readonly revision: string | null
  readonly changes: readonly NotationChange[]
  readonly problems: readonly NotationProblem[]
}

/** Reads files against a review: what they change of it, and all that is wrong with them. `parsed`: where that was done already. */
export function readNotation(files: readonly NotationFile[], base: NotationBase, parsed: ParsedNotation = parseNotation(files)): NotationReading {
  const { notation, problems, revision } = parsed
  if (notation.dialect !== null && notation.dialect !== base.catalog.dialect)
    return {
      notation,
      revision,
      changes: [],
      problems: [{ code: 'other-dialect', at: { file: files[0]?.file ?? '', from: 0, to: 1 }, here: base.catalog.dialect, there: notation.dialect }],
    }
  const w = new World(notation, base)
  checkNotation(w, false)
  // A line that is wrong by itself is not compared as well.
  const wrong = [...problems, ...w.problems]
  const lines = linesWith(wrong, files)
  const changes = differenceOf(w, base, false)
  const compared = w.problems.slice(wrong.length - problems.length).filter((p) => !lines.has(lineOf(p, files)))
  return { notation, revision, changes, problems: sorted([...wrong, ...compared]) }
}

const lineOf = (p: NotationProblem, files: readonly NotationFile[]) =>
  `${p.at.file}:${(files.find((f) => f.file === p.at.file)?.text ?? '').slice(0, p.at.from).split('\n').length}`

const linesWith = (problems: readonly NotationProblem[], files: readonly NotationFile[]): ReadonlySet<string> => new Set(problems.map((p) => lineOf(p, files)))

/** What inference proposes of the catalog and the notation does not have. */
function unsaid(w: World, base: NotationBase): readonly NotationChange[] {
  const d = new Differ(w, base, true)
  const take = (of: string, edit: Edit) => d.edit(nowhere, of, 'proposed', edit)
  const said = saidSubjects(w)
  for (const r of base.model.relationships)
    if (!r.through && !said.has(r.id)) take(r.id, { facet: 'reference.target', subject: r.id.slice('reference:'.length), value: null })
  for (const h of base.model.joinHalves) if (!said.has(h.id)) take(h.id, { facet: 'reference.target', subject: h.id.slice('reference:'.length), value: null })
  for (const subject of base.kinds.keys()) if (!said.has(`kind:${subject}`)) take(subject, { facet: 'reference.kinds', subject, value: null })
  for (const g of base.model.groups) {
    const subject = `columns:${g.columns.join(',')}`
    if (!said.has(subject)) take(subject, { facet: 'columns.group', subject, value: null })
  }
  for (const type of Object.keys(base.model.typeTargets))
    if (!said.has(`held:${type}`)) take(type, { facet: 'type.target', subject: `type:${type}`, value: null })
  for (const type of Object.keys(base.model.typeNames))
    if (!said.has(`called:${type}`)) take(type, { facet: 'type.name', subject: `type:${type}`, value: null })
  return d.changes
}

function saidSubjects(w: World): ReadonlySet<string> {
  const said = new Set<string>()
  for (const [id, b] of w.blocks) {
    for (const e of linesOf(b, 'end')) {
      const target = w.classOf(e.target.value)
      if (target !== undefined && e.over.kind === 'own') said.add(`reference:${w.subjectOf(id, e.over.columns.value, target)}`)
    }
    for (const k of linesOf(b, 'kind')) said.add(`kind:${columnsText(b.relation.value, [k.idColumn.value, k.kindColumn.value].toSorted())}`)
  }
  for (const b of w.notation.blocks) {
    if (b.kind === 'group') said.add(`columns:${b.columns.value.join(',')}`)
    if (b.kind !== 'type') continue
    const type = b.type.value.kind === 'neutral' ? w.typeOf(b.type) : b.type.value.text
    if (b.called) said.add(`called:${type}`)
    if (b.held) said.add(`held:${type}`)
  }
  return said
}
