// The statements of a trial. All of them only read; values are parameters, and come and go as texts.
import { type Catalog, relationText } from '../catalog/index.ts'
import { identQuoter, tableQuoter } from '../dialect/quoting.ts'
import type { Entity } from '../model/index.ts'
import type { Leg, Resolved } from './path.ts'

export interface Statement {
  readonly sql: string
  /** A list for a parameter that is a list of keys. */
  readonly values: readonly (string | null | readonly (string | null)[])[]
}

/** Keys that one statement takes at most: a batch of more is sent in blocks. */
export const keysPerBlock = 5000
/** Rows of one level that are shown at most. */
export const rowsPerLevel = 1000
/** Rows that a join of all levels gives at most. */
export const joinedRows = 5000
/** Where counting stops: a large table costs no more than a small one. */
export const countedTo = 10_000

type Value = Statement['values'][number]
type Place = { readonly schema: string; readonly name: string }

/** Writes statements of one catalog's engine. */
export class Writer {
  private readonly quote: (name: string) => string
  private readonly table: (a: Place) => string
  private readonly postgres: boolean

  constructor(private readonly catalog: Catalog) {
    this.quote = identQuoter(catalog.dialect)
    this.table = tableQuoter(catalog.dialect)
    this.postgres = catalog.dialect === 'postgresql'
  }

  private typeOf(of: Place, column: string): string {
    const id = relationText(of)
    return this.catalog.relations.find((r) => relationText(r) === id)?.columns.find((c) => c.name === column)?.type ?? 'text'
  }

  private param(values: Value[], value: Value, type: string): string {
    values.push(value)
    if (!this.postgres) return '?'
    return `$${values.length}::${Array.isArray(value) ? `${type}[]` : type}`
  }

  private columns(alias: string, e: Entity): string {
    return e.properties.map((p) => `${alias}.${this.quote(p.column)}`).join(', ')
  }

  private on(a: string, own: readonly string[], b: string, other: readonly string[]): string {
    return own.map((c, i) => `${a}.${this.quote(c)} = ${b}.${this.quote(other[i] as string)}`).join(' and ')
  }

  /** `join table`, or a join over a join table, from alias `a` to alias `b`. */
  private joined(leg: Leg, a: string, b: string, kind: 'join' | 'left join'): string {
    const target = `${kind} ${this.table(leg.other.relation)} ${b}`
    if (!leg.through) return `${target} on ${this.on(a, leg.ownColumns, b, leg.otherColumns)}`
    const j = `${b}j`
    return `${kind} ${this.table(leg.through)} ${j} on ${this.on(j, leg.through.own, a, leg.ownColumns)} ${target} on ${this.on(j, leg.through.other, b, leg.otherColumns)}`
  }

  private condition(c: Resolved['conditions'][number], values: Value[]): string {
    const compared = (alias: string) => {
      const column = `${alias}.${this.quote(c.property.column)}`
      if (c.is === 'empty' || c.is === 'filled') return `${column} is ${c.is === 'empty' ? '' : 'not '}null`
      if (c.is === 'contains') {
        const text = this.postgres ? `${column}::text` : column
        values.push(`%${c.value.replace(/[\\%_]/g, '\\$&')}%`)
        return this.postgres ? `${text} ilike $${values.length}` : `${text} like ? escape '\\'`
      }
      const sign = { equal: '=', other: '<>', less: '<', more: '>' }[c.is]
      return `${column} ${sign} ${this.param(values, c.value, this.typeOf(c.of.relation, c.property.column))}`
    }
    const [first, ...rest] = c.via
    if (!first) return compared('r')
    const joins = rest.map((leg, i) => this.joined(leg, `x${i}`, `x${i + 1}`, 'join')).join(' ')
    const own = first.through
      ? `${this.table(first.through)} x0j join ${this.table(first.other.relation)} x0 on ${this.on('x0j', first.through.other, 'x0', first.otherColumns)}`
      : `${this.table(first.other.relation)} x0`
    const paired = first.through ? this.on('x0j', first.through.own, 'r', first.ownColumns) : this.on('x0', first.otherColumns, 'r', first.ownColumns)
    return `exists (select 1 from ${own}${joins === '' ? '' : ` ${joins}`} where ${paired} and ${compared(`x${rest.length}`)})`
  }

  private where(t: Resolved, values: Value[], upTo = t.conditions.length): string[] {
    return t.conditions.slice(0, upTo).map((c) => this.condition(c, values))
  }

  /** Columns that tell rows apart and that portions go by; none where nothing does. */
  keyOf(e: Entity): readonly string[] {
    return e.identity.kind === 'none' ? [] : e.identity.columns
  }

