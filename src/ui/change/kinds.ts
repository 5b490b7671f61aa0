// The forms of schema edits: which there are for a thing, which fields each has, what stands in them at first, and the edit they come to.
import { parseAddress } from '../../core/catalog/index.ts'
import type { ChangeableTable, ChangeChoices, DroppablePart, SchemaEdit, Thing } from '../../core/change/index.ts'

/** How a field is filled; all but the last four are completed as one types, or chosen from what there is. */
export type FieldKind =
  | 'column'
  | 'columns'
  | 'table'
  | 'target columns'
  | 'type'
  | 'in a schema'
  | 'reference'
  | 'index'
  | 'unique'
  | 'text'
  | 'long text'
  | 'action'
  | 'yes'
export interface Field {
  readonly name: string
  readonly label: string
  readonly kind: FieldKind
  readonly hint: string
}

export type Values = Readonly<Record<string, string>>
export interface EditKind {
  readonly label: string
  /** Under which it is offered. */
  readonly about: 'References and keys' | 'A column' | 'Indexes' | 'The table' | 'A new table'
  /** Asked for beside the table, whose address is the value `table` of every kind. */
  readonly fields: readonly Field[]
  /** Null where a field does not say what it should. */
  readonly edit: (v: Values) => SchemaEdit | null
}

const field = (name: string, label: string, kind: FieldKind, hint = ''): Field => ({ name, label, kind, hint })
const column = field('column', 'Column', 'column')
const columns = field('columns', 'Columns', 'columns', 'a, b')
const ownName = field('name', 'Its name', 'text', 'made up')
const type = field('type', 'Type', 'type', 'bigint, numeric(12,2), text')
const defaultValue = field('expression', 'Default', 'text', 'an expression; empty for none')

const address = (t: string | undefined) => {
  const a = parseAddress((t ?? '').trim())
  return a && a.columns.length === 0 && a.schema !== '' ? { schema: a.schema, name: a.name } : null
}
const list = (t: string | undefined) =>
  (t ?? '')
    .split(',')
    .map((x) => x.trim())
    .filter((x) => x !== '')
const given = (t: string | undefined) => ((t ?? '').trim() === '' ? null : (t as string).trim())
const named = (v: Values, t: { readonly name: string }, middle: readonly string[], end: string) =>
  given(v['name']) ?? [t.name, ...middle, end].join('_').slice(0, 63)
const actionOf = (t: string | undefined) => (['restrict', 'cascade', 'set null', 'set default'] as const).find((a) => a === t) ?? 'no action'

/** An edit about one column of a table. */
const ofColumn = (
  fields: readonly Field[],
  edit: (t: { schema: string; name: string }, c: string, v: Values) => SchemaEdit | null,
): Pick<EditKind, 'about' | 'fields' | 'edit'> => ({
  about: 'A column',
  fields: [column, ...fields],
  edit: (v) => {
    const t = address(v['table'])
    const c = given(v['column'])
    return t && c ? edit(t, c, v) : null
  },
})

/** An edit about several columns of a table, under a name. */
const ofColumns = (
  about: EditKind['about'],
  end: string,
  edit: (t: { schema: string; name: string }, c: readonly string[], name: string) => SchemaEdit,
): Pick<EditKind, 'about' | 'fields' | 'edit'> => ({
  about,
  fields: [columns, ownName],
  edit: (v) => {
    const t = address(v['table'])
    const c = list(v['columns'])
    return t && c.length > 0 ? edit(t, c, named(v, t, end === 'pkey' ? [] : c, end)) : null
  },
})

const byName = (
  what: 'drop reference' | 'drop index' | 'drop unique',
  kind: 'reference' | 'index' | 'unique',
): Pick<EditKind, 'about' | 'fields' | 'edit'> => ({
  about: kind === 'index' ? 'Indexes' : 'References and keys',
  fields: [field('name', 'Which', kind)],
  edit: (v) => {
    const t = address(v['table'])
    const name = given(v['name'])
    return t && name ? { do: what, table: t, name } : null
  },
})

