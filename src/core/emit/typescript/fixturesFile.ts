// Rows for tests as TypeScript: stored through the stores of the classes, each row a constant that is called by what tells it apart.
import { relationText } from '../../catalog/index.ts'
import { type NamedFixtures, type NamedRow, naturalTexts, rowsByIndex, type Shape } from '../../fixtures/named.ts'
import type { Entity, EntityModel, Property, Relationship } from '../../model/index.ts'
import { assignNames, camelCase, pascalCase, splitWords } from '../../names/index.ts'
import { endsByEntity, type GivenEnd, givenEnds } from './ends.ts'
import { styledText } from './styled.ts'
import { memberName, quoteText } from './text.ts'
import { type ValueTypes, valueTypes } from './valueTypes.ts'

export interface FixturesCode {
  readonly text: string
  /** Rows that no store can be given, by relation, and why. */
  readonly left: NamedFixtures['left']
}

interface Context {
  readonly f: NamedFixtures
  readonly types: ValueTypes
  readonly entities: ReadonlyMap<string, Entity>
  readonly given: ReadonlyMap<string, readonly GivenEnd[]>
  readonly joined: ReadonlyMap<string, Relationship>
  readonly byIndex: ReadonlyMap<number, NamedRow>
  /** What each row is called. */
  readonly names: ReadonlyMap<number, string>
  readonly gone: Set<number>
  readonly drop: (r: NamedRow, why: string) => null
}