  /**
   * Rows of the entity, `limit` and one more to tell whether there are others, in the order of its key and after `after`, never by offset.
   * Without a key the first that come.
   */
  portion(t: Resolved, limit: number, after: readonly string[] | null): Statement {
    const values: Value[] = []
    const key = this.keyOf(t.entity)
    const conditions = this.where(t, values)
    if (after && after.length === key.length && key.length > 0) {
      const own = key.map((c) => `r.${this.quote(c)}`)
      const given = key.map((c, i) => this.param(values, after[i] as string, this.typeOf(t.entity.relation, c)))
      conditions.push(key.length === 1 ? `${own[0]} > ${given[0]}` : `(${own.join(', ')}) > (${given.join(', ')})`)
    }
    const order = key.length === 0 ? '' : `\norder by ${key.map((c) => `r.${this.quote(c)}`).join(', ')}`
    const where = conditions.length === 0 ? '' : `\nwhere ${conditions.join('\n  and ')}`
    return { sql: `select ${this.columns('r', t.entity)}\nfrom ${this.table(t.entity.relation)} r${where}${order}\nlimit ${limit + 1}`, values }
  }

  /** How many rows the first `upTo` conditions leave, counted no further than `countedTo` and one more. */
  count(t: Resolved, upTo: number): Statement {
    const values: Value[] = []
    const conditions = this.where(t, values, upTo)
    const where = conditions.length === 0 ? '' : ` where ${conditions.join(' and ')}`
    return { sql: `select count(*) from (select 1 from ${this.table(t.entity.relation)} r${where} limit ${countedTo + 1}) c`, values }
  }

  /** Where what a leg leads to is found: the table whose columns pair it with the own rows, and what is joined to that. */
  private pairing(leg: Leg): {
    readonly alias: string
    readonly columns: readonly string[]
    readonly table: string
    readonly more: string
    readonly of: Place
  } {
    if (!leg.through) return { alias: 't', columns: leg.otherColumns, table: `${this.table(leg.other.relation)} t`, more: '', of: leg.other.relation }
    return {
      alias: 'j',
      columns: leg.through.own,
      table: `${this.table(leg.through)} j`,
      more: `\njoin ${this.table(leg.other.relation)} t on ${this.on('t', leg.otherColumns, 'j', leg.through.other)}`,
      of: leg.through,
    }
  }

  private ordered(e: Entity): string {
    const key = this.keyOf(e)
    return key.length === 0 ? '' : `\norder by ${key.map((c) => `t.${this.quote(c)}`).join(', ')}`
  }

  /**
   * What the leg leads to, for many rows at once. `keys`: the own columns of each row. First in each row found stands which key it belongs to,
   * from 1: two texts of one value, as of char(4) and varchar(4), would tell it wrongly.
   */
  batch(leg: Leg, keys: readonly (readonly string[])[]): Statement {
    const p = this.pairing(leg)
    const values: Value[] = []
    const given = p.columns.map((_, i) => `c${i}`)
    const on = p.columns.map((c, i) => `${p.alias}.${this.quote(c)} = k.c${i}`).join(' and ')
    let list: string
    if (this.postgres) {
      const params = p.columns.map((c, i) =>
        this.param(
          values,
          keys.map((k) => k[i] as string),
          this.typeOf(p.of, c),
        ),
      )
      list = `select k.n, ${this.columns('t', leg.other)}\nfrom unnest(${params.join(', ')}) with ordinality k(${given.join(', ')}, n)`
    } else {
      for (const k of keys) values.push(...k)
      const rows = keys.map((k, i) => `(${[String(i + 1), ...k.map(() => '?')].join(', ')})`).join(', ')
      list = `with k(n, ${given.join(', ')}) as (values ${rows})\nselect k.n, ${this.columns('t', leg.other)}\nfrom k`
    }
    return { sql: `${list}\njoin ${p.table} on ${on}${p.more}${this.ordered(leg.other)}\nlimit ${rowsPerLevel + 1}`, values }
  }

  /** The same for one row, as it would be sent row by row. */
  single(leg: Leg, key: readonly string[]): Statement {
    const p = this.pairing(leg)
    const values: Value[] = []
    const equal = p.columns.map((c, i) => `${p.alias}.${this.quote(c)} = ${this.param(values, key[i] as string, this.typeOf(p.of, c))}`)
    return {
      sql: `select ${this.columns('t', leg.other)}\nfrom ${p.table}${p.more}\nwhere ${equal.join(' and ')}${this.ordered(leg.other)}\nlimit ${rowsPerLevel + 1}`,
      values,
    }
  }

  /** The portion with all that its legs lead to, in one statement. */
  whole(t: Resolved, limit: number, after: readonly string[] | null): Statement {
    const portion = this.portion(t, limit - 1, after)
    const aliases = ['r', ...t.legs.map((_, i) => `t${i + 1}`)]
    const joins = t.legs.map((leg, i) => this.joined(leg, aliases[i] as string, aliases[i + 1] as string, 'left join'))
    const columns = [this.columns('r', t.entity), ...t.legs.map((leg, i) => this.columns(aliases[i + 1] as string, leg.other))]
    return { sql: `select ${columns.join(',\n  ')}\nfrom (\n${portion.sql}\n) r\n${joins.join('\n')}\nlimit ${joinedRows + 1}`, values: portion.values }
  }
}
