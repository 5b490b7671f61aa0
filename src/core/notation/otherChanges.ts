// What a notation says otherwise of what is no entity: types, groups, queries, routines, layout.
import { relationText } from '../catalog/index.ts'
import { plainSettings, settingsText } from '../model/index.ts'
import { type Differ, same } from './differ.ts'
import type { Block, EntityBlock } from './syntax.ts'

type Of<K extends Block['kind']> = Extract<Block, { kind: K }>

const at = <T extends { readonly schema: string; readonly name: string }>(list: readonly T[], a: { readonly schema: string; readonly name: string }) =>
  list.find((t) => t.schema === a.schema && t.name === a.name)

const byKind: { readonly [K in Exclude<Block, EntityBlock>['kind']]: (d: Differ, b: Of<K>) => void } = {
  elsewhere: () => undefined,
  enumeration: (d, b) => {
    const now = at(d.base.catalog.enums, b.type.value)
    if (!same(now?.labels, b.labels))
      d.refuse(
        b.type.at,
        `${relationText(b.type.value)} is ${now ? now.labels.join(', ') : 'no enumerated type'} in the database`,
        'its words are changed there, or made of a column under Plan',
      )
  },
  domain: (d, b) => {
    const now = at(d.base.catalog.domains, b.type.value)
    if (!now || (now.type !== b.over.value.text && now.type !== d.w.typeOf(b.over)) || now.nullable !== b.optional)
      d.refuse(
        b.type.at,
        `${relationText(b.type.value)} is ${now ? `over ${now.type}${now.nullable ? ', optional' : ''}` : 'no domain'} in the database`,
        'it is changed there',
      )
  },
  composite: (d, b) => {
    const now = at(d.base.catalog.composites, b.type.value)
    const said = b.attributes.map((a) => [a.name, d.w.typeOf(a.type)])
    if (
      !same(
        now?.attributes.map((a) => [a.name, a.type]),
        said,
      )
    )
      d.refuse(b.type.at, `${relationText(b.type.value)} has other attributes in the database`, 'they are changed there')
  },
  type: (d, b) => {
    const type = b.type.value.kind === 'neutral' ? d.w.typeOf(b.type) : b.type.value.text
    const subject = `type:${type}`
    if (b.called && !same(d.base.model.typeNames[type], b.called.value))
      d.edit(b.called.at, `the type ${type}`, d.base.model.typeNames[type], { facet: 'type.name', subject, value: b.called.value })
    if (b.held && !same(d.base.model.typeTargets[type], b.held.value))
      d.edit(b.held.at, `the type ${type}, how it is held`, d.base.model.typeTargets[type], { facet: 'type.target', subject, value: b.held.value })
  },
  group: (d, b) => {
    const subject = `columns:${b.columns.value.join(',')}`
    const now = d.base.model.groups.find((g) => same(g.columns, b.columns.value))?.typeName ?? d.facet('columns.group', subject)?.name
    if (!same(now, b.name?.value))
      d.edit(b.at, `the group ${b.columns.value.join(', ')}`, now, { facet: 'columns.group', subject, value: b.name ? { name: b.name.value } : null })
  },
  query: (d, b) => {
    const from = d.w.classOf(b.from.value)
    if (from === undefined) return
    const then = d.w.walk(from, b.steps)
    const conditions = b.where.flatMap((c) => {
      const reached = d.w.walk(from, c.path.slice(0, -1))
      const last = c.path.at(-1)
      const column = reached && last ? d.w.propertyAt(reached.at, last) : null
      return reached && column !== null ? [{ via: [...reached.steps], column, is: c.is, value: c.value }] : []
    })
    if (!then || conditions.length < b.where.length) return
    const path = { entity: from, conditions, steps: [...then.steps] }
    const now = d.base.model.kept.findLast((k) => k.name === b.name.value)
    if (!now || !same([now.path.entity, now.path.conditions, now.path.steps], [path.entity, path.conditions, path.steps]))
      d.add(b.at, `the query “${b.name.value}”`, now ? 'another path' : null, [b.from.value, ...b.steps.map((t) => t.value)].join(', '), {
        kind: 'entry',
        entry: { kind: 'pin', name: b.name.value, path },
      })
  },
  routine: (d, b) => {
    const now = d.base.catalog.routines.find((r) => r.schema === b.routine.value.schema && r.name === b.routine.value.name && r.argumentTypes === b.types)
    if (!now || now.arguments !== b.takes || now.returns !== b.gives || now.kind !== b.of)
      d.refuse(
        b.routine.at,
        `${relationText(b.routine.value)} (${b.types}) is ${now ? 'declared otherwise' : 'not there'} in the database`,
        'routines are changed there',
      )
  },
  layout: (d, b) => {
    if (b.files && b.files !== d.base.model.fileCase)
      d.add(b.at, 'letter case of files', d.base.model.fileCase, b.files, {
        kind: 'entry',
        entry: { kind: 'naming', rule: { rule: 'case', target: 'typescript', of: 'file', as: b.files }, note: null },
      })
    if (b.settings && !same(b.settings, d.base.model.settings))
      d.add(b.at, 'how TypeScript is laid out', settingsText(d.base.model.settings ?? plainSettings), settingsText(b.settings), {
        kind: 'entry',
        entry: { kind: 'settings', target: 'typescript', settings: b.settings, note: null },
      })
  },
}

export function otherChanges(d: Differ, b: Exclude<Block, EntityBlock>): void {
  const change = byKind[b.kind] as (d: Differ, b: Exclude<Block, EntityBlock>) => void
  change(d, b)
}
