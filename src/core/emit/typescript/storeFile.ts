// The store of one entity: plain SQL, values only as parameters, one statement an operation.

import { quoteAddress, quoteIdent } from '../../dialect/postgres/index.ts'
import type { Entity, Property } from '../../model/index.ts'
import type { OwnEnd } from './ends.ts'
import { type Declared, type EmitContext, keyOf } from './entityFile.ts'
import { docComment, localName, quoteText, textList } from './text.ts'

const capital = (name: string) => `${name.charAt(0).toUpperCase()}${name.slice(1)}`

interface StoreContext extends EmitContext {
  readonly e: Entity
  readonly names: Declared
  /** `SELECT` of all columns, up to where. */
  readonly select: string
}

/** SQL inside a template of the emitted code. */
const sql = (text: string) => `\`${text.replace(/[\\`]/g, '\\$&').replace(/\$\{/g, '\\${')}\``

const value = (p: Property, x: EmitContext) => x.types.ofProperty(p).value
const written = (p: Property, of: string, x: EmitContext) => {
  const write = `${value(p, x)}.write(${of})`
  return p.nullable ? `${of} === null ? null : ${write}` : write
}
const columnList = (list: readonly Property[]) => list.map((p) => quoteIdent(p.column)).join(', ')
const equal = (list: readonly Property[], first = 1) => list.map((p, i) => `${quoteIdent(p.column)} = $${first + i}`).join(' AND ')
/** The parts of a key that a method was given. */
const keyParams = (key: readonly Property[], of: string, x: EmitContext) => key.map((p) => written(p, key.length === 1 ? of : `${of}.${p.name}`, x)).join(', ')

function reading(x: StoreContext): readonly string[] {
  const { e, names } = x
  const key = keyOf(e)
  const out: string[] = []
  const method = (doc: string, text: string) => out.push(`${docComment([doc], '  ')}${text}`)
  method(
    'How many there are.',
    `  async count(): Promise<number> {\n    return (await db.readOne(this.#on, ${sql(`SELECT count(*) AS n FROM ${quoteAddress(e.relation)}`)}, [], (row) => Number(row['n']))) ?? 0\n  }\n`,
  )
  if (key.length === 0) {
    method(
      'All of them, in no order: without a key they are not read in portions.',
      `  list(): Promise<${e.name}[]> {\n    return db.readAll(this.#on, select, [], ${names.read})\n  }\n`,
    )
    return out
  }
  const behind = key.length === 1 ? `${columnList(key)} > $1` : `(${columnList(key)}) > (${key.map((_, i) => `$${i + 1}`).join(', ')})`
  const order = `ORDER BY ${columnList(key)}`
  method(
    'The one with this key, or null.',
    `  get(key: ${names.key}): Promise<${e.name} | null> {\n    return db.readOne(this.#on, \`\${select} WHERE ${equal(key)}\`, [${keyParams(key, 'key', x)}], ${names.read})\n  }\n`,
  )
  method(
    'In order of the key, those behind `after`; an empty list where there are no more.',
    `  list(after: ${names.key} | null = null, limit = 1000): Promise<${e.name}[]> {
    if (after === null) return db.readAll(this.#on, \`\${select} ${order} LIMIT $1\`, [String(limit)], ${names.read})
    return db.readAll(this.#on, \`\${select} WHERE ${behind} ${order} LIMIT $${key.length + 1}\`, [${keyParams(key, 'after', x)}, String(limit)], ${names.read})
  }\n`,
  )
  const last = key.length === 1 ? `end.${key[0]?.name}` : 'end'
  method(
    'All of them in order of the key, a portion in memory at a time.',
    `  async *stream(portion = 1000): AsyncGenerator<${e.name}> {
    let after: ${names.key} | null = null
    for (;;) {
      const found: ${e.name}[] = await this.list(after, portion)
      yield* found
      const end = found.at(-1)
      if (!end || found.length < portion) return
      after = ${last}
    }
  }\n`,
  )
  return out
}

