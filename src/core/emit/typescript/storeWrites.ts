// Writing: what is new, what changed, what goes, and the rows of join tables.
import type { Entity, Property } from '../../model/index.ts'
import { type GivenEnd, givenEnds, type OwnEnd } from './ends.ts'
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
  valueIn,
  written,
} from './storeParts.ts'
import { article, docComment, quoteText, textList } from './text.ts'

/** Why nothing of it is written; null where rows are. */
const whyReadOnly = (e: Entity): string | null =>
  !e.readOnly ? null : e.identity.kind === 'none' && e.kind.includes('table') ? 'it has no key' : `it is a ${e.kind}`

export const endsGiven = (x: StoreContext): readonly GivenEnd[] => givenEnds(x.e, x.endsOf.get(x.e.id) ?? [], x)

/** What a new row is stored from: what must be there, what may be left to the database, and ends in the place of their properties. */
export function newText(x: StoreContext): string {
  const { e, names } = x
  if (e.readOnly) return ''
  const ends = endsGiven(x)
  const byEnd = new Set(ends.flatMap((g) => g.alone))
  const pick = (list: readonly Property[]) => `Pick<${names.values}, ${list.map((p) => quoteText(p.name)).join(' | ')}>`
  const isNeeded = (p: Property) => p.written === 'always' && !p.nullable
  const plain = e.properties.filter((p) => p.written !== 'never' && !byEnd.has(p))
  const [must, may] = [plain.filter(isNeeded), plain.filter((p) => !isNeeded(p))]
  const parts = [
    ...(must.length === 0 ? [] : [pick(must)]),
    ...(may.length === 0 ? [] : [`Partial<${pick(may)}>`]),
    ...ends.map((g) => {
      const target = x.entities.get(g.own.other.entity)?.name
      const end = `{ readonly ${g.own.end.property}${g.optional ? '?' : ''}: db.At<${target}>${g.optional && g.alone.every((p) => p.nullable) ? ' | null' : ''} }`
      const [needed, free] = [g.alone.filter(isNeeded), g.alone.filter((p) => !isNeeded(p))]
      if (g.optional) return `Partial<${pick(g.alone)}> & ${end}`
      const said = [...(needed.length === 0 ? [] : [pick(needed)]), ...(free.length === 0 ? [] : [`Partial<${pick(free)}>`])]
      return `(${said.length === 1 ? said[0] : `(${said.join(' & ')})`} | ${end})`
    }),
  ]
  const says = `What a new ${e.name} is stored from${ends.length === 0 ? '' : '; an end may stand for the properties that hold it'}.`
  const lines = parts.length < 3 ? ` ${parts.join(' & ') || 'object'}` : `\n${parts.map((p) => `  & ${p}`).join('\n')}`
  return `${docComment([says], '')}export type ${names.new} =${lines}\n\n`
}

/** What a unit of work knows of the references of a class. */
export function referenceEntry(g: GivenEnd, x: StoreContext): string {
  const { own } = g
  const target = x.entities.get(own.other.entity)?.name as string
  return `  ${own.end.property}: {
    to: () => ${target},
    properties: ${textList(g.holds.map((h) => h.own.name))},
    alone: ${textList(g.alone.map((p) => p.name))},
    values: (to: ${target}) => ({ ${g.holds.map((h) => `${h.own.name}: ${h.value}`).join(', ')} }),
    load: (of: ${x.e.name}, to: ${target}) => of.${x.loads(own.end.entity, own.end.property)}(to),
    waits: ${g.waits},
  },\n`
}

