import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { catalogOf, column, reference, table } from '../../../tests/support/catalogs.ts'
import { type Catalog, canonicalText, hashText } from '../catalog/index.ts'
import { withSchemaEdits } from '../change/index.ts'
import type { LedgerEntry } from '../model/index.ts'
import { notationBase, notationText, reviewBase, reviewWith } from '../review/index.ts'
import { asEntries, completionsAt, entriesOf, formatNotation, notationProblemLine, notationSource, parseNotation, readNotation } from './index.ts'

const text = (name: string, more = {}) => column(name, { type: 'text', ...more })
const store: Catalog = {
  ...catalogOf(
    table('bay', ['id', text('label'), column('site', { type: 's.site' })], ['id']),
    table(
      'crate',
      ['id', 'bay_id', 'spare_bay_id?', text('state', { nullable: true }), column('weight', { type: 'numeric(8,2)', nullable: true }), 'parent_id?', 'lid_no'],
      ['id'],
      {
        foreignKeys: [reference('crate_bay_fkey', ['bay_id'], 'bay', ['id']), reference('crate_parent_fkey', ['parent_id'], 'crate', ['id'])],
      },
    ),
    table('keeper', ['id', text('name')], ['id']),
    table('crate_keeper', ['crate_id', 'keeper_id'], ['crate_id', 'keeper_id'], {
      foreignKeys: [reference('ck_crate', ['crate_id'], 'crate', ['id']), reference('ck_keeper', ['keeper_id'], 'keeper', ['id'])],
    }),
  ),
  enums: [{ schema: 's', name: 'site', labels: ['north', 'south'], comment: null }],
}

const reviewed = (catalog: Catalog, entries: readonly LedgerEntry[] = []) => {
  const base = reviewBase(catalog, entries)
  const r = reviewWith(base, hashText(canonicalText(catalog)), entries)
  return { r, base: notationBase(base, r, entries), text: notationText(base, r) }
}
const file = (body: string) => [{ file: 'm.pelvok', text: `notation 1 for postgresql\n${body}` }]
const read = (body: string, entries: readonly LedgerEntry[] = []) => readNotation(file(body), reviewed(store, entries).base)
const told = (body: string) => read(body).problems.map((p) => notationProblemLine(p, new Map(file(body).map((f) => [f.file, f.text]))))
const changes = (body: string) => {
  const { problems, changes: found } = read(body)
  expect(problems).toEqual([])
  return found.map((c) => `${c.of}: ${c.before} -> ${c.after}`)
}

/** What a notation says once its entries are in the ledger and what it plans is done. */
function after(body: string) {
  const entries = asEntries(entriesOf(read(body).changes), 0, 'Ada')
  const edits = entries.flatMap((e) => (e.kind === 'schema-edit' ? e.edits : []))
  const done = withSchemaEdits(store, edits)
  expect(done.outcomes.filter((o) => o.is === 'refused')).toEqual([])
  return { ...reviewed(done.catalog, entries), again: readNotation(file(body), reviewed(done.catalog, entries).base) }
}

