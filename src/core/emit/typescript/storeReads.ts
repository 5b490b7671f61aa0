// Reading: by key, in portions, by rules, references and indexes; and loading of ends.
import type { Entity, Property } from '../../model/index.ts'
import type { OwnEnd } from './ends.ts'
import { keyOf } from './entityFile.ts'
import {
  address,
  capital,
  columnList,
  equal,
  ident,
  inTemplate,
  keyParams,
  missing,
  type Operation,
  operation,
  propertiesOf,
  type StoreContext,
  sqlLiteral,
  tellApart,
  valueIn,
  written,
} from './storeParts.ts'
import { localName, quoteText } from './text.ts'

const headOf = (e: Entity) => `SELECT ${columnList(e.properties, 't.')} FROM ${address(e.relation)} t`

/** Ends that can come along in the same statement: those that lead to one, found by what tells it apart. */
export const joinedEnds = (x: StoreContext): readonly OwnEnd[] =>
  (x.endsOf.get(x.e.id) ?? []).filter((o) => {
    const target = x.entities.get(o.other.entity)
    return o.end.leadsTo !== 'any number' && target !== undefined && tellApart(target, o.other.columns)
  })

export function reading(x: StoreContext): readonly Operation[] {
  const { e, names } = x
  const key = keyOf(e)
  const joins = joinedEnds(x).length > 0
  const joined = joins ? ', join' : ''
  const ways = `Listing<${key.length === 0 ? 'never' : names.key}, ${names.test}${joins ? `, keyof typeof joins` : ''}>`
  const from = `${address(e.relation)} t`
  const head = joins ? `    const { select, read } = db.joining(list, from, readRow, join.map((end) => joins[end]))\n` : ''
  const [select, read] = joins ? ['select', 'read'] : ['select', 'readRow']
  const order = ` ORDER BY ${columnList(key, 't.')}`
  const behind = key.length === 1 ? `${columnList(key, 't.')} > $` : `(${columnList(key, 't.')}) > ($, …)`
  const count = operation(
    'count',
    'How many there are, of those for which all of `where` holds.',
    [`SELECT count(*) AS n FROM ${from} [WHERE …]`],
    `  async count(where: readonly (${names.test} | undefined)[] = []): Promise<number> {
    const w = db.Where.of(where, columns)
    return (await db.readOne(this.#on, \`SELECT count(*) AS n FROM \${from}\${w.text}\`, w.params, (row) => Number(row['n']))) ?? 0
  }\n`,
  )
  if (key.length === 0) {
    return [
      count,
      operation(
        'list',
        'Those for which all of `where` holds, in no order: without a key they are not read in portions.',
        [`${headOf(e)} [WHERE …] [LIMIT $]`],
        `  list({ where = [], limit${joined === '' ? '' : ', join = []'} }: Omit<db.${ways}, 'after'> = {}): Promise<${e.name}[]> {
    const w = db.Where.of(where, columns)
${head}    const most = limit === undefined ? '' : \` LIMIT \${w.param(String(limit))}\`
    return db.readAll(this.#on, \`\${${select}}\${w.text}\${most}\`, w.params, ${read})
  }\n`,
      ),
      missing('get', 'The one with a key.', 'it has no key'),
      missing('stream', 'All of them in order of the key.', 'it has no key'),
    ]
  }
  const afterKey =
    key.length === 1
      ? `${columnList(key, 't.')} > \${w.param(${keyParams(key, 'after', x)})}`
      : `(${columnList(key, 't.')}) > (${key.map((p) => `\${w.param(${keyParams([p], `after.${p.name}`, x)})}`).join(', ')})`
  const last = key.length === 1 ? `last.${key[0]?.name}` : 'last'
  return [
    operation(
      'get',
      'The one with this key, or null.',
      [`${headOf(e)} WHERE ${equal(key, 't.')}`],
      joins
        ? `  get(key: ${names.key}, { join = [] }: Pick<db.${ways}, 'join'> = {}): Promise<${e.name} | null> {
${head}    return db.readOne(this.#on, \`\${select} WHERE ${equal(key, 't.')}\`, [${keyParams(key, 'key', x)}], read)
  }\n`
        : `  get(key: ${names.key}): Promise<${e.name} | null> {
    return db.readOne(this.#on, \`\${select} WHERE ${equal(key, 't.')}\`, [${keyParams(key, 'key', x)}], readRow)
  }\n`,
    ),
    count,
    operation(
      'list',
      'In order of the key, those for which all of `where` holds, behind `after`; an empty list where there are no more.',
      [`${headOf(e)} [WHERE … AND ${behind}]${order} LIMIT $`],
      `  list({ where = [], after, limit = 1000${joined === '' ? '' : ', join = []'} }: db.${ways} = {}): Promise<${e.name}[]> {
    const w = db.Where.of(where, columns)
    if (after !== undefined) w.and(\`${afterKey}\`)
${head}    return db.readAll(this.#on, \`\${${select}}\${w.text}${order} LIMIT \${w.param(String(limit))}\`, w.params, ${read})
  }\n`,
    ),
    operation(
      'stream',
      'The same one after the other, `limit` of them in memory at a time.',
      [],
      `  async *stream(what: db.${ways} = {}): AsyncGenerator<${e.name}> {
    const limit = what.limit ?? 1000
    for (let after = what.after; ; ) {
      const found: ${e.name}[] = await this.list({ ...what, after, limit })
      yield* found
      const last = found.at(-1)
      if (!last || found.length < limit) return
      after = ${last}
    }
  }\n`,
    ),
  ]
}

