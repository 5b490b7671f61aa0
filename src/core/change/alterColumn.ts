// A column changed in place: its type, whether it accepts null, how its values come about.
import type { Column, RelationAddress } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { type Alteration, descendantsOf, fieldsApart, inPlace, lock, reaching, same } from './alteration.ts'
import { leavesParents } from './alterObjects.ts'
import type { Ground } from './needs.ts'
import { hangingKey, keyOf, type PartOf } from './parts.ts'
import { nullCheck, typeCheck } from './preChecks.ts'
import { partText, work } from './statements.ts'
import { valueChange } from './valueChange.ts'

export function alterColumn(a: PartOf<'column'>, b: PartOf<'column'>, ga: Ground, gb: Ground): readonly Alteration[] | null {
  const [before, y] = [a.value, b.value]
  // Its table leaves the parent it has it from: then it is its own.
  const owned = before.inherited && !y.inherited && leavesParents(ga.relation(a.on), gb.relation(a.on))
  const x = owned ? { ...before, inherited: false } : before
  const fields = fieldsApart(x, y)
  // What is worked out from others is worked out anew; only the rule can be taken off in place.
  if (fields.includes('generated') && (y.generated !== null || x.generated?.kept !== 'stored')) return null
  if (fields.includes('onUpdate') || fields.includes('inherited')) return null
  if (x.generated && (fields.includes('type') || fields.includes('collation'))) return null
  const at = (value: Column): PartOf<'column'> => ({ ...a, value })
  const steps: Alteration[] = []
  let now = x
  if (fields.includes('generated')) {
    const next = { ...now, generated: null }
    steps.push({
      kind: 'column',
      says: 'is worked out no more; what it holds stays',
      up: work(
        [`${pg.alterTable(a.on)} ALTER COLUMN ${pg.quoteIdent(x.name)} DROP EXPRESSION;`],
        [lock(a.on, 'access exclusive')],
        [{ code: 'no-way-back', object: partText(a), because: 'a column that is there cannot be made a generated one' }],
      ),
      down: [],
      running: 'together',
      preChecks: [],
      sets: [[keyOf(a), at(next)], ...reaching(a, ga, (c) => ({ ...c, value: { ...c.value, generated: null } }))],
    })
    now = next
  }
  if (fields.includes('type') || fields.includes('collation')) {
    const next = { ...now, type: y.type, collation: y.collation, storage: null }
    steps.push(typeStep(at(now), at(next), ga, gb))
    now = next
  }
  if (now.nullable !== y.nullable) {
    steps.push(...nullSteps(at(now), y.nullable, ga))
    now = { ...now, nullable: y.nullable }
  }
  const rest = inPlace(
    at(now),
    b,
    (p, q) => [...(p.storage === q.storage ? [] : pg.columnStorage(a.on, p, q)), ...pg.identityChange(a.on, p, q), ...pg.columnSettings(a.on, p, q)],
    [
      lock(
        a.on,
        same({ ...now, comment: null, statisticsTarget: null, options: [] }, { ...y, comment: null, statisticsTarget: null, options: [] })
          ? 'share update exclusive'
          : 'access exclusive',
      ),
    ],
  )
  if (rest.up.sql.length > 0) steps.push({ ...rest, sets: [[keyOf(b), { ...b, place: a.place }]] })
  return steps
}

function typeStep(a: PartOf<'column'>, b: PartOf<'column'>, ga: Ground, gb: Ground): Alteration {
  const to = (value: Column): Column => ({ ...value, type: b.value.type, collation: b.value.collation, storage: null })
  const values = valueChange(a, b, ga, gb) ?? { up: null, down: null, says: null, keepsRows: false, inZone: null }
  const check = typeCheck(a, b, ga, gb)
  const tables = [a.on, ...descendantsOf(a.on, ga).map((r) => ({ schema: r.schema, name: r.name }))]
  const within = (sql: string): readonly string[] =>
    values.inZone === null ? [sql] : [`SET LOCAL TimeZone = ${pg.quoteLiteral(values.inZone)};`, sql, 'SET LOCAL TimeZone = DEFAULT;']
  return {
    kind: 'column',
    retypes: true,
    says: `type ${a.value.type} becomes ${b.value.type}`,
    up: work(
      within(pg.columnType(a.on, b.value, values.up)),
      tables.map((t) => lock(t, 'access exclusive')),
      [
        ...(values.keepsRows
          ? []
          : [{ code: 'rewrites', object: pg.quoteAddress(a.on), because: `${a.value.type} is stored otherwise than ${b.value.type}` } as const]),
        ...(values.says === null ? [] : [{ code: 'converts', object: partText(a), what: values.says } as const]),
        ...(check?.narrows ? [{ code: 'narrows', object: partText(a), what: check.narrows } as const] : []),
      ],
    ),
    down: within(pg.columnType(a.on, a.value, values.down)),
    running: 'together',
    preChecks: check ? check.checks : [],
    sets: [[keyOf(a), b], ...reaching(a, ga, (c) => ({ ...c, value: to(c.value) }))],
  }
}