describe('a notation of a part', () => {
  it('changes what it states and nothing else', () => {
    expect(changes('entity Box = table s.crate')).toEqual(['s.crate: Crate -> Box'])
    expect(changes('entity Crate = table s.crate\n  weightKg = weight')).toEqual(['Crate weight: weight -> weightKg'])
    expect(changes('')).toEqual([])
  })

  it('may speak of a class by its former name', () => {
    expect(changes('entity Box = table s.crate\nentity Bay = table s.bay\n  crates any number Crate by its (bay_id)')).toEqual(['s.crate: Crate -> Box'])
    expect(told('entity Crate = table s.bay').map((l) => l.replace(/^.*?: /, ''))).toEqual(['the class Crate is said twice'])
  })

  const edits: readonly (readonly [string, string, string])[] = [
    ['a class and a property', 'entity Box = table s.crate\n  weightKg = weight', 'entity Box = table s.crate'],
    ['an own end', 'entity Crate = table s.crate\n  home exactly one Bay by (bay_id)', '  home                        exactly one Bay by (bay_id)'],
    ['an other end', 'entity Bay = table s.bay\n  boxes any number Crate by its (bay_id)', '  boxes            any number Crate by its (bay_id)'],
    ['a new relationship', 'entity Crate = table s.crate\n  lid exactly one Keeper by (lid_no)', 'exactly one Keeper by (lid_no), model'],
    [
      'a relationship that only inference had',
      'entity Crate = table s.crate\n  spareBay at most one Bay by (spare_bay_id), model',
      'at most one Bay by (spare_bay_id), model',
    ],
    ['that columns refer elsewhere', 'entity Crate = table s.crate\n  bay exactly one Keeper by (bay_id)', 'exactly one Keeper by (bay_id), model'],
    ['one at the other end', 'entity Bay = table s.bay\n  crate at most one Crate by its (bay_id)', '  crate            at most one Crate by its (bay_id)'],
    [
      'one always',
      'entity Crate = table s.crate\n  parent exactly one Crate by (parent_id)',
      'exactly one Crate by (parent_id), enforced as crate_parent_fkey',
    ],
    [
      'words, and how values are held',
      "entity Crate = table s.crate\n  state = state, one of ('full', 'empty')\n  weight = weight, held as number",
      "state                       : text, optional, one of ('full', 'empty')",
    ],
    [
      'yes and no, a role, a shape',
      "entity Crate = table s.crate\n  state = state, yes 'j' no 'n'\n  lidNo = lid_no, version",
      'lidNo = lid_no              : integer, version',
    ],
    ['a name and a way to hold it for a type', 'type numeric(8,2), called Weight, held as number', 'type numeric(8,2), called Weight, held as number'],
    ['a join table that is an entity', 'entity CrateKeeper = table s.crate_keeper', 'entity CrateKeeper = table s.crate_keeper'],
    [
      'names of a many-to-many',
      'entity Keeper = table s.keeper\n  boxes any number Crate through s.crate_keeper (keeper_id)',
      '  boxes   any number Crate through s.crate_keeper (keeper_id)',
    ],
    [
      'an entity with a way past it',
      `entity Membership = table s.crate_keeper
  crate  exactly one Crate by (crate_id)
  keeper exactly one Keeper by (keeper_id)
entity Crate = table s.crate
  keepers any number Keeper through s.crate_keeper (crate_id)
entity Keeper = table s.keeper
  crates any number Crate through s.crate_keeper (keeper_id)`,
      'entity Membership = table s.crate_keeper',
    ],
    [
      'a path',
      "query 'crates of a bay' from Bay\n  where label equal 'A'\n  then crates.keepers",
      "query 'crates of a bay' from Bay\n  where label equal 'A'\n  then crates.keepers",
    ],
    ['letter case and layout', "layout\n  files 'kebab-case'", "files 'kebab-case'"],
    // Of the database.
    [
      'a comment, a type, null and a default',
      "entity Crate = table s.crate\n  note 'Stands in a bay.'\n  lidNo = lid_no : bigint, optional, default `0`",
      'lidNo = lid_no              : bigint, optional, default `0`',
    ],
    ['a new column', 'entity Bay = table s.bay\n  height : some decimal(6,2), optional', 'height           : numeric(6,2), optional'],
    [
      'a rule, an index and a foreign key',
      'entity Crate = table s.crate\n  unique crate_lid_key (lid_no)\n  index (state)\n  spareBay at most one Bay by (spare_bay_id), enforced, on delete set null',
      'enforced as crate_spare_bay_id_fkey, on delete set null',
    ],
    [
      'a new table with a relationship',
      'entity Lid = table s.lid\n  key (id)\n  id : bigint, counted\n  crateId = crate_id : integer\n  crate exactly one Crate by (crate_id), enforced\nentity Crate = table s.crate\n  lids any number Lid by its (crate_id)',
      'entity Lid = table s.lid',
    ],
  ]
  it.each(edits)('says %s: it holds once it is in the ledger', (_, body, line) => {
    const { problems, changes: found } = read(body)
    expect(problems).toEqual([])
    expect(found.length).toBeGreaterThan(0)
    const made = after(body)
    expect(made.text.replace(/(?<=\S) +/g, ' ')).toContain(line.replace(/(?<=\S) +/g, ' '))
    expect(made.again.problems).toEqual([])
    expect(made.again.changes).toEqual([])
  })

  it('says that columns refer to nothing', () => {
    const made = after('entity Crate = table s.crate\n  (bay_id) leads nowhere')
    expect(made.text).not.toContain('by (bay_id)')
    expect(made.again.changes).toEqual([])
  })
})

