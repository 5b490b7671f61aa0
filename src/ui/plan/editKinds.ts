// The forms of schema edits: which fields each kind has, and the edit they come to.
import { parseAddress } from '../../core/catalog/index.ts'
import type { SchemaEdit } from '../../core/change/index.ts'

export type FieldKind = 'text' | 'action' | 'yes'
export interface Field {
  readonly name: string
  readonly label: string
  readonly kind: FieldKind
  readonly hint: string
  readonly optional?: boolean
}

type Values = Readonly<Record<string, string>>
export interface EditKind {
  readonly label: string
  readonly fields: readonly Field[]
  /** Null where a field does not say what it should. */
  readonly edit: (v: Values) => SchemaEdit | null
}

const text = (name: string, label: string, hint: string, optional = false): Field => ({ name, label, kind: 'text', hint, optional })
const table = text('table', 'Table', 'schema.table')
const column = text('column', 'Column', 'its name')
const columns = text('columns', 'Columns', 'a, b')
const ownName = text('name', 'Name', 'made up', true)
const type = text('type', 'Type', 'bigint, numeric(12,2), text')

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
): Pick<EditKind, 'fields' | 'edit'> => ({
  fields: [table, column, ...fields],
  edit: (v) => {
    const t = address(v['table'])
    const c = given(v['column'])
    return t && c ? edit(t, c, v) : null
  },
})

/** An edit about several columns of a table, under a name. */
const ofColumns = (
  end: string,
  edit: (t: { schema: string; name: string }, c: readonly string[], name: string) => SchemaEdit,
): Pick<EditKind, 'fields' | 'edit'> => ({
  fields: [table, columns, ownName],
  edit: (v) => {
    const t = address(v['table'])
    const c = list(v['columns'])
    return t && c.length > 0 ? edit(t, c, named(v, t, end === 'pkey' ? [] : c, end)) : null
  },
})

const byName = (what: 'drop reference' | 'drop index' | 'drop unique'): Pick<EditKind, 'fields' | 'edit'> => ({
  fields: [table, text('name', 'Name', 'of what is dropped')],
  edit: (v) => {
    const t = address(v['table'])
    const name = given(v['name'])
    return t && name ? { do: what, table: t, name } : null
  },
})

export const editKinds = {
  'declare reference': {
    label: 'Declare a reference',
    fields: [
      table,
      columns,
      text('target', 'Refers to', 'schema.table'),
      text('targetColumns', 'Its columns', 'its key'),
      { name: 'onDelete', label: 'On delete', kind: 'action', hint: '' },
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
  'drop reference': { label: 'Drop a reference', ...byName('drop reference') },
  'add index': { label: 'Add an index', ...ofColumns('idx', (t, c, name) => ({ do: 'add index', table: t, columns: c, name })) },
  'drop index': { label: 'Drop an index', ...byName('drop index') },
  'make unique': { label: 'Make columns unique', ...ofColumns('key', (t, c, name) => ({ do: 'make unique', table: t, columns: c, name })) },
  'drop unique': { label: 'Drop a unique rule', ...byName('drop unique') },
  'set key': { label: 'Give a table its key', ...ofColumns('pkey', (t, c, name) => ({ do: 'set key', table: t, columns: c, name })) },
  require: { label: 'Accept null no more', ...ofColumn([], (t, c) => ({ do: 'require', table: t, column: c })) },
  'allow null': { label: 'Accept null', ...ofColumn([], (t, c) => ({ do: 'allow null', table: t, column: c })) },
  'set default': {
    label: 'Set or drop a default',
    ...ofColumn([text('expression', 'Default', 'an expression; empty for none', true)], (t, c, v) => ({
      do: 'set default',
      table: t,
      column: c,
      expression: given(v['expression']),
    })),
  },
  'set type': {
    label: 'Change a type',
    ...ofColumn([type], (t, c, v) => {
      const to = given(v['type'])
      return to ? { do: 'set type', table: t, column: c, type: to } : null
    }),
  },
  'make enumerated': {
    label: 'Make an enumerated type of values',
    ...ofColumn([text('enum', 'Name of the type', 'schema.name'), text('labels', 'Values', 'with commas, in order')], (t, c, v) => {
      const to = address(v['enum'])
      const labels = list(v['labels'])
      return to && labels.length > 0 ? { do: 'make enumerated', table: t, column: c, type: to, labels } : null
    }),
  },
  'make boolean': {
    label: 'Make a boolean of two words',
    ...ofColumn([text('yes', 'Word for true', 'Y'), text('no', 'Word for false', 'N')], (t, c, v) => {
      const [yes, no] = [given(v['yes']), given(v['no'])]
      return yes && no && yes !== no ? { do: 'make boolean', table: t, column: c, yes, no } : null
    }),
  },
  'add column': {
    label: 'Add a column',
    ...ofColumn(
      [type, text('expression', 'Default', 'an expression; empty for none', true), { name: 'required', label: 'accepts no null', kind: 'yes', hint: '' }],
      (t, c, v) => {
        const to = given(v['type'])
        return to
          ? { do: 'add column', table: t, column: { name: c, type: to, nullable: v['required'] !== 'yes', default: given(v['expression']), counted: false } }
          : null
      },
    ),
  },
  'drop column': { label: 'Drop a column', ...ofColumn([], (t, c) => ({ do: 'drop column', table: t, column: c })) },
  'add table': {
    label: 'Add a table with a counted key',
    fields: [table, text('key', 'Its key', 'id')],
    edit: (v) => {
      const t = address(v['table'])
      const key = given(v['key'])
      return t && key
        ? { do: 'add table', table: t, columns: [{ name: key, type: 'bigint', nullable: false, default: null, counted: true }], key: [key] }
        : null
    },
  },
  'drop table': {
    label: 'Drop a table',
    fields: [table],
    edit: (v) => {
      const t = address(v['table'])
      return t ? { do: 'drop table', table: t } : null
    },
  },
  'rename table': {
    label: 'Rename a table in the database',
    fields: [table, text('to', 'New name', 'schema.table')],
    edit: (v) => {
      const [t, to] = [address(v['table']), address(v['to'])]
      return t && to ? { do: 'rename table', table: t, to } : null
    },
  },
  'rename column': {
    label: 'Rename a column in the database',
    ...ofColumn([text('to', 'New name', 'its name')], (t, c, v) => {
      const to = given(v['to'])
      return to ? { do: 'rename column', table: t, column: c, to } : null
    }),
  },
  'set comment': {
    label: 'Change a comment',
    fields: [table, text('column', 'Column', 'empty for the table', true), text('text', 'Comment', 'empty for none', true)],
    edit: (v) => {
      const t = address(v['table'])
      return t ? { do: 'set comment', table: t, column: given(v['column']), text: given(v['text']) } : null
    },
  },
} as const satisfies Readonly<Record<Exclude<SchemaEdit['do'], 'clean rows'>, EditKind>>

export type EditKindName = keyof typeof editKinds