/** `base`: the folder that `values.ts` is in. */
export function fixturesTypeScript(f: NamedFixtures, model: EntityModel): FixturesCode {
  const types = valueTypes(model)
  const entities = new Map(model.entities.map((e) => [e.id as string, e]))
  const ends = endsByEntity(model)
  const left: { relation: string; why: string }[] = []
  const gone = new Set<number>()
  const byIndex = rowsByIndex(f)
  const x: Context = {
    f,
    types,
    entities,
    given: new Map(model.entities.map((e) => [e.id as string, givenEnds(e, ends.get(e.id) ?? [], { types, entities })])),
    joined: new Map(model.relationships.flatMap((r) => (r.through && !r.through.shortcut ? [[relationText(r.through.table), r] as const] : []))),
    byIndex,
    names: rowNames(f, byIndex),
    gone,
    drop: (r, why) => {
      gone.add(r.index)
      if (!left.some((l) => l.relation === r.relation)) left.push({ relation: r.relation, why })
      return null
    },
  }
  const lines = f.rows.flatMap((r) => {
    const line = statement(r, x)
    return line === null ? [] : [{ row: r, line }]
  })
  const body = lines.map((l) => `  ${l.line}\n`).join('')
  const called = lines.flatMap(({ row }) => (entities.has(row.relation) ? [x.names.get(row.index) as string] : []))
  const stores = [...new Set([...body.matchAll(/new (\w+Store)\(/g)].map((m) => m[1] as string))].sort()
  const usesValues = /\bv\.\w/.test(body)
  const text = [
    `import type { Db } from './${model.settings.base}/db.js'`,
    `import { ${stores.join(', ')} } from './index.js'`,
    ...(usesValues ? [`import * as v from './${model.settings.base}/values.js'`] : []),
    '',
    '/** Stores the rows, each after those it refers to, and gives them by what they are called here. Give it a transaction to take all of it back. */',
    'export async function storeFixtures(on: Db) {',
    `${body}  return {\n${called.map((n) => `    ${n},\n`).join('')}  }`,
    '}',
    '',
  ].join('\n')
  return { text: styledText(text, model.settings), left }
}

/** `crateNorth3`: the class and what tells the row apart; numbers keep alike ones apart. */
function rowNames(f: NamedFixtures, byIndex: ReadonlyMap<number, NamedRow>): ReadonlyMap<number, string> {
  const rows = f.rows.filter((r) => f.shapes.has(r.relation))
  const names = assignNames(
    rows.map((r) => {
      const shape = f.shapes.get(r.relation) as Shape
      const told = naturalTexts(f, r, byIndex)
        .flatMap((t) => splitWords(t.slice(0, 30).replace(/[^\p{L}\p{N}]+/gu, ' ')))
        .filter((w) => w !== '')
      const name = `${camelCase(splitWords(shape.name))}${pascalCase(told)}`.replace(/[^\p{L}\p{N}_$]/gu, '').slice(0, 60)
      return { scope: '', candidates: [name] }
    }),
    (n) => n === 'on' || n === 'v',
  )
  return new Map(rows.map((r, i) => [r.index, names[i] as string]))
}

function statement(r: NamedRow, x: Context): string | null {
  const e = x.entities.get(r.relation)
  const lost = [...r.ends].find(([, of]) => x.gone.has(of))
  if (lost) return x.drop(r, `${lost[0]} leads to a row that no store can be given`)
  if (!e) return link(r, x)
  if (e.readOnly) return x.drop(r, `${e.name} is read-only`)
  const shape = x.f.shapes.get(r.relation) as Shape
  const members: string[] = []
  for (const [column, text] of r.values) {
    const p = propertyOf(e, column)
    if (p) members.push(`${memberName(p.name)}: ${text === null ? 'null' : literal(p, text, x)}`)
  }
  for (const [name, of] of r.ends) {
    const target = x.names.get(of) as string
    const end = x.given.get(e.id)?.find((g) => g.own.end.property === name)
    const alone = new Set(end?.alone.map((p) => p.column))
    if (end) members.push(`${memberName(name)}: ${target}`)
    const columns = shape.ends.find((s) => s.name === name)
    for (const [i, c] of (columns?.columns ?? []).entries()) {
      const [p, theirs] = [propertyOf(e, c), propertyOf(x.entities.get(columns?.target ?? ''), columns?.targetColumns[i] ?? '')]
      if (alone.has(c) || !p) continue
      if (!theirs) return x.drop(r, `${name} leads to what is no class`)
      members.push(`${memberName(p.name)}: ${moved(p, theirs, `${target}.${theirs.name}`, x)}`)
    }
  }
  return `const ${x.names.get(r.index)} = await new ${e.name}Store(on).insert({ ${members.join(', ')} })`
}

/** A row of a join table that hides: the two are linked. */
function link(r: NamedRow, x: Context): string | null {
  const m = x.joined.get(r.relation)
  const shape = x.f.shapes.get(r.relation)
  if (!m?.through || !shape) return x.drop(r, 'it takes no part in the model')
  if (r.values.size > 0) return x.drop(r, `${[...r.values.keys()].join(', ')} is given no value where rows are linked`)
  const at = (columns: readonly string[]) => {
    const end = shape.ends.find((s) => s.columns.join('\n') === columns.join('\n'))
    return end ? x.names.get(r.ends.get(end.name) ?? -1) : undefined
  }
  const [from, to] = [at(m.through.fromColumns), at(m.through.toColumns)]
  const owner = x.entities.get(m.from.entity)
  if (from === undefined || to === undefined || !owner || owner.readOnly) return x.drop(r, 'one of the two is no row here')
  const { property } = m.from
  return `await new ${owner.name}Store(on).link${property.charAt(0).toUpperCase()}${property.slice(1)}(${from}, ${to})`
}

const propertyOf = (e: Entity | undefined, column: string): Property | undefined => e?.properties.find((p) => p.column === column)

/** A value as the code says it where it can, and as its text is read where it cannot. */
function literal(p: Property, text: string, x: Context): string {
  const { text: type, value } = x.types.ofProperty(p)
  if (value === 'v.text' || value.startsWith('v.oneOf(')) return quoteText(text)
  if (type === 'number' && value === 'v.integer' && /^-?\d{1,15}$/.test(text)) return text
  if (type === 'bigint' && value === 'v.bigint' && /^-?\d+$/.test(text)) return `${text}n`
  if (value === 'v.bool') return String(/^(t|true|y|yes|on|1)$/i.test(text))
  return `${value}.read(${quoteText(text)})`
}

const moved = (own: Property, theirs: Property, text: string, x: Context): string => {
  const [a, b] = [x.types.ofProperty(theirs), x.types.ofProperty(own)]
  return a.value === b.value && a.text === b.text ? text : `${b.value}.read(${a.value}.write(${text}))`
}