describe('what is wrong', () => {
  it('is told at once, each at its place, with the nearest name', () => {
    expect(
      told(`entity Crate = table s.crate
  parnet at most one Crat by (parent_id)
  wieght = wieght, held as nubmer
  label : txt
  key (idd)
  spareBay at most one Bay by (spare_bay)
  bay exactly one Bay by (bay_id), on delete cascde
entity Crate = table s.bay
  crates exactly one Crate by its (bay_id)
enumration s.site ('a')
  nothing here`),
    ).toEqual([
      'm.pelvok:3:22: there is no class Crat; did you mean Crate?',
      'm.pelvok:4:28: a way to hold it was expected, not "nubmer"; did you mean number?',
      'm.pelvok:5:11: PostgreSQL has no type txt; did you mean text or bit?',
      'm.pelvok:6:7: s.crate has no column idd; did you mean id?',
      'm.pelvok:7:31: s.crate has no column spare_bay; did you mean spare_bay_id?',
      'm.pelvok:8:46: no action, restrict, cascade, set null or set default was expected, not "cascde"; did you mean cascade?',
      'm.pelvok:9:8: the class Crate is said twice',
      'm.pelvok:10:10: crates is by columns of Crate, but no rule makes a row stand there: say "at most one"',
      'm.pelvok:10:35: s.bay has no column bay_id',
      'm.pelvok:11:1: a block was expected, not "enumration"; did you mean enumeration?',
    ])
  })

  it.each([
    ['datetime', 'datetime is a type of MySQL, not of PostgreSQL; did you mean timestamp without time zone?'],
    ['varchar2(40)', 'varchar2(40) is a type of Oracle, not of PostgreSQL; did you mean character varying(40)?'],
    ['int unsigned', 'int unsigned is a type of MySQL, not of PostgreSQL; did you mean integer?'],
    ['uniqueidentifier', 'uniqueidentifier is a type of SQL Server, not of PostgreSQL; did you mean uuid?'],
    ['bigserial', 'the type bigserial cannot be used: it is a column of type bigint with a default; say bigint, counted'],
    ['s.sites', 'PostgreSQL has no type s.sites; did you mean s.site?'],
    ['some decimals(3)', 'there is no kind of value decimals(3); did you mean decimal?'],
  ])('a type: %s', (type, problem) =>
    expect(told(`entity Bay = table s.bay\n  more : ${type}`)).toEqual([`m.pelvok:3:${type.startsWith('some') ? 15 : 10}: ${problem}`]),
  )

  it.each([
    [
      'a fact of the database',
      'entity Crate = table s.crate\n  key (lid_no)',
      'the rows of s.crate are told apart by id, not by lid_no; another key is given in the database',
    ],
    [
      'words of an enumerated type',
      "enumeration s.site ('north')",
      's.site is north, south in the database; its words are changed there, or made of a column under Plan',
    ],
    [
      'what is enforced, as a guess',
      'entity Crate = table s.crate\n  bay exactly one Bay by (bay_id), guessed',
      'the database has Crate.bay enforced; say "enforced"',
    ],
    [
      'one where there always is one',
      'entity Crate = table s.crate\n  bay at most one Bay by (bay_id)',
      'Crate.bay leads to at most one, but bay_id accepts no null: there always is one, unless its property is optional',
    ],
    [
      'an end of nothing',
      'entity Bay = table s.bay\n  keepers any number Keeper by its (name)',
      'Bay.keepers is by name of Keeper, but nothing says that they refer to Bay',
    ],
    ['a name that cannot be', 'entity crate = table s.crate', 'the name crate: a class name begins with a capital letter and is not one of TypeScript’s own'],
    ['a path', "query 'x' from Bay\n  then crats", 'Bay has no relationship crats; did you mean crates?'],
    ['a quote', "entity Crate = table s.crate\n  note 'open", "the quote ' that begins here is not closed on its line"],
    ['a view', 'entity V = view s.v\n  id : integer', 'there is no view s.v; a new one of that kind is made in the database'],
    [
      'a table without a key',
      'entity Lid = table s.lid\n  id : integer',
      's.lid is not in the database, and a new table needs a key; say "key" and its columns, or mend its name',
    ],
  ])('%s is refused', (_, body, problem) => expect(told(body).map((l) => l.replace(/^m\.pelvok:\d+:\d+: /, ''))).toEqual([problem]))

  it('of a source: the other end of a relationship is missing', () => {
    const source = notationSource(
      file(
        'entity Bay = table s.bay\n  key (id)\n  id : integer\nentity Crate = table s.crate\n  key (id)\n  id : integer\n  bayId = bay_id : integer\n  bay exactly one Bay by (bay_id)\n',
      ),
    )
    expect(source.ok ? [] : source.problems.map((p) => notationProblemLine(p, new Map()).replace(/^.*?: /, ''))).toEqual([
      'Crate.bay leads to Bay, but Bay does not say the other end: a line such as "name any number Crate by its (bay_id)"',
    ])
  })

  it('for another engine is told first', () => {
    const reading = readNotation([{ file: 'm.pelvok', text: 'notation 1 for mysql\nentity X = table y' }], reviewed(store).base)
    expect(reading.problems.map((p) => p.code)).toEqual(['other-dialect'])
  })

  it('never stops the reader: each damaged text is read to its end, and places lie in it', () => {
    const whole = reviewed(store).text
    let seed = 7
    const below = (n: number) => {
      seed = (Math.imul(seed, 1103515245) + 12345) & 0x7fffffff
      return seed % n
    }
    const bits = ['', "'", '"', '`', '(', ')', ',', ':', '=', '\n', '  ', '#', '| ', 'entity ', 'any number ', '…', '\\', '🐝', 'by its ']
    for (let n = 0; n < 400; n += 1) {
      const [from, length] = [below(whole.length), below(12)]
      const damaged = whole.slice(0, from) + bits[below(bits.length)] + whole.slice(from + length)
      const reading = readNotation([{ file: 'm.pelvok', text: damaged }], reviewed(store).base)
      for (const p of reading.problems) {
        expect(p.at.from).toBeGreaterThanOrEqual(0)
        expect(p.at.to).toBeLessThanOrEqual(damaged.length)
        expect(p.at.from).toBeLessThanOrEqual(p.at.to)
      }
      const source = notationSource([{ file: 'm.pelvok', text: damaged }])
      expect(source.ok || source.problems.length > 0).toBe(true)
    }
  })
})