/** By unique rules one or none; by references and the first column of indexes any number. */
export function finders(x: StoreContext): readonly Operation[] {
  const { e } = x
  const parameters = (list: readonly Property[]) => list.map((p) => `${localName(p.name)}: ${x.types.ofProperty(p).text}`).join(', ')
  const params = (list: readonly Property[]) => list.map((p) => `${valueIn(p, x)}.write(${localName(p.name)})`).join(', ')
  const by = (list: readonly Property[]) => list.map((p) => capital(p.name)).join('And')
  const key = keyOf(e)
  const order = key.length === 0 ? '' : ` ORDER BY ${columnList(key, 't.')}`
  const unique = e.uniques.map((u) => {
    const list = propertiesOf(e, u.columns)
    return operation(
      `oneBy${by(list)}`,
      `One or none: ${u.name} keeps it so.`,
      [`${headOf(e)} WHERE ${equal(list, 't.')}`],
      `  oneBy${by(list)}(${parameters(list)}): Promise<${e.name} | null> {\n    return db.readOne(this.#on, \`\${select} WHERE ${equal(list, 't.')}\`, [${params(list)}], readRow)\n  }\n`,
    )
  })
  const set = (columns: readonly string[]) => columns.toSorted().join('\n')
  const seen = new Set([set(key.map((p) => p.column)), ...e.uniques.map((u) => set(u.columns))])
  const all = (columns: readonly string[], says: string): readonly Operation[] => {
    if (seen.has(set(columns))) return []
    seen.add(set(columns))
    const list = propertiesOf(e, columns)
    return [
      operation(
        `allBy${by(list)}`,
        `${says}${key.length === 0 ? '' : ', in order of the key'}.`,
        [`${headOf(e)} WHERE ${equal(list, 't.')}${order}`],
        `  allBy${by(list)}(${parameters(list)}): Promise<${e.name}[]> {\n    return db.readAll(this.#on, \`\${select} WHERE ${equal(list, 't.')}${order}\`, [${params(list)}], readRow)\n  }\n`,
      ),
    ]
  }
  const references = (x.endsOf.get(e.id) ?? []).flatMap((o) =>
    o.side !== 'from' || o.relationship.through ? [] : all(o.end.columns, `All of one ${x.entities.get(o.other.entity)?.name}`),
  )
  const indexed = e.indexed.flatMap((c) => all([c], `All with this ${c}, found by an index`))
  return [...unique, ...references, ...indexed]
}

const among = (names: readonly string[]) => (names.length === 1 ? names[0] : `(${names.join(', ')})`)

/** What pairs an end's rows with the other's in one statement, for `joins`. */
export function joinEntry(o: OwnEnd, x: StoreContext): string {
  const target = x.entities.get(o.other.entity) as Entity
  const on = o.end.columns.map((c, i) => `\${alias}.${ident(o.other.columns[i] as string)} = t.${ident(c)}`).join(' AND ')
  const empty = o.end.leadsTo === 'at most one' ? 'other' : 'other ?? undefined'
  return `  ${o.end.property}: db.join<${x.e.name}, ${target.name}>({
    columns: () => ${target.name}.columns,
    from: (alias) => \`${address(target.relation)} \${alias} ON ${on}\`,
    key: [${o.other.columns.map(quoteText).join(', ')}],
    read: (row) => db.read(${target.name}, row),
    put: (of, other) => of.${x.loads(o.end.entity, o.end.property)}(${empty}),
  }),\n`
}

