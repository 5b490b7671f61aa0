// Columns with a part to play: when a row was removed, which version it is, whose it is, what it hangs under, where it stands, when it changed.
import { type Column, type Relation, relationText } from '../../catalog/index.ts'
import { remembered } from '../../memo/memo.ts'
import type { Finding } from '../../model/index.ts'
import { splitWords } from '../../names/index.ts'
import type { Context } from '../context.ts'
import { constantDefault, eachColumn, fact, isInteger, isMoment, isTable, onColumn, structureFinding } from './common.ts'

/** Columns whose name may say it: each name is looked at once, however many tables have it. */
function each(x: Context, may: (words: readonly string[]) => boolean, of: (r: Relation, c: Column) => Finding | null): readonly Finding[] {
  const asked = remembered((name) => may(splitWords(name)))
  return eachColumn(x.relations, (r, c) => (asked(c.name) ? of(r, c) : null))
}

const removed = ['deleted', 'removed', 'archived', 'discarded', 'trashed', 'obsolete', 'del']

/** A mark in the place of a deletion: rows that bear it are there, and do not count. */
export const softDeletes = (x: Context): readonly Finding[] =>
  each(
    x,
    (words) => words.some((w) => removed.includes(w)),
    (r, c) => {
      const words = splitWords(c.name)
      const word = words.find((w) => removed.includes(w))
      if (word === undefined || words.length > 3 || words.includes('by')) return null
      const moment = isMoment(c.type) && c.nullable
      const mark = /^(bool|tinyint|bit|char|smallint|integer|int)/i.test(c.type)
      if (!moment && !mark) return null
      return structureFinding('soft delete', onColumn(r, c), moment ? 0.92 : 0.85, [
        fact('its name', `"${word}" says that a row is gone`),
        fact('its type', moment ? `${c.type} that may be null: when, or not at all` : `${c.type}: yes or no`, 0.5),
      ])
    },
  )

const counters = ['version', 'lock version', 'row version', 'revision', 'version no', 'version number', 'optlock']

/** A number that goes up with each change, so that two writers notice each other. */
export const versions = (x: Context): readonly Finding[] =>
  each(
    x,
    (words) => counters.includes(words.join(' ')),
    (r, c) => {
      if (!isInteger(c.type) || r.primaryKey?.columns.includes(c.name)) return null
      const preset = constantDefault(c)
      const starts = preset === '0' || preset === '1'
      if (x.references.some((f) => f.child === r && f.columns.includes(c.name))) return null
      const evidence = [
        fact('its name', `called ${c.name}`),
        ...(starts ? [fact('it starts', `starts at ${preset}`, 0.5)] : []),
        ...(c.nullable ? [fact('may be null', 'it may be null, as a counter is not', -0.4)] : []),
      ]
      return structureFinding('version', onColumn(r, c), starts && !c.nullable ? 0.92 : 0.7, evidence, [
        { facet: 'column.role', subject: onColumn(r, c), value: 'version' },
      ])
    },
  )

const owners = [
  'tenant',
  'user',
  'owner',
  'account',
  'client',
  'company',
  'organisation',
  'organization',
  'org',
  'workspace',
  'shop',
  'site',
  'store',
  'branch',
  'uid',
]

/** One reference that most tables have: whose rows they are. It belongs into every search. */
export function tenants(x: Context): readonly Finding[] {
  const tables = x.relations.filter(isTable)
  const byTarget = new Map<Relation, { readonly column: string; readonly child: Relation }[]>()
  for (const f of x.references) {
    const [column] = f.columns
    if (f.columns.length !== 1 || column === undefined || f.child === f.parent) continue
    byTarget.set(f.parent, [...(byTarget.get(f.parent) ?? []), { column, child: f.child }])
  }
  return [...byTarget].flatMap(([parent, uses]) => {
    const counts = new Map<string, Set<Relation>>()
    for (const u of uses) counts.set(u.column, (counts.get(u.column) ?? new Set()).add(u.child))
    const [column, holders] = [...counts].sort((a, b) => b[1].size - a[1].size)[0] ?? ['', new Set<Relation>()]
    const required = [...holders].filter((r) => r.columns.find((c) => c.name === column)?.nullable === false).length
    const keyed = [...holders].filter((r) => [r.primaryKey, ...r.uniques].some((k) => k && k.columns.length > 1 && k.columns.includes(column))).length
    if (tables.length < 6 || holders.size < tables.length / 2 || required < holders.size * 0.8 || splitWords(column).includes('by')) return []
    const evidence = [
      fact('most tables have it', `${holders.size} of ${tables.length} tables have ${column}, ${required} of them always`),
      ...(keyed > 0 ? [fact('part of keys', `${keyed} keys and unique rules have it beside other columns`, 0.6)] : []),
    ]
    // Most tables of a small schema may also be parts of its one great table: a name tells whose rows they are.
    const named = [...splitWords(parent.name), ...splitWords(column)].some((w) => owners.includes(w) || owners.includes(w.replace(/s$/, '')))
    const byName = named ? [fact('its name', `${parent.name} and ${column} name somebody whose rows they are`, 0.5)] : []
    return [structureFinding('tenant', relationText(parent), named ? (keyed > 0 ? 0.93 : 0.85) : 0.4, [...evidence, ...byName])]
  })
}