describe('the format as it is documented', () => {
  it('has an example that is read and laid out as it stands', () => {
    const doc = readFileSync('docs/formats/notation.md', 'utf8')
    const example = /```\n(notation 1 [\s\S]*?)```/.exec(doc)?.[1] ?? ''
    expect(parseNotation([{ file: 'm', text: example }]).problems).toEqual([])
    expect(formatNotation({ file: 'm', text: example })).toMatchObject({ ok: true })
  })
})

describe('several files', () => {
  it('are one model', () => {
    const all = reviewed(store).text
    const parts = all.split('\n\n').slice(1)
    const files = parts.map((part, i) => ({ file: `${i}.pelvok`, text: `notation 1 for postgresql\n\n${part}\n` }))
    expect(files.length).toBeGreaterThan(3)
    const source = notationSource(files)
    expect(source.ok).toBe(true)
    expect(readNotation(files, reviewed(store).base)).toMatchObject({ problems: [], changes: [] })
  })
})

describe('the layout of a text', () => {
  it('lines it up and leaves comments where they are', () => {
    const messy = `# ours
notation   1 for postgresql

#  about crates
entity   Crate=table s.crate   # the box
  # its own number
  id:integer
  bayId=bay_id :integer,   optional
  bay   at   most one Bay by(bay_id)  ,model
     state = state , one of( 'a',
        'b' )
query 'x'  from   Crate
      where bay . label   equal 'it''s'
   then bay
enumeration s.site('a')
enumeration s.other ( 'b' )


`
    expect(formatNotation({ file: 'm', text: messy })).toEqual({
      ok: true,
      text: `# ours
notation 1 for postgresql

#  about crates
entity Crate = table s.crate  # the box
  # its own number
  id             : integer
  bayId = bay_id : integer, optional
  bay              at most one Bay by (bay_id), model
  state = state, one of ('a', 'b')

query 'x' from Crate
  where bay.label equal 'it''s'
  then bay

enumeration s.site ('a')
enumeration s.other ('b')
`,
    })
  })

  it('leaves a text with errors alone', () => {
    expect(formatNotation({ file: 'm', text: 'notation 1 for postgresql\nentity = table x\n' })).toMatchObject({ ok: false, problems: [{ code: 'expected' }] })
  })
})

