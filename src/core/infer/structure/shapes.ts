// Tables of a known shape: lookups, keys with values, histories, and groups of columns that many tables share.
import { type Relation, relationText } from '../../catalog/index.ts'
import type { Finding } from '../../model/index.ts'
import { pascalCase, splitWords } from '../../names/index.ts'
import type { Context } from '../context.ts'
import { fact, isMoment, isTable, isText, onTable, structureFinding } from './common.ts'

/** A few words that others refer to: an enumeration kept as rows. */
export function lookups({ relations, references }: Context): readonly Finding[] {
  const [asked, refers] = [new Map<Relation, Set<Relation>>(), new Set<Relation>()]
  for (const f of references) {
    asked.set(f.parent, (asked.get(f.parent) ?? new Set()).add(f.child))
    refers.add(f.child)
  }
  return relations.filter(isTable).flatMap((r) => {
    const users = asked.get(r)?.size ?? 0
    const texts = r.columns.filter((c) => isText(c.type)).length
    const rest = r.columns.filter((c) => !isText(c.type) && !isMoment(c.type) && !r.primaryKey?.columns.includes(c.name)).length
    if (users === 0 || refers.has(r) || r.primaryKey?.columns.length !== 1 || r.columns.length > 4 || texts === 0 || rest > 1) return []
    const natural = r.columns.some((c) => r.primaryKey?.columns.includes(c.name) && isText(c.type))
    return [
      structureFinding('lookup table', onTable(r), natural || users > 2 ? 0.9 : 0.7, [
        fact('small', `${r.columns.length} columns, ${texts === 1 ? 'one of them a text' : `${texts} of them texts`}; it refers to nothing`, 0.6),
        fact('asked', `${users} ${users === 1 ? 'table refers' : 'tables refer'} to it`, 0.4),
        ...(natural ? [fact('its key is a word', `its key ${r.primaryKey?.columns.join(', ')} is a text`, 0.5)] : []),
      ]),
    ]
  })
}

const nameWords = ['name', 'key', 'attribute', 'field', 'property', 'code', 'param', 'parameter', 'option', 'setting', 'meta']
const valueWords = ['value', 'val', 'content', 'data']

/** Rows in the place of columns: of what, which one, and its value as a text. */
export function keyValues({ relations, references }: Context): readonly Finding[] {
  return relations.filter(isTable).flatMap((r) => {
    const named = r.columns.find((c) => nameWords.includes(splitWords(c.name).at(-1) ?? '') && isText(c.type))
    const value = r.columns.find((c) => valueWords.includes(splitWords(c.name).at(-1) ?? '') && (isText(c.type) || /json/i.test(c.type)))
    if (!named || !value || r.columns.length > 6) return []
    const own = references.find((f) => f.child === r && !f.columns.includes(named.name) && !f.columns.includes(value.name))
    const rule = [r.primaryKey, ...r.uniques].find((k) => k?.columns.includes(named.name))
    return [
      structureFinding('key and value', onTable(r), rule ? 0.93 : 0.75, [
        fact('its columns', `${named.name} says which, ${value.name} holds what, as a text`),
        ...(own ? [fact('of what', `of a ${relationText(own.parent)}`, 0.4)] : []),
        ...(rule ? [fact('once each', `${rule.name} lets each ${named.name} come once`, 0.5)] : []),
      ]),
    ]
  })
}

const historyWords = ['history', 'hist', 'log', 'audit', 'archive', 'old', 'backup', 'bak', 'versions', 'journal']

/** A table that keeps former rows of another: most of its columns, and a name that says so. */
export function histories({ relations }: Context): readonly Finding[] {
  const byName = new Map(relations.filter(isTable).map((r) => [`${r.schema} ${splitWords(r.name).join(' ')}`, r]))
  return relations.filter(isTable).flatMap((r) => {
    const words = splitWords(r.name)
    const mark = words.findIndex((w) => historyWords.includes(w))
    if (mark < 0) return []
    const of = byName.get(`${r.schema} ${words.filter((_, i) => i !== mark).join(' ')}`)
    if (!of || of === r) return []
    const types = new Map(r.columns.map((c) => [c.name, c.type]))
    const shared = of.columns.filter((c) => types.get(c.name) === c.type).length
    const share = shared / of.columns.length
    if (share < 0.5) return []
    return [
      structureFinding('history', onTable(r), share > 0.8 ? 0.93 : 0.75, [
        fact('its name', `called after ${relationText(of)}`, 0.5),
        fact('its columns', `has ${shared} of its ${of.columns.length} columns, of the same types`),
      ]),
    ]
  })
}

