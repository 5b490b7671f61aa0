// What the desk shows of a review at once, and the portions it comes in: first what waits, then the rest, then only what changed.
import type { Dialect, Statistics } from '../catalog/index.ts'
import { relationText, type SnapshotHash } from '../catalog/index.ts'
import { rowQuestions } from '../infer/index.ts'
import { activeEntries, describeModelDiagnostic, foldAreas, type LedgerEntry, type RelationshipState } from '../model/index.ts'
import { areaKey, areasOn, groundOf, isWholeMap, type MapWish, mapOf, type Scene, usualShape, wholeMap } from '../strata/index.ts'
import { type Heading, progressBy, type Show, showCounts } from './arrange.ts'
import { type DocketItem, docketItems } from './docket.ts'
import { linksUnruled } from './linkTables.ts'
import { type RuleInForce, rulesInForce } from './names.ts'
import { placesOnMap } from './places.ts'
import type { Review, ReviewBase } from './review.ts'
import { type ThresholdView, thresholdView } from './threshold.ts'
import { type Day, dayOf, type SinceVisit, sinceVisit, type Visit } from './visit.ts'

/** An area on the whole map. */
export interface AreaBlock {
  readonly name: string
  readonly count: number
  /** The name that is proposed for it, or the tables it was made of by moving them. */
  readonly by: { readonly proposed: string } | { readonly tables: readonly string[] }
}

/** How far the review of an area is, and how many of its findings were ruled on today. */
export interface AreaDay extends Heading {
  readonly today: number
}

export interface NamingView {
  readonly rules: readonly RuleInForce[]
  /** Schemas with tables that take part. */
  readonly schemas: readonly string[]
}

export interface RowsView {
  readonly dialect: Dialect
  /** Sets of columns, tables, and rows in them by the server's own estimate; null where it has none. */
  readonly sets: number
  readonly tables: number
  readonly rows: number | null
  /** When and how much was read; null where nothing was. */
  readonly read: { readonly at: string; readonly inclusions: number; readonly orphans: number; readonly unread: number } | null
}

/** What a schema is, in numbers. */
export interface SchemaFacts {
  readonly tables: number
  readonly views: number
  /** Relationships of tables, by how they stand: those that a join table makes are one. */
  readonly relationships: Readonly<Record<RelationshipState, number>>
  /** Tables that link two others, have columns of their own, and could be read past: how many, and a finding about one. */
  readonly links: { readonly n: number; readonly first: string } | null
}

/** All of a view but what is large: that comes in portions. */
export interface ViewFacts {
  readonly schema: SchemaFacts
  /** What was wanted on the map. */
  readonly wish: MapWish
  /** Every entity that stands on the whole map. */
  readonly entities: readonly { readonly id: string; readonly name: string }[]
  /** Areas as they are read on the map. */
  readonly areas: readonly string[]
  /** The same with what an entry must name to call one otherwise. */
  readonly areaBlocks: readonly AreaBlock[]
  readonly progress: readonly AreaDay[]
  /** Null where it depends on who looks, and that is not known yet. */
  readonly people: Day['people'] | null
  readonly since: SinceVisit | null
  readonly threshold: ThresholdView
  /** Seq of the last entry it was made with. */
  readonly head: number
  readonly diagnostics: readonly string[]
  readonly naming: NamingView
  /** How many findings stand in each part of the docket. */
  readonly counts: Readonly<Record<Show, number>>
}

export interface ReviewView extends ViewFacts {
  readonly scene: Scene
  /** Those that are there so far, in the order of the docket. */
  readonly docket: readonly DocketItem[]
  /** Are all of them there? */
  readonly complete: boolean
  /** What reading rows would come to, and whether they were read; null until that is worked out. */
  readonly rows: RowsView | null
}

/** Who looks, and when their day began (ISO 8601); null where nobody does. */
export interface Looking {
  readonly who: string
  readonly last: Visit | null
  readonly dayFrom: string
}

export interface Seen {
  readonly facts: ViewFacts
  readonly scene: Scene
  readonly docket: readonly DocketItem[]
}