describe('what could stand at a place', () => {
  const at = (body: string) => {
    const marked = file(body)[0]?.text ?? ''
    const offset = marked.indexOf('^')
    return completionsAt(marked.replace('^', ''), offset, reviewed(store).base).options.map((o) => o.label)
  }
  it.each([
    ['^', 'entity'],
    ['entity Crate = ^', 'table'],
    ['entity Crate = table ^', 's.crate'],
    ['entity Crate = table s.crate\n  ^', 'lidNo = lid_no'],
    ['entity Crate = table s.crate\n  lidNo = ^', 'lid_no'],
    ['entity Crate = table s.crate\n  lidNo = lid_no : ^', 'bigint'],
    ['entity Crate = table s.crate\n  lidNo = lid_no : some de^', 'decimal'],
    ['entity Crate = table s.crate\n  lidNo = lid_no : bigint, ^', 'optional'],
    ['entity Crate = table s.crate\n  home ^', 'exactly one'],
    ['entity Crate = table s.crate\n  home exactly one ^', 'Bay'],
    ['entity Crate = table s.crate\n  home exactly one Bay ^', 'by'],
    ['entity Crate = table s.crate\n  home exactly one Bay by (^', 'spare_bay_id'],
    ['entity Crate = table s.crate\n  home exactly one Bay by (bay_id), ^', 'on delete'],
    ['entity Crate = table s.crate\n  home exactly one Bay by (bay_id), on delete ^', 'set null'],
    ['entity Bay = table s.bay\n  boxes any number Crate by its (^', 'bay_id'],
    ['entity Crate = table s.crate\n  keepers any number Keeper through s.crate_keeper (^', 'keeper_id'],
    ["query 'x' from ^", 'Crate'],
    ["query 'x' from Bay\n  where ^", 'label'],
    ["query 'x' from Bay\n  where label ^", 'contains'],
    ["query 'x' from Bay\n  then crates.^", 'keepers'],
    ['type numeric(8,2), held as ^', 'number'],
  ])('%s: %s', (body, label) => expect(at(body)).toContain(label))
})