export function writing(x: StoreContext): readonly Operation[] {
  const { e, names } = x
  const why = whyReadOnly(e)
  if (why !== null) return ['insert', 'update', 'save', 'delete'].map((name) => missing(name, '', why))
  const key = keyOf(e)
  const version = e.properties.find((p) => p.role === 'version')
  const at = address(e.relation)
  const all = columnList(e.properties, 't.')
  const references = endsGiven(x).length > 0
  const held = references ? 'db.held(values, references)' : 'values'
  const ownKey = key.map((p) => `${valueIn(p, x)}.write(of.${p.name})`).join(', ')
  const where = key.map((p, i) => `t.${ident(p.column)} = $\${changed.length + ${i + 1}}`).join(' AND ')
  const guard = version ? ` AND t.${ident(version.column)} IS NOT DISTINCT FROM $\${changed.length + ${key.length + 1}}` : ''
  const guarded = version ? `, ${written(version, `of.${version.name}`, x)}` : ''
  const counted = version ? `, ${ident(version.column)} = coalesce(t.${ident(version.column)}, 0) + 1` : ''
  const plainWhere = `${equal(key, 't.')}${version ? ` AND t.${ident(version.column)} IS NOT DISTINCT FROM $${key.length + 1}` : ''}`.replace(/\$\d+/g, '$')
  const except = version ? `, [${quoteText(version.name)}]` : ''
  const notThere = `if (!made) throw new Error('the database stored nothing: a rule or a trigger of it kept the row out')`
  const insert = operation(
    'insert',
    "Stores a new one, and gives it as the database has it. What is left out is the database's to give.",
    [`INSERT INTO ${at} AS t (…) VALUES (…) RETURNING ${all}`],
    `  async insert(values: ${names.new}): Promise<${e.name}> {
    const { into, params } = db.given(${held}, columns)
    const made = await db.readOne(this.#on, \`INSERT INTO ${at} AS t \${into} RETURNING \${list}\`, params, readRow)
    ${notThere}
    return ${references ? 'db.linked(made, values, references)' : 'made'}
  }\n`,
  )
  const update = operation(
    'update',
    `Sends the columns that changed since it was read, and takes over what the database made of it; nothing where none did. ${version ? 'Throws a StaleError where somebody else changed or removed it meanwhile.' : 'Throws a StaleError where it is not there any more; that somebody else changed it is not noticed, as no column counts changes.'}`,
    [`UPDATE ${at} t SET …${counted} WHERE ${plainWhere} RETURNING ${all}`],
    `  async update(of: ${e.name}): Promise<void> {
    const { columns: changed, params } = db.changes(of, columns${except})
    if (changed.length === 0) return
    const set = changed.map((c, i) => \`\${c} = $\${i + 1}\`).join(', ')
    const now = await db.readOne(
      this.#on,
      \`UPDATE \${from} SET \${set}${counted} WHERE ${where}${guard} RETURNING \${list}\`,
      [...params, ${ownKey}${guarded}],
      readRow,
    )
    if (!now) throw new db.StaleError(${quoteText(`${e.name}: it was changed or removed since it was read`)})
    db.refresh(of, now)
  }\n`,
  )
  return [
    insert,
    update,
    saving(x, key, version, held, references),
    operation(
      'delete',
      'Removes the one with this key; gives whether there was one.',
      [`DELETE FROM ${at} WHERE ${equal(key)}`],
      `  async delete(key: ${names.key}): Promise<boolean> {\n    return (await db.send(this.#on, \`DELETE FROM ${at} WHERE ${equal(key)}\`, [${keyParams(key, 'key', x)}])) > 0\n  }\n`,
    ),
  ]
}

