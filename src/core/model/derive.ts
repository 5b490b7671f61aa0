// derive(catalog, findings, ledger) → EntityModel: the same inputs give the same model, in the browser and on the server.
import type { Catalog } from '../catalog/index.ts'
import { activeEntries } from './active.ts'
import { readClasses } from './deriving/classes.ts'
import { type Ends, halfOf, readEnds, type Standing } from './deriving/ends.ts'
import { type Ground, groundOf } from './deriving/ground.ts'
import { readJoins, readLinks } from './deriving/links.ts'
import { touchedBetween, untouched } from './deriving/touched.ts'
import type { EntityModel } from './entityModel.ts'
import { foldFacets } from './facets.ts'
import type { Finding } from './finding.ts'
import type { LedgerEntry } from './ledger.ts'
import { foldNaming } from './naming.ts'
import { settingsOf } from './targetSettings.ts'

/** What was derived last from findings, so that only what was said otherwise since has to be derived again. */
interface Last {
  readonly ground: Ground
  /** Null until the first time, and where that did not end. */
  derived: { readonly active: readonly LedgerEntry[]; readonly standing: Standing & Ends } | null
}
const kept = new WeakMap<readonly Finding[], Last>()

function lastOf(catalog: Catalog, findings: readonly Finding[]): Last {
  const known = kept.get(findings)
  if (known?.ground.catalog === catalog) return known
  const made: Last = { ground: groundOf(catalog, findings), derived: null }
  kept.set(findings, made)
  return made
}

/**
 * The model that a ledger makes of a catalog and its findings. Deterministic and independent of the order of relations and
 * findings. Rulings on subjects that no longer exist are kept in the ledger and told as diagnostics. O(relations + columns + entries) the
 * first time; for another ledger of the same findings only what it says otherwise is read again, and all else is the same value as before.
 */
export function derive(catalog: Catalog, findings: readonly Finding[], entries: readonly LedgerEntry[]): EntityModel {
  const last = lastOf(catalog, findings)
  const { ground } = last
  const active = activeEntries(entries)
  const touched = last.derived && touchedBetween(last.derived.active, active)
  const before = touched && last.derived ? last.derived.standing : null
  last.derived = null
  const facets = foldFacets(findings, entries)
  const naming = foldNaming(entries)
  const links = readLinks(ground, facets, before?.links ?? null, touched ?? untouched)
  const joins = readJoins(ground, facets, links, before, touched ?? untouched)
  const classes = readClasses(ground, facets, joins, before, touched ?? untouched)
  const standing: Standing = { facets, naming, links, joins, classes }
  const ends = readEnds(ground, standing, before, touched ?? untouched)
  last.derived = { active, standing: { ...ends, ...standing } }
  return {
    dialect: catalog.dialect,
    entities: classes.entities,
    ...classes.types,
    groups: classes.groups,
    relationships: ends.relationships,
    fileCase: naming.fileCase,
    joinHalves: [...joins.hidden].flatMap(([subject, halves]) => halves.map((l) => halfOf(subject, l, facets))),
    routines: ground.routines,
    settings: settingsOf(active),
    kept: active.flatMap((e) => (e.kind === 'pin' ? [{ name: e.name, path: e.path }] : [])),
    diagnostics: [...ground.outside, ...links.problems, ...joins.problems, ...classes.problems, ...ends.problems],
  }
}