/** Columns of one name and type that many tables have together: who and when, an address, a period. Tables with most of them and not all are named. */
export function repeatedColumns({ relations, references }: Context): readonly Finding[] {
  const tables = relations.filter(isTable)
  const referring = new Set(references.flatMap((f) => f.columns.map((c) => `${relationText(f.child)} ${c}`)))
  const byName = new Map<string, Map<string, Relation[]>>()
  for (const r of tables) {
    const own = relationText(r)
    for (const c of r.columns) {
      const key = r.primaryKey?.columns.includes(c.name) || (referring.has(`${own} ${c.name}`) && !splitWords(c.name).includes('by'))
      // Keys and plain references repeat by nature; who made a row is a reference and part of a group all the same.
      if (key) continue
      const byType = byName.get(c.name) ?? new Map<string, Relation[]>()
      byName.set(c.name, byType)
      const known = byType.get(c.type)
      if (known) known.push(r)
      else byType.set(c.type, [r])
    }
  }
  const least = Math.max(3, Math.ceil(tables.length * 0.05))
  const common = [...byName]
    .flatMap(([name, types]) => [...types].flatMap(([type, list]) => (list.length >= least ? [[`${name}\n${type}`, new Set(list)] as const] : [])))
    .sort((a, b) => b[1].size - a[1].size || (a[0] < b[0] ? -1 : 1))
  const groups: { columns: string[]; all: Set<Relation> }[] = []
  for (const [column, h] of common) {
    const group = groups.find((g) => alike(g.all, h) >= 0.6)
    if (group) {
      group.columns.push(column)
      group.all = new Set([...group.all].filter((r) => h.has(r)))
    } else groups.push({ columns: [column], all: h })
  }
  return groups
    .filter((g) => g.columns.length > 1 && g.all.size >= least)
    .map((g) => {
      const names = g.columns.map((c) => c.split('\n')[0] as string)
      const most = tables.filter((r) => !g.all.has(r) && names.filter((n) => r.columns.some((c) => c.name === n)).length >= Math.max(1, names.length - 1))
      const some = [...g.all].map(relationText).sort()
      const subject = `columns:${names.toSorted().join(',')}`
      const evidence = [
        fact('together', `${names.join(', ')} stand together in ${g.all.size} tables: ${some.slice(0, 4).join(', ')}${some.length > 4 ? ' …' : ''}`),
        ...(most.length > 0
          ? [
              fact(
                'almost',
                `${most.length} ${most.length === 1 ? 'table has' : 'tables have'} most of them and not all: ${most.map(relationText).sort().slice(0, 4).join(', ')}${most.length > 4 ? ' …' : ''}`,
                0,
              ),
            ]
          : []),
      ]
      const group = { name: groupName(names.toSorted()) }
      return structureFinding('repeated columns', subject, 0.92, evidence, [{ facet: 'columns.group', subject, value: group }])
    })
}

/** What all of them begin with, or what each begins with: `Created` of created_at and created_by. */
function groupName(names: readonly string[]): string {
  const words = names.map((n) => splitWords(n))
  const common = (words[0] ?? []).filter((w, i) => words.every((list) => list[i] === w && list.length > i + 1))
  return pascalCase(common.length > 0 ? common : [...new Set(words.map((list) => list[0] as string))].slice(0, 3))
}

/** Jaccard: how much of two sets is in both. */
function alike(a: ReadonlySet<Relation>, b: ReadonlySet<Relation>): number {
  const both = [...a].filter((r) => b.has(r)).length
  return both / (a.size + b.size - both)
}