/** How new is told from stored: by the class where the database gives the key, by asking where whoever makes one gives it. */
function saving(x: StoreContext, key: readonly Property[], version: Property | undefined, held: string, references: boolean): Operation {
  const { e, names } = x
  if (e.identity.kind === 'primary key' && e.identity.generated)
    return operation(
      'save',
      `Stores what is new, and of what is stored what changed. One of the class has its key from the database, so it is stored; values for one are new.`,
      [],
      `  async save(of: ${e.name} | ${names.new}): Promise<${e.name}> {
    if (!(of instanceof ${e.name})) return this.insert(of)
    await this.update(of)
    return of
  }\n`,
    )
  const at = address(e.relation)
  const all = columnList(e.properties, 't.')
  const conflict = version ? 'DO NOTHING' : `DO UPDATE SET \${set}`
  const set = version
    ? ''
    : `    const changed = names.filter((name) => !${textList(key.map((p) => p.name))}.includes(name))
    const set = db.excluded(changed.length === 0 ? names : changed, columns)\n`
  const not = version
    ? `if (!made) throw new db.StaleError(${quoteText(`${e.name}: there is one with this key already; read it before it is changed`)})`
    : `if (!made) throw new Error('the database stored nothing: a rule or a trigger of it kept the row out')`
  const one = references
    ? `of instanceof ${e.name} ? db.refresh(of, made) : db.linked(made, of, references)`
    : `of instanceof ${e.name} ? db.refresh(of, made) : made`
  return operation(
    'save',
    `Stores what is new, and of what was read what changed. Whoever makes ${article(e.name)} gives its key, so the key does not tell whether it is stored: ${version ? 'one that no store read is stored as new, with a StaleError where its key is taken.' : 'one that no store read takes the place of what is stored under its key.'}`,
    [`INSERT INTO ${at} AS t (…) VALUES (…) ON CONFLICT (${columnList(key)}) ${version ? 'DO NOTHING' : 'DO UPDATE SET …'} RETURNING ${all}`],
    `  async save(of: ${e.name} | ${names.new}): Promise<${e.name}> {
    if (of instanceof ${e.name} && db.rowOf(of)) {
      await this.update(of)
      return of
    }
    const { ${version ? '' : 'names, '}into, params } = db.given(${held.replace('values', 'of')}, columns)
${set}    const made = await db.readOne(this.#on, \`INSERT INTO ${at} AS t \${into} ON CONFLICT (${columnList(key)}) ${conflict} RETURNING \${list}\`, params, readRow)
    ${not}
    return ${one}
  }\n`,
  )
}

/** Rows of a join table: both ways where one reads only the pair. */
export function linking(o: OwnEnd, x: StoreContext): readonly Operation[] {
  const { through } = o.relationship
  const target = x.entities.get(o.other.entity) as Entity
  if (!through) return []
  const [link, unlink] = [`link${capital(o.end.property)}`, `unlink${capital(o.end.property)}`]
  const table = address(through.table)
  const rows = x.entities.get(`${through.table.schema}.${through.table.name}`)?.name
  if (through.shortcut) return [missing(link, '', `rows of ${through.table.name} are written as ${rows ?? 'a class of their own'}`)]
  const [mine, other] = o.side === 'from' ? [through.fromColumns, through.toColumns] : [through.toColumns, through.fromColumns]
  const own = propertiesOf(x.e, o.end.columns)
  const theirs = propertiesOf(target, o.other.columns)
  const columns = [...mine, ...other]
  const types = [...own, ...theirs].map((p) => p.type)
  const params = `[${[...own.map((p) => written(p, `of.${p.name}`, x)), ...theirs.map((p) => written(p, `other.${p.name}`, x))].join(', ')}]`
  const pair = columns.map((c, i) => `${ident(c)} = $${i + 1}`).join(' AND ')
  const insert = `INSERT INTO ${table} (${columns.map(ident).join(', ')}) SELECT ${types.map((t, i) => `$${i + 1}::${inTemplate(t)}`).join(', ')} WHERE NOT EXISTS (SELECT 1 FROM ${table} WHERE ${pair})`
  const remove = `DELETE FROM ${table} WHERE ${pair}`
  const take = (what: 'take' | 'lose') => `    of.${o.end.property}?.${what}(other)\n    other.${o.other.property}?.${what}(of)\n`
  const both = `(of: ${x.e.name}, other: ${target.name}): Promise<boolean> {`
  return [
    operation(
      link,
      `Links the two, in the database and where they are loaded; gives whether they were not yet.`,
      [insert],
      `  async ${link}${both}\n    const n = await db.send(this.#on, \`${insert}\`, ${params})\n${take('take')}    return n > 0\n  }\n`,
    ),
    operation(
      unlink,
      `Parts the two, in the database and where they are loaded; gives whether they were linked.`,
      [remove],
      `  async ${unlink}${both}\n    const n = await db.send(this.#on, \`${remove}\`, ${params})\n${take('lose')}    return n > 0\n  }\n`,
    ),
  ]
}