/** By unique rules one or none; by references and the first column of indexes any number. */
function finders(x: StoreContext): readonly string[] {
  const { e, names } = x
  const of = (columns: readonly string[]) => columns.map((c) => e.properties.find((p) => p.column === c) as Property)
  const parameters = (list: readonly Property[]) => list.map((p) => `${localName(p.name)}: ${x.types.ofProperty(p).text}`).join(', ')
  const params = (list: readonly Property[]) => list.map((p) => `${value(p, x)}.write(${localName(p.name)})`).join(', ')
  const by = (list: readonly Property[]) => list.map((p) => capital(p.name)).join('And')
  const unique = e.uniques.map(
    (u) =>
      `${docComment([`One or none: ${u.name} keeps it so.`], '  ')}  oneBy${by(of(u.columns))}(${parameters(of(u.columns))}): Promise<${e.name} | null> {\n    return db.readOne(this.#on, \`\${select} WHERE ${equal(of(u.columns))}\`, [${params(of(u.columns))}], ${names.read})\n  }\n`,
  )
  const key = keyOf(e)
  const uniqueSets = new Set([
    key
      .map((p) => p.column)
      .toSorted()
      .join('\n'),
    ...e.uniques.map((u) => u.columns.toSorted().join('\n')),
  ])
  const seen = new Set<string>()
  const many = (x.endsOf.get(e.id) ?? []).flatMap((o) => {
    const set = o.end.columns.toSorted().join('\n')
    if (o.side !== 'from' || o.relationship.through || uniqueSets.has(set) || seen.has(set)) return []
    seen.add(set)
    const list = of(o.end.columns)
    const order = key.length === 0 ? '' : ` ORDER BY ${columnList(key)}`
    return [
      `${docComment([`All of one ${x.entities.get(o.other.entity)?.name}${key.length === 0 ? '' : ', in order of the key'}.`], '  ')}  allBy${by(list)}(${parameters(list)}): Promise<${e.name}[]> {\n    return db.readAll(this.#on, \`\${select} WHERE ${equal(list)}${order}\`, [${params(list)}], ${names.read})\n  }\n`,
    ]
  })
  return [...unique, ...many]
}

function writing(x: StoreContext): readonly string[] {
  const { e, names } = x
  if (e.readOnly) return []
  const key = keyOf(e)
  const version = e.properties.find((p) => p.role === 'version')
  const at = quoteAddress(e.relation)
  const ownKey = key.map((p) => `${value(p, x)}.write(of.${p.name})`).join(', ')
  const guard = version ? ` AND ${quoteIdent(version.column)} IS NOT DISTINCT FROM $\${columns.length + ${key.length + 1}}` : ''
  const guarded = version ? `, ${written(version, `of.${version.name}`, x)}` : ''
  const counted = version ? `, ${quoteIdent(version.column)} = coalesce(${quoteIdent(version.column)}, 0) + 1` : ''
  const where = key.map((p, i) => `${quoteIdent(p.column)} = $\${columns.length + ${i + 1}}`).join(' AND ')
  const after = version
    ? `    of.${version.name} = ${version.nullable ? `(of.${version.name} ?? ${zero(x.types.ofProperty(version).text)})` : `of.${version.name}`} + ${x.types.ofProperty(version).text === 'bigint' ? '1n' : '1'}\n`
    : ''
  const filtered = version ? `db.changes(of, writers, ${textList([version.name])})` : 'db.changes(of, writers)'
  return [
    `${docComment([`Stores a new one, and gives it as the database has it. What is left out is the database's to give.`], '  ')}  async insert(values: ${names.new}): Promise<${e.name}> {
    const { columns, params } = db.given(values, writers)
    const into = columns.length === 0 ? 'DEFAULT VALUES' : \`(\${columns.join(', ')}) VALUES (\${columns.map((_, i) => \`$\${i + 1}\`).join(', ')})\`
    const [made] = await db.readAll(this.#on, \`INSERT INTO ${at} \${into} RETURNING ${columnList(e.properties)}\`, params, ${names.read})
    if (!made) throw new Error('the database stored nothing: a rule or a trigger of it kept the row out')
    return made
  }
`,
    `${docComment([`Sends the columns that changed since it was read; nothing where none did. ${version ? 'Throws a StaleError where somebody else changed or removed it meanwhile.' : 'Throws a StaleError where it is not there any more; that somebody else changed it is not noticed, as no column counts changes.'}`], '  ')}  async update(of: ${e.name}): Promise<void> {
    const { columns, params } = ${filtered}
    if (columns.length === 0) return
    const set = columns.map((c, i) => \`\${c} = $\${i + 1}\`).join(', ')
    const n = await db.send(this.#on, \`UPDATE ${at} SET \${set}${counted} WHERE ${where}${guard}\`, [...params, ${ownKey}${guarded}])
    if (n === 0) throw new db.StaleError('${e.name}: it was changed or removed since it was read')
${after}    db.remember(of, writers)
  }
`,
    `${docComment([`Removes the one with this key; gives whether there was one.`], '  ')}  async delete(key: ${names.key}): Promise<boolean> {\n    return (await db.send(this.#on, \`DELETE FROM ${at} WHERE ${equal(key)}\`, [${keyParams(key, 'key', x)}])) > 0\n  }\n`,
  ]
}