/** A name for a check that is there for a while only; it fits into 63 bytes and is free on its table. */
export const passingName = (column: string): string =>
  `pelvok_${[...column]
    .slice(0, 24)
    .join('')
    .replace(/[^\p{L}\p{N}_]/gu, '_')
    .slice(0, 24)}_is_there`

/** Is it of a type of several parts? CHECK (c IS NOT NULL) would ask about each of them (manual, 9.2). */
export const isComposite = (c: PartOf<'column'>, g: Ground): boolean =>
  [...g.parts.values()].some((p) => p.kind === 'composite' && pg.quoteAddress(p.value) === c.value.type)

/**
 * SET NOT NULL reads the whole table under its lock, unless a validated check says there is nothing to read (manual, ALTER TABLE,
 * SET NOT NULL): a check that is not validated, its validation while others go on, and then the rule itself.
 */
function nullSteps(a: PartOf<'column'>, nullable: boolean, g: Ground): readonly Alteration[] {
  const column = pg.quoteIdent(a.value.name)
  const alter = pg.alterTable(a.on)
  const exclusive = [lock(a.on, 'access exclusive'), ...descendantsOf(a.on, g).map((r) => lock(r, 'access exclusive'))]
  const to = (c: PartOf<'column'>): PartOf<'column'> => ({ ...c, value: { ...c.value, nullable } })
  const column_ = { kind: 'column', running: 'together', preChecks: [] } as const
  // A step before this one may have given it another type, which reached its descendants as well.
  const retyped = (c: PartOf<'column'>): PartOf<'column'> =>
    c.value.type === a.value.type ? c : { ...c, value: { ...c.value, type: a.value.type, collation: a.value.collation, storage: null } }
  const sets = [[keyOf(a), to(a)] as const, ...reaching(a, g, (c) => to(retyped(c)))]
  if (nullable)
    return [
      {
        ...column_,
        says: 'accepts null',
        up: work([`${alter} ALTER COLUMN ${column} DROP NOT NULL;`], exclusive),
        down: [`${alter} ALTER COLUMN ${column} SET NOT NULL;`],
        sets,
      },
    ]
  if (isComposite(a, g))
    return [
      {
        ...column_,
        says: 'accepts null no more, after every row was looked at',
        up: work([`${alter} ALTER COLUMN ${column} SET NOT NULL;`], exclusive, [
          {
            code: 'reads-all',
            object: pg.quoteAddress(a.on),
            because: 'of a composite type no check says what NOT NULL does: every row is read under the lock',
          },
        ]),
        down: [`${alter} ALTER COLUMN ${column} DROP NOT NULL;`],
        preChecks: [nullCheck(a, true)],
        sets,
      },
    ]
  const name = passingName(a.value.name)
  const check = (on: RelationAddress, validated: boolean, inherited: boolean): PartOf<'check'> => ({
    kind: 'check',
    on,
    value: {
      name,
      expression: { written: `(${column} IS NOT NULL)`, canonical: `(${column} IS NOT NULL)` },
      validated,
      inheritable: true,
      inherited,
      comment: null,
    },
  })
  const checks = (validated: boolean) =>
    [check(a.on, validated, false), ...descendantsOf(a.on, g).map((r) => check({ schema: r.schema, name: r.name }, validated, true))].map(
      (p) => [hangingKey('check', p.on, name), p] as const,
    )
  const dropCheck = `${alter} DROP CONSTRAINT ${pg.quoteIdent(name)};`
  const addCheck = `${alter} ADD CONSTRAINT ${pg.quoteIdent(name)} CHECK (${column} IS NOT NULL) NOT VALID;`
  return [
    {
      kind: 'check',
      running: 'together',
      says: 'no new nulls: a check that does not look at the rows there are',
      up: work([addCheck], exclusive, [{ code: 'fails-on-rows', object: partText(a), what: 'rows where it is null would stop the next step' }]),
      down: [dropCheck],
      preChecks: [nullCheck(a, false)],
      sets: checks(false),
    },
    {
      kind: 'validate',
      running: 'alone',
      says: 'rows that are there already are checked for null',
      up: work(
        [`${alter} VALIDATE CONSTRAINT ${pg.quoteIdent(name)};`],
        exclusive.map((l) => ({ ...l, mode: 'share update exclusive' as const })),
        [{ code: 'reads-all', object: pg.quoteAddress(a.on), because: 'the check is tested on every row; reading and writing go on' }],
      ),
      down: [],
      preChecks: [],
      sets: checks(true),
    },
    {
      ...column_,
      says: 'accepts null no more',
      up: work([`${alter} ALTER COLUMN ${column} SET NOT NULL;`, dropCheck], exclusive),
      down: [`${alter} ALTER COLUMN ${column} DROP NOT NULL;`, addCheck],
      sets: [...sets, ...checks(true).map(([key]) => [key, null] as const)],
    },
  ]
}
