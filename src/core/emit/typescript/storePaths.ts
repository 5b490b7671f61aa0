// Ways through the rows that were kept in Trial, as methods: what was typed there is what their parameters have where none is given.
import type { Property } from '../../model/index.ts'
import { assignNames, camelCase, splitWords } from '../../names/index.ts'
import { type Leg, type Resolved, resolve } from '../../trial/path.ts'
import { keyOf } from './entityFile.ts'
import { address, capital, columnList, ident, missing, type Operation, operation, type StoreContext } from './storeParts.ts'
import { localName, quoteText } from './text.ts'

/** A value as somebody typed it, in the code; null where it is none of the type. */
function literal(p: Property, text: string, value: string, x: StoreContext): string | null {
  if (p.flag) return value === p.flag.yes ? 'true' : value === p.flag.no ? 'false' : null
  const words = p.values ?? x.model.enumerations.find((t) => t.typeName === text)?.labels
  if (words) return words.includes(value) ? quoteText(value) : null
  if (text === 'number') return /^-?\d{1,15}(\.\d+)?$/.test(value) ? value : null
  if (text === 'bigint') return /^-?\d+$/.test(value) ? `${value}n` : null
  if (text === 'boolean') return /^(t|true|f|false)$/i.test(value) ? String(/^t/i.test(value)) : null
  if (text === 'Instant' || text === 'Date') return Number.isNaN(Date.parse(value)) ? null : `new Date(${quoteText(value)})`
  return /^(string|Decimal|LocalDate|LocalTime|LocalDateTime|Interval|Uuid)$/.test(text) ? quoteText(value) : null
}

interface Parameter {
  readonly name: string
  readonly type: string
  readonly imports: readonly string[]
  readonly ready: string | null
  readonly sent: string
}

type Condition = Resolved['conditions'][number]
const hasValue = (c: Condition) => c.is !== 'empty' && c.is !== 'filled'

function parametersOf(t: Resolved, x: StoreContext): readonly Parameter[] {
  const list = t.conditions.filter(hasValue)
  const names = assignNames(
    list.map((c) => ({ scope: '', candidates: [localName(c.property.name), localName(`${c.property.name}${capital(c.is)}`)] })),
    (n) => n === 'limit' || n === 'found',
  )
  return list.map((c, i): Parameter => {
    const name = names[i] as string
    if (c.is === 'contains') {
      const sent = `\`%\${${name}.replace(/[\\\\%_]/g, '\\\\$&')}%\``
      return { name, type: 'string', imports: [], ready: quoteText(c.value), sent }
    }
    const printed = x.types.ofProperty(c.property)
    return { name, type: printed.text, imports: printed.imports, ready: literal(c.property, printed.text, c.value, x), sent: `${printed.value}.write(${name})` }
  })
}

const on = (a: string, own: readonly string[], b: string, other: readonly string[]) =>
  own.map((c, i) => `${a}.${ident(c)} = ${b}.${ident(other[i] as string)}`).join(' AND ')

/** `x1` joined behind `x0`, by way of a join table where there is one. */
function joined(leg: Leg, a: string, b: string): string {
  const target = `JOIN ${address(leg.other.relation)} ${b}`
  if (!leg.through) return ` ${target} ON ${on(a, leg.ownColumns, b, leg.otherColumns)}`
  return ` JOIN ${address(leg.through)} ${b}l ON ${on(`${b}l`, leg.through.own, a, leg.ownColumns)} ${target} ON ${on(`${b}l`, leg.through.other, b, leg.otherColumns)}`
}

/** `parameter`: the number of its value. */
function condition(c: Condition, parameter: number): string {
  const compared = (alias: string) => {
    const column = `${alias}.${ident(c.property.column)}`
    if (!hasValue(c)) return `${column} IS ${c.is === 'empty' ? '' : 'NOT '}NULL`
    if (c.is === 'contains') return `${column}::text ILIKE $${parameter}`
    return `${column} ${{ equal: '=', other: '<>', less: '<', more: '>' }[c.is as 'equal']} $${parameter}`
  }
  const [first, ...rest] = c.via
  if (!first) return compared('t')
  const through = first.through
  const from = through
    ? `${address(through)} x0l JOIN ${address(first.other.relation)} x0 ON ${on('x0l', through.other, 'x0', first.otherColumns)}`
    : `${address(first.other.relation)} x0`
  const paired = through ? on('x0l', through.own, 't', first.ownColumns) : on('x0', first.otherColumns, 't', first.ownColumns)
  const more = rest.map((leg, i) => joined(leg, `x${i}`, `x${i + 1}`)).join('')
  return `EXISTS (SELECT 1 FROM ${from}${more} WHERE ${paired} AND ${compared(`x${rest.length}`)})`
}