const zero = (type: string) => (type === 'bigint' ? '0n' : '0')

/** Loading of ends, batched: one statement for each 5,000 keys. */
function loading(o: OwnEnd, x: StoreContext): string {
  const target = x.entities.get(o.other.entity) as Entity
  const { through } = o.relationship
  const own = o.end.columns.map((c) => x.e.properties.find((p) => p.column === c) as Property)
  const theirs = o.other.columns.map((c) => target.properties.find((p) => p.column === c) as Property)
  const list = columnList(target.properties)
  const casts = (columns: readonly Property[]) => columns.map((p, i) => `$${i + 1}::${p.type}[]`).join(', ')
  const readTarget = x.declared.get(target.id)?.read as string
  // What the database pads with blanks is one value with and without them.
  const trimmed = (p: Property) => (/^character\(|^bpchar/.test(p.type) ? '.trimEnd()' : '')
  const texts = (columns: readonly Property[], of: string) => `[${columns.map((p) => `${written(p, `${of}.${p.name}`, x)}${trimmed(p)}`).join(', ')}]`
  const load = x.loads(o.end.entity, o.end.property)
  const doc = docComment([`Loads ${o.end.property} of each, one statement for each 5,000 keys.`], '  ')
  const name = `  async load${capital(o.end.property)}(of: Iterable<${x.e.name}>): Promise<void> {\n    const all = [...of]\n`
  if (through) {
    const [mine, other] = o.side === 'from' ? [through.fromColumns, through.toColumns] : [through.toColumns, through.fromColumns]
    const linked = mine.map((c, i) => `l.${quoteIdent(c)} AS link_${i}`).join(', ')
    const joined = other.map((c, i) => `l.${quoteIdent(c)} = t.${quoteIdent((theirs[i] as Property).column)}`).join(' AND ')
    const text = `SELECT ${target.properties.map((p) => `t.${quoteIdent(p.column)}`).join(', ')}, ${linked} FROM ${quoteAddress(through.table)} l JOIN ${quoteAddress(target.relation)} t ON ${joined} WHERE (${mine.map((c) => `l.${quoteIdent(c)}`).join(', ')}) IN (SELECT * FROM unnest(${casts(own)}))`
    return `${doc}${name}    const found = await db.byKeys(this.#on, ${sql(text)}, all.map((o) => ${texts(own, 'o')}), (row) => ({ key: [${mine.map((_, i) => `row['link_${i}'] ?? null`).join(', ')}], of: ${readTarget}(row) }))
    const groups = db.grouped(found, (f) => f.key)
    for (const o of all) o.${load}((groups.get(JSON.stringify(${texts(own, 'o')})) ?? []).map((f) => f.of))
  }
`
  }
  const text = `SELECT ${list} FROM ${quoteAddress(target.relation)} WHERE (${columnList(theirs)}) IN (SELECT * FROM unnest(${casts(theirs)}))`
  const found = `    const found = await db.byKeys(this.#on, ${sql(text)}, all.map((o) => ${texts(own, 'o')}), ${readTarget})\n    const groups = db.grouped(found, (f) => ${texts(theirs, 'f')})\n`
  const got = `groups.get(JSON.stringify(${texts(own, 'o')}))`
  const given = o.end.leadsTo === 'any number' ? `${got} ?? []` : o.end.leadsTo === 'at most one' ? `${got}?.[0] ?? null` : `${got}?.[0]`
  return `${doc}${name}${found}    for (const o of all) o.${load}(${given})\n  }\n`
}

/** The whole file. */
export function storeFile(e: Entity, given: EmitContext, storeOf: (entity: string) => string): string {
  const names = given.declared.get(e.id) as Declared
  const x: StoreContext = { ...given, e, names, select: '' }
  const ends = x.endsOf.get(e.id) ?? []
  const methods = [...reading(x), ...finders(x), ...writing(x), ...ends.map((o) => loading(o, x))]
  const others = [...new Set(ends.map((o) => o.other.entity as string))].filter((id) => id !== e.id).sort()
  const writable = e.readOnly ? [] : e.properties.filter((p) => p.written !== 'never')
  const types = keyOf(e).length === 0 ? [] : [names.key]
  const imports = [
    `import * as db from './db.js'\n`,
    `import { ${[e.name, ...[...types, ...(e.readOnly ? [] : [names.new])].map((t) => `type ${t}`)].join(', ')} } from './${x.fileOf(e.name)}.js'\n`,
    ...others.map((id) => `import { ${x.declared.get(id)?.read} } from './${storeOf(id)}.js'\n`),
    ...typeImports(x),
    `import * as v from './values.js'\n`,
  ]
  const selected = `const select = ${quoteText(`SELECT ${columnList(e.properties)} FROM ${quoteAddress(e.relation)}`)}\n`
  const writers = e.readOnly
    ? ''
    : `\nconst writers = {\n${writable.map((p) => `  ${p.name}: db.writer(${quoteText(quoteIdent(p.column))}, ${value(p, x)}),\n`).join('')}}\n`
  const read = e.readOnly ? `${e.name}.fromRow(row)` : `db.remember(${e.name}.fromRow(row), writers)`
  const reader = `\n${docComment([`From a row of ${e.relation.name}.`], '')}export const ${names.read} = (row: v.Row): ${e.name} => ${read}\n`
  const head = `  readonly #on: db.Db\n\n  constructor(on: db.Db) {\n    this.#on = on\n  }\n`
  return `${x.header}${imports.join('')}\n${selected}${writers}${reader}\n${docComment([`Rows of ${e.relation.schema}.${e.relation.name}.`], '')}export class ${names.store} {\n${[head, ...methods].join('\n')}}\n`
}

/** Types of what finders are given. */
function typeImports(x: StoreContext): readonly string[] {
  const columns = new Set([
    ...x.e.uniques.flatMap((u) => u.columns),
    ...(x.endsOf.get(x.e.id) ?? []).flatMap((o) => (o.side === 'from' && !o.relationship.through ? o.end.columns : [])),
  ])
  const text = finders(x).join('')
  const names = [...new Set(x.e.properties.flatMap((p) => (columns.has(p.column) ? x.types.ofProperty(p).imports : [])))]
    .filter((n) => new RegExp(`: ${n}\\b`).test(text))
    .sort()
  return names.length === 0 ? [] : [`import type { ${names.join(', ')} } from './types.js'\n`]
}
