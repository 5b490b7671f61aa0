// A relation as a few short lines, made to be read in a test.
import type { Catalog, Relation } from '../../src/core/catalog/index.ts'

function columnLine(c: Relation['columns'][number]): string {
  return [
    `${c.name} ${c.type}`.trim(),
    c.nullable ? '' : 'not null',
    c.default ? `default ${c.default.written}` : '',
    c.generated ? `as (${c.generated.expression.written}) ${c.generated.kept}` : '',
    c.identity ? `counts ${c.identity.generation}${c.identity.sequence ? ` by ${c.identity.sequence.name}` : ''}` : '',
    c.onUpdate ? `on update ${c.onUpdate.written}` : '',
    c.collation ? `collate ${c.collation.name}` : '',
    c.storage ? `storage ${c.storage}` : '',
    c.compression ? `compression ${c.compression}` : '',
    c.statisticsTarget === null ? '' : `statistics ${c.statisticsTarget}`,
    c.comment === null ? '' : `-- ${c.comment}`,
  ]
    .filter((p) => p !== '')
    .join(' ')
}

const attached = (x: { readonly attachedTo: string | null }) => (x.attachedTo === null ? '' : ` of ${x.attachedTo}`)

/** Columns, then keys, references, checks and indexes in the order of the catalog. */
export function shapeOf(r: Relation | undefined): readonly string[] {
  if (!r) return ['there is none']
  const key = (word: string, k: Relation['uniques'][number]) =>
    `${word} ${k.name} (${k.columns})${attached(k)}${k.deferrable === 'no' ? '' : ` ${k.deferrable}`}`
  return [
    ...r.columns.map(columnLine),
    ...(r.primaryKey ? [key('primary key', r.primaryKey)] : []),
    ...r.uniques.map((u) => key('unique', u)),
    ...r.foreignKeys.map(
      (f) =>
        `reference ${f.name} (${f.columns}) to ${f.target.table} (${f.target.columns})${f.onDelete === 'no action' ? '' : ` delete ${f.onDelete}`}${f.onUpdate === 'no action' ? '' : ` update ${f.onUpdate}`}${f.deferrable === 'no' ? '' : ` ${f.deferrable}`}${f.validated ? '' : ' not valid'}${f.enforced ? '' : ' not enforced'}`,
    ),
    ...r.checks.map((c) => `check ${c.name} (${c.expression.written})${c.validated ? '' : ' not valid'}${c.inherited ? ' inherited' : ''}`),
    ...r.indexes.map(
      (x) =>
        `${x.unique ? 'unique index' : 'index'} ${x.name} (${x.columns.map((p) => p.column ?? p.expression?.written)})${x.predicate ? ` where ${x.predicate.written}` : ''}${attached(x)}${x.valid ? '' : ' not valid'}`,
    ),
    ...r.triggers.map((t) => `trigger ${t.name}${t.fires === 'origin' ? '' : ` ${t.fires}`}`),
    ...r.rules.map((t) => `rule ${t.name}`),
  ]
}

export const named = (c: Catalog, name: string): Relation | undefined => c.relations.find((r) => r.name === name)