/** What a kept path reads, in words. */
function saysOf(name: string, t: Resolved): string {
  const where = t.conditions.map((c) => `${[...c.via.map((leg) => leg.property), c.property.name].join('.')} ${c.is}`).join(' and ')
  const along = t.legs.map((leg) => leg.property).join(', then ')
  return `Kept in Trial as ${JSON.stringify(name)}: ${t.entity.name}${where === '' ? '' : ` where ${where}`}${along === '' ? '' : `, with ${along}`}.`
}

function pathMethod(method: string, name: string, t: Resolved, x: StoreContext): Operation {
  const parameters = parametersOf(t, x)
  let n = 0
  const conditions = t.conditions.map((c) => condition(c, hasValue(c) ? ++n : 0))
  const where = conditions.length === 0 ? '' : ` WHERE ${conditions.join(' AND ')}`
  const key = keyOf(t.entity)
  const order = key.length === 0 ? '' : ` ORDER BY ${columnList(key, 't.')}`
  const tail = `${where}${order} LIMIT $${n + 1}`
  const lines = t.legs.map((leg, i) => {
    const [from, to] = [i === 0 ? 'found' : `found${i + 1}`, `found${i + 2}`]
    const store = leg.own.id === x.e.id ? 'this' : `new ${x.declared.get(leg.own.id)?.storeBase}(this.#on)`
    const load = `    await ${store}.load${capital(leg.property)}(${from})\n`
    const next = leg.one ? `o.${leg.property} ?? []` : `[...(o.${leg.property} ?? [])]`
    return i === t.legs.length - 1 ? load : `${load}    const ${to} = new Set([...${from}].flatMap((o) => ${next}))\n`
  })
  const takes = [...parameters.map((p) => (p.ready === null ? p.name : `${p.name} = ${p.ready}`)), 'limit = 1000'].join(', ')
  const types = [
    ...parameters.map((p) => (p.ready === null ? `readonly ${p.name}: ${p.type}` : `readonly ${p.name}?: ${p.type} | undefined`)),
    'readonly limit?: number | undefined',
  ].join('; ')
  const none = parameters.some((p) => p.ready === null) ? '' : ' = {}'
  return operation(
    method,
    saysOf(name, t),
    [`SELECT ${columnList(t.entity.properties, 't.')} FROM ${address(t.entity.relation)} t${tail}`],
    `  async ${method}({ ${takes} }: { ${types} }${none}): Promise<${x.e.name}[]> {
    const found = await db.readAll(this.#on, \`\${select}${tail}\`, [${[...parameters.map((p) => p.sent), 'String(limit)'].join(', ')}], readRow)
${lines.join('')}    return found
  }\n`,
  )
}

/** Kept paths that begin at an entity, clear of the names that its store has already. */
export function pathMethods(x: StoreContext, taken: ReadonlySet<string>): readonly Operation[] {
  const own = x.model.kept.filter((k) => k.path.entity === x.e.id)
  const latest = [...new Map(own.map((k) => [k.name, k])).values()]
  const names = assignNames(
    latest.map((k) => {
      const name = camelCase(splitWords(k.name))
      return { scope: '', candidates: [/^[a-z]/i.test(name) ? name : `kept${capital(name)}`] }
    }),
    (n) => taken.has(n),
  )
  return latest.map((k, i) => {
    const found = resolve(x.model, k.path)
    return found.ok
      ? pathMethod(names[i] as string, k.name, found.trial, x)
      : missing(names[i] as string, `Kept in Trial as ${JSON.stringify(k.name)}.`, found.problem)
  })
}

/** Other entities whose stores the kept paths of one use, by id. */
export function storesOfPaths(x: StoreContext): readonly string[] {
  return x.model.kept.flatMap((k) => {
    const found = k.path.entity === x.e.id ? resolve(x.model, k.path) : null
    return found?.ok ? found.trial.legs.map((leg) => leg.own.id as string).filter((id) => id !== x.e.id) : []
  })
}

/** Types of `types.ts` that the parameters of kept paths have. */
export function typesOfPaths(x: StoreContext): readonly string[] {
  return x.model.kept.flatMap((k) => {
    const found = k.path.entity === x.e.id ? resolve(x.model, k.path) : null
    return found?.ok ? parametersOf(found.trial, x).flatMap((p) => p.imports) : []
  })
}