/** What somebody sees of a review who wants this on the map, packed to a pane of this shape. */
export function seenOf(
  base: ReviewBase,
  review: Review,
  hash: SnapshotHash,
  entries: readonly LedgerEntry[],
  statistics: Statistics,
  looking: Looking | null,
  wish: MapWish = wholeMap,
  shape = usualShape,
): Seen {
  const { catalog, findings } = base
  const { model } = review
  const areasRuled = foldAreas(entries)
  const sceneOf = (wanted: MapWish) => mapOf(catalog, findings, model, statistics, areasRuled, wanted, shape)
  // The docket goes by the whole map, whatever part of it is looked at.
  const whole = sceneOf(wholeMap)
  const docket = docketItems(review, placesOnMap(whole, model))
  const areas = areasOn(whole)
  const day = looking && dayOf(review, entries, looking.dayFrom)
  return {
    facts: {
      schema: schemaFacts(review),
      wish,
      entities: model.entities.map((e) => ({ id: e.id, name: e.name })),
      areas,
      areaBlocks: areaBlocks(whole, new Set(groundOf(catalog, findings).areas.values())),
      progress: daysByArea(docket, areas, day),
      people: day?.people ?? null,
      since: looking && sinceVisit(findings, entries, looking.who, looking.last, { snapshot: hash, rows: review.revision.evidence }),
      threshold: thresholdView(review, entries),
      head: entries.at(-1)?.seq ?? 0,
      diagnostics: model.diagnostics.map(describeModelDiagnostic),
      naming: { rules: rulesInForce(activeEntries(entries)), schemas: [...new Set(catalog.relations.map((r) => r.schema))].sort() },
      counts: showCounts(docket),
    },
    scene: isWholeMap(wish) ? whole : sceneOf(wish),
    docket,
  }
}

function schemaFacts(r: Review): SchemaFacts {
  const { model } = r
  const links = linksUnruled(r)
  const views = new Set(model.entities.flatMap((e) => (e.kind === 'view' || e.kind === 'materialized view' ? [e.id] : [])))
  const relationships = { enforced: 0, declared: 0, model: 0, guessed: 0 }
  for (const r of model.relationships) if (!views.has(r.from.entity)) relationships[r.state] += 1
  return {
    tables: model.entities.length - views.size + model.joinHalves.length / 2,
    views: views.size,
    relationships,
    links: links[0] && links.length > 1 ? { n: links.length, first: links[0].id } : null,
  }
}

/** A block's key ends in the name that was first proposed for its area. */
function areaBlocks(whole: Scene, proposed: ReadonlySet<string>): readonly AreaBlock[] {
  return whole.blocks
    .filter((b) => b.kind === 'area')
    .map((b) => {
      const own = b.key.slice(areaKey('').length)
      return {
        name: b.name,
        count: b.count,
        by: proposed.has(own) ? { proposed: own } : { tables: whole.plates.filter((p) => p.block === b.key).map((p) => p.id) },
      }
    })
}

function daysByArea(docket: readonly DocketItem[], areas: readonly string[], day: Day | null): readonly AreaDay[] {
  const today = day
    ? progressBy(
        docket.filter((i) => day.ruled.has(i.id)),
        'area',
        areas,
      )
    : []
  return progressBy(docket, 'area', areas).map((h) => {
    const t = today.find((o) => o.text === h.text)
    return { ...h, today: t ? t.settled + t.asked + t.open : 0 }
  })
}

/** What reading the rows would come to; it depends on the whole snapshot only. */
export function rowsView(base: ReviewBase, statistics: Statistics): RowsView {
  const questions = rowQuestions(base.whole)
  const tables = new Set(
    [...[...questions.sets, ...questions.kinds].map((q) => q.child), ...questions.partners].map((t) => relationText({ schema: t.schema, name: t.table })),
  )
  const estimates = statistics.relations.filter((r) => tables.has(relationText(r))).map((r) => r.rows)
  const { rows } = base
  const orphans = rows?.inclusions.filter((i) => i.orphans > 0 && i.missing <= i.values / 5).length ?? 0
  return {
    dialect: base.whole.dialect,
    sets: questions.sets.length + questions.kinds.length + questions.partners.length,
    tables: tables.size,
    rows: estimates.length === 0 || estimates.some((n) => n === null) ? null : estimates.reduce((a: number, b) => a + (b ?? 0), 0),
    read: rows ? { at: rows.at, inclusions: rows.inclusions.length, orphans, unread: rows.unread.length } : null,
  }
}