export const editKinds = {
  'declare reference': {
    label: 'Declare a reference',
    about: 'References and keys',
    fields: [
      columns,
      field('target', 'Refers to', 'table', 'schema.table'),
      field('targetColumns', 'Its columns', 'target columns', 'its key'),
      field('onDelete', 'On delete', 'action'),
      ownName,
    ],
    edit: (v) => {
      const t = address(v['table'])
      const target = address(v['target'])
      const [own, theirs] = [list(v['columns']), list(v['targetColumns'])]
      if (!t || !target || own.length === 0 || theirs.length === 0) return null
      return {
        do: 'declare reference',
        table: t,
        columns: own,
        target,
        targetColumns: theirs,
        name: named(v, t, own, 'fkey'),
        onDelete: actionOf(v['onDelete']),
        onUpdate: 'no action',
      }
    },
  },
  'drop reference': { label: 'Drop a reference', ...byName('drop reference', 'reference') },
  'set key': {
    label: 'Give the table its key',
    ...ofColumns('References and keys', 'pkey', (t, c, name) => ({ do: 'set key', table: t, columns: c, name })),
  },
  'make unique': {
    label: 'Make columns unique',
    ...ofColumns('References and keys', 'key', (t, c, name) => ({ do: 'make unique', table: t, columns: c, name })),
  },
  'drop unique': { label: 'Drop a unique rule', ...byName('drop unique', 'unique') },
  'add index': { label: 'Add an index', ...ofColumns('Indexes', 'idx', (t, c, name) => ({ do: 'add index', table: t, columns: c, name })) },
  'drop index': { label: 'Drop an index', ...byName('drop index', 'index') },
  'set type': {
    label: 'Change its type',
    ...ofColumn([type], (t, c, v) => {
      const to = given(v['type'])
      return to ? { do: 'set type', table: t, column: c, type: to } : null
    }),
  },
  require: { label: 'Accept null no more', ...ofColumn([], (t, c) => ({ do: 'require', table: t, column: c })) },
  'allow null': { label: 'Accept null', ...ofColumn([], (t, c) => ({ do: 'allow null', table: t, column: c })) },
  'set default': {
    label: 'Set or drop its default',
    ...ofColumn([defaultValue], (t, c, v) => ({ do: 'set default', table: t, column: c, expression: given(v['expression']) })),
  },
  'make enumerated': {
    label: 'Make it an enumerated type',
    ...ofColumn([field('enum', 'Name of the type', 'in a schema', 'schema.name'), field('labels', 'Values', 'text', 'with commas, in order')], (t, c, v) => {
      const to = address(v['enum'])
      const labels = list(v['labels'])
      return to && labels.length > 0 ? { do: 'make enumerated', table: t, column: c, type: to, labels } : null
    }),
  },
  'make boolean': {
    label: 'Make it a boolean of two words',
    ...ofColumn([field('yes', 'Word for true', 'text', 'Y'), field('no', 'Word for false', 'text', 'N')], (t, c, v) => {
      const [yes, no] = [given(v['yes']), given(v['no'])]
      return yes && no && yes !== no ? { do: 'make boolean', table: t, column: c, yes, no } : null
    }),
  },
  'rename column': {
    label: 'Rename it in the database',
    ...ofColumn([field('to', 'New name', 'text')], (t, c, v) => {
      const to = given(v['to'])
      return to && to !== c ? { do: 'rename column', table: t, column: c, to } : null
    }),
  },
  'set column comment': {
    label: 'Change its comment',
    ...ofColumn([field('text', 'Comment', 'long text', 'empty for none')], (t, c, v) => ({ do: 'set comment', table: t, column: c, text: given(v['text']) })),
  },
  'drop column': { label: 'Drop it', ...ofColumn([], (t, c) => ({ do: 'drop column', table: t, column: c })) },
  'add column': {
    label: 'Add a column',
    about: 'The table',
    fields: [field('column', 'Its name', 'text'), type, defaultValue, field('required', 'accepts no null', 'yes')],
    edit: (v) => {
      const t = address(v['table'])
      const [c, to] = [given(v['column']), given(v['type'])]
      return t && c && to
        ? { do: 'add column', table: t, column: { name: c, type: to, nullable: v['required'] !== 'yes', default: given(v['expression']), counted: false } }
        : null
    },
  },
  'set comment': {
    label: 'Change its comment',
    about: 'The table',
    fields: [field('text', 'Comment', 'long text', 'empty for none')],
    edit: (v) => {
      const t = address(v['table'])
      return t ? { do: 'set comment', table: t, column: null, text: given(v['text']) } : null
    },
  },
  'rename table': {
    label: 'Rename it in the database',
    about: 'The table',
    fields: [field('to', 'New name', 'in a schema', 'schema.table')],
    edit: (v) => {
      const [t, to] = [address(v['table']), address(v['to'])]
      return t && to && v['to'] !== v['table'] ? { do: 'rename table', table: t, to } : null
    },
  },
  'drop table': {
    label: 'Drop it',
    about: 'The table',
    fields: [],
    edit: (v) => {
      const t = address(v['table'])
      return t ? { do: 'drop table', table: t } : null
    },
  },
  'add table': {
    label: 'Add a table with a counted key',
    about: 'A new table',
    fields: [field('table', 'Table', 'in a schema', 'schema.table'), field('key', 'Its key', 'text', 'id')],
    edit: (v) => {
      const t = address(v['table'])
      const key = given(v['key'])
      return t && key
        ? { do: 'add table', table: t, columns: [{ name: key, type: 'bigint', nullable: false, default: null, counted: true }], key: [key] }
        : null
    },
  },
} as const satisfies Readonly<Record<Exclude<SchemaEdit['do'], 'clean rows'> | 'set column comment', EditKind>>