/** A table whose rows hang under others of it. */
export function trees({ references }: Context): readonly Finding[] {
  return references
    .filter((f) => f.child === f.parent && isTable(f.child))
    .map((f) => {
      const helpers = f.child.columns
        .filter((c) => ['path', 'level', 'depth', 'lft', 'rgt', 'lineage', 'ancestry'].includes(splitWords(c.name).at(-1) ?? ''))
        .map((c) => c.name)
      const above = f.columns.some((c) =>
        splitWords(c).some((w) => ['parent', 'above', 'superior', 'mother', 'father', 'root', 'supervisor', 'manager', 'mentor'].includes(w)),
      )
      const open = f.columns.some((c) => f.child.columns.find((x) => x.name === c)?.nullable)
      return structureFinding('tree', relationText(f.child), above || helpers.length > 0 ? 0.92 : 0.6, [
        fact('refers to itself', `${f.columns.join(', ')} refers to its own table`, 0.6),
        ...(above ? [fact('its name', 'named after what stands above', 0.5)] : []),
        ...(helpers.length > 0 ? [fact('helpers', `${helpers.join(', ')} ${helpers.length === 1 ? 'keeps' : 'keep'} the place in it`, 0.6)] : []),
        ...(open ? [] : [fact('never empty', 'it is never null, so the topmost refers to itself or another', -0.3)]),
      ])
    })
}

const places = ['position', 'pos', 'sort', 'ordering', 'ordinal', 'rank', 'seq', 'sequence', 'sortorder', 'orderby']

const placed = ['sort order', 'order no', 'display order', 'order by', 'order index']
const namesPlace = (words: readonly string[]) =>
  places.includes(words.join('')) || placed.includes(words.join(' ')) || (words.length < 3 && places.includes(words.at(-1) ?? ''))

/** A number that says where a row stands among others: lists are read in its order. */
export const orderings = (x: Context): readonly Finding[] =>
  each(x, namesPlace, (r, c) => {
    if (!/^(small|big|medium|tiny)?int/i.test(c.type) || c.identity !== null || r.primaryKey?.columns.join() === c.name) return null
    if (x.references.some((f) => f.child === r && f.columns.includes(c.name))) return null
    const among = x.references.find(
      (f) => f.child === r && [r.primaryKey, ...r.uniques].some((k) => k?.columns.includes(c.name) && f.columns.every((o) => k.columns.includes(o))),
    )
    return structureFinding('ordering', onColumn(r, c), among ? 0.95 : 0.8, [
      fact('its name', `called ${c.name}, a whole number`),
      ...(among ? [fact('unique among', `unique among the rows of one ${relationText(among.parent)}`, 0.6)] : []),
    ])
  })

const changes = ['updated', 'changed', 'modified', 'touched', 'edited']

/** A time of the last change that is set once, by its default, and that nothing sets again. */
export const changeTimes = (x: Context): readonly Finding[] =>
  each(
    x,
    (words) => words.some((w) => changes.includes(w)) && !words.includes('by'),
    (r, c) => {
      if (!isMoment(c.type)) return null
      const refreshed = r.triggers.some((t) => /update/i.test(t.definition.written)) || /on update/i.test(c.default?.written ?? '') || c.generated !== null
      if (refreshed) return null
      const preset = c.default === null ? 'nothing gives it a value' : `its default ${c.default.written} gives it a value once`
      const evidence = [fact('nothing refreshes it', `${preset}, and no trigger of the table sets it when a row changes: whoever writes must`)]
      return structureFinding('change time', onColumn(r, c), 0.93, evidence)
    },
  )