/** Loading of an end, batched: one statement for each 5,000 keys. */
export function loading(o: OwnEnd, x: StoreContext): Operation {
  const target = x.entities.get(o.other.entity) as Entity
  const { through } = o.relationship
  const own = propertiesOf(x.e, o.end.columns)
  const theirs = propertiesOf(target, o.other.columns)
  const casts = (columns: readonly Property[]) => columns.map((p, i) => `$${i + 1}::${inTemplate(p.type)}[]`).join(', ')
  const readTarget = target.id === x.e.id ? 'readRow' : `(row) => db.read(${target.name}, row)`
  // What the database pads with blanks is one value with and without them.
  const trimmed = (p: Property) => (/^character\(|^bpchar/.test(p.type) ? '.trimEnd()' : '')
  const texts = (columns: readonly Property[], of: string) => {
    const list = columns.map((p) => `${written(p, `${of}.${p.name}`, x)}${trimmed(p)}`)
    return list.length === 1 ? list[0] : `[${list.join(', ')}]`
  }
  const linkKey = (list: readonly string[]) => (list.length === 1 ? list[0] : `[${list.join(', ')}]`)
  const load = x.loads(o.end.entity, o.end.property)
  const name = `load${capital(o.end.property)}`
  const says = `Loads ${o.end.property} of each, one statement for each 5,000 keys.`
  const head = `  async ${name}(of: Iterable<${x.e.name}>): Promise<void> {\n    const all = [...of]\n`
  if (through) {
    const [mine, other] = o.side === 'from' ? [through.fromColumns, through.toColumns] : [through.toColumns, through.fromColumns]
    const linked = mine.map((c, i) => `l.${ident(c)} AS link_${i}`).join(', ')
    const joined = other.map((c, i) => `l.${ident(c)} = t.${ident((theirs[i] as Property).column)}`).join(' AND ')
    const sql = `SELECT ${columnList(target.properties, 't.')}, ${linked} FROM ${address(through.table)} l JOIN ${address(target.relation)} t ON ${joined} WHERE ${among(mine.map((c) => `l.${ident(c)}`))} IN (SELECT * FROM unnest(${casts(own)}))`
    const targetKey = keyOf(target)
    // Linked to several, it is one object.
    const once = targetKey.length === 0 ? '' : `    const readOne = db.once([${targetKey.map((p) => quoteText(p.column)).join(', ')}], ${readTarget})\n`
    return operation(
      name,
      says,
      [sql],
      `${head}${once}    const found = await db.byKeys(
      this.#on,
      ${sqlLiteral(sql)},
      all.map((o) => ${texts(own, 'o')}),
      (row) => ({ key: ${linkKey(mine.map((_, i) => `row['link_${i}'] ?? null`))}, of: ${targetKey.length === 0 ? `db.read(${target.name}, row)` : 'readOne(row)'} }),
    )
    const members = db.grouped(found, (f) => f.key)
    for (const o of all) o.${load}((members(${texts(own, 'o')}) ?? []).map((f) => f.of))
  }\n`,
    )
  }
  const sql = `SELECT ${columnList(target.properties)} FROM ${address(target.relation)} WHERE ${among(theirs.map((p) => ident(p.column)))} IN (SELECT * FROM unnest(${casts(theirs)}))`
  const got = `members(${texts(own, 'o')})`
  const given = o.end.leadsTo === 'any number' ? `${got} ?? []` : o.end.leadsTo === 'at most one' ? `${got}?.[0] ?? null` : `${got}?.[0]`
  return operation(
    name,
    says,
    [sql],
    `${head}    const found = await db.byKeys(
      this.#on,
      ${sqlLiteral(sql)},
      all.map((o) => ${texts(own, 'o')}),
      ${readTarget},
    )
    const members = db.grouped(found, (f) => ${texts(theirs, 'f')})
    for (const o of all) o.${load}(${given})
  }\n`,
  )
}