export type EditKindName = keyof typeof editKinds

const names = Object.keys(editKinds) as EditKindName[]

/** The kinds that a thing can be changed by, those about it alone where it is a part. Pure. */
export function kindsFor(thing: Thing, of: ChangeableTable | null): readonly EditKindName[] {
  if (thing.table === null) return ['add table']
  if (of === null) return []
  const has = (list: readonly DroppablePart[]) => (thing.part === null ? list.length > 0 : list.some((p) => p.name === thing.part))
  const part: readonly EditKindName[] = [
    ...(has(of.references) ? (['drop reference'] as const) : []),
    ...(has(of.uniques) ? (['drop unique'] as const) : []),
    ...(has(of.indexes) ? (['drop index'] as const) : []),
  ]
  if (thing.part !== null) return part
  const about = of.columns.filter((c) => thing.columns.length === 0 || thing.columns.includes(c.name))
  const there = (kind: EditKindName): boolean => {
    if (kind === 'drop reference' || kind === 'drop unique' || kind === 'drop index') return part.includes(kind)
    if (kind === 'set key') return of.key === null
    if (kind === 'require') return about.some((c) => c.nullable)
    if (kind === 'allow null') return about.some((c) => !c.nullable && !of.key?.includes(c.name))
    if (editKinds[kind].about === 'A column') return about.length > 0
    if (editKinds[kind].about === 'The table') return thing.columns.length === 0 || kind === 'add column'
    return kind !== 'add table'
  }
  return names.filter(there)
}

/** What the fields of a kind hold at first, and after another column or target was chosen. What somebody typed elsewhere stays. Pure. */
export function filled(kind: EditKindName, v: Values, thing: Thing, choices: ChangeChoices): Values {
  const { of } = choices
  const columnName = v['column'] ?? thing.columns[0] ?? ''
  const c = of?.columns.find((x) => x.name === columnName)
  const schema = of?.table.split('.')[0] ?? ''
  const common: Values = { ...v, ...(thing.table === null ? {} : { table: thing.table }) }
  const ofTheColumn: Values = { ...common, column: columnName }
  switch (kind) {
    case 'declare reference':
      return {
        columns: thing.columns.join(', '),
        ...common,
        targetColumns: choices.tables.find((t) => t.name === (v['target'] ?? '').trim())?.key.join(', ') ?? v['targetColumns'] ?? '',
      }
    case 'add index':
    case 'make unique':
    case 'set key':
      return { columns: thing.columns.join(', '), ...common }
    case 'drop reference':
    case 'drop unique':
    case 'drop index':
      return { name: thing.part ?? '', ...common }
    case 'set type':
      return { ...ofTheColumn, type: c?.type ?? '' }
    case 'set default':
      return { ...ofTheColumn, expression: c?.default ?? '' }
    case 'set column comment':
      return { ...ofTheColumn, text: c?.comment ?? '' }
    case 'rename column':
      return { ...ofTheColumn, to: columnName }
    case 'make enumerated':
      return { ...ofTheColumn, enum: columnName === '' ? '' : `${schema}.${columnName}_kind` }
    case 'set comment':
      return { text: of?.comment ?? '', ...common }
    case 'rename table':
      return { to: thing.table ?? '', ...common }
    case 'add column':
    case 'add table':
    case 'drop table':
      return common
    default:
      return ofTheColumn
  }
}
