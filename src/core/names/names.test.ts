import { describe, expect, it } from 'vitest'
import { assignNames, reservedMember } from './assign.ts'
import { type EndNaming, inverseEndCandidates, ownEndCandidates, roleWords, singularEnd } from './ends.ts'
import { article, plural, pluralWord, singular, singularWord } from './inflect.ts'
import { nameProblem } from './legal.ts'
import { tablePrefixes, tableWords, wordsWithoutPrefix } from './prefix.ts'
import { namingOf, plainNaming } from './rules.ts'
import { camelCase, pascalCase, splitWords } from './words.ts'

describe('words', () => {
  it.each([
    ['zx_keeper', 'zx keeper'],
    ['keeperAccount', 'keeper account'],
    ['KeeperAccount', 'keeper account'],
    ['HTTPServer', 'http server'],
    ['SCREAMING_CASE', 'screaming case'],
    ['kebab-case name', 'kebab case name'],
    ['lot2', 'lot2'],
    ['address2Line', 'address2 line'],
    ['__x__', 'x'],
    ['Überschrift_höhe', 'überschrift höhe'],
    ['日本', '日本'],
    ['***', ''],
  ])('%s splits into "%s"', (name, words) => expect(splitWords(name).join(' ')).toBe(words))

  it.each([
    ['crate checkup', 'CrateCheckup', 'crateCheckup'],
    ['1st entry', '_1stEntry', '_1stEntry'],
    ['', '_', '_'],
  ])('"%s" is a class %s and a property %s', (words, pascal, camel) => {
    const list = words === '' ? [] : words.split(' ')
    expect([pascalCase(list), camelCase(list)]).toEqual([pascal, camel])
  })
})

describe('inflection', () => {
  it.each([
    ['crate', 'crates'],
    ['bay', 'bays'],
    ['token', 'tokens'],
    ['levy', 'levies'],
    ['thesis', 'theses'],
    ['analysis', 'analyses'],
    ['leaf', 'leaves'],
    ['child', 'children'],
    ['person', 'people'],
    ['status', 'statuses'],
    ['address', 'addresses'],
    ['box', 'boxes'],
    ['lens', 'lenses'],
    ['criterion', 'criteria'],
    ['axis', 'axes'],
    ['cache', 'caches'],
    ['class', 'classes'],
    ['bus', 'buses'],
    ['movie', 'movies'],
    ['schema', 'schemas'],
    ['day', 'days'],
    ['key', 'keys'],
    ['series', 'series'],
    ['species', 'species'],
    ['data', 'data'],
    ['news', 'news'],
    ['equipment', 'equipment'],
  ])('%s, %s', (one, many) => {
    expect(pluralWord(one)).toBe(many)
    expect(singularWord(many)).toBe(one)
    expect(singularWord(one)).toBe(one)
  })

  it('inflects the last word only, and leaves digits behind it', () => {
    expect(plural(['child', 'entry'])).toEqual(['child', 'entries'])
    expect(singular(['labels2'])).toEqual(['label2'])
    expect(plural(['label2'])).toEqual(['labels2'])
  })

  it.each([
    ['arch', 'an'],
    ['crate', 'a'],
    ['user', 'a'],
    ['unit', 'a'],
    ['umbrella', 'an'],
    ['order', 'an'],
    ['hour', 'an'],
    ['heir', 'an'],
    ['house', 'a'],
    ['uninsured item', 'an'],
    ['url', 'a'],
    ['uuid', 'a'],
    ['european article', 'a'],
    ['one off', 'a'],
    ['xml file', 'an'],
    ['sku', 'an'],
    ['skill', 'a'],
  ])('%s takes "%s"', (noun, word) => expect(article(noun)).toBe(word))
})

describe('table prefixes', () => {
  const inSchema = (...names: string[]) => names.map((name) => ({ schema: 's', name }))
  it('an abbreviation before three tables is dropped, a word is kept', () => {
    const list = inSchema('zx_keeper', 'zx_levy', 'zx_office', 'lease_state', 'lease_kind', 'lease_owner', 'crate')
    expect([...(tablePrefixes(list).get('s') ?? [])]).toEqual(['zx'])
    expect(tableWords({ schema: 's', name: 'zx_levy' }, tablePrefixes(list))).toEqual(['levy'])
  })
  it('what every table begins with is dropped', () => {
    expect([...(tablePrefixes(inSchema('forum_post', 'forum_user', 'forum_topic', 'forum_vote')).get('s') ?? [])]).toEqual(['forum'])
  })
  it('two prefixes before the same names tell tables apart and are kept', () => {
    expect(tablePrefixes(inSchema('v4_pool', 'v4_host', 'v4_option', 'v6_pool', 'v6_host', 'v6_option', 'xq_a', 'xq_b', 'xq_c')).get('s')).toEqual(
      new Set(['xq']),
    )
  })
  it('is kept where the rest would be another table, or a table has the prefix as its name', () => {
    expect(tablePrefixes(inSchema('zx_crate', 'zx_jar', 'zx_lot', 'crate')).get('s')?.size).toBe(0)
    expect(tablePrefixes(inSchema('lot', 'lot_a', 'lot_b', 'lot_c')).get('s')?.size).toBe(0)
  })
  it('a word that says what is kept is no prefix', () => {
    expect(tablePrefixes(inSchema('log_crate', 'log_jar', 'log_lot', 'bay', 'lane')).get('s')?.size).toBe(0)
  })
  it('a view leaves out what only says that it is one, whatever tables are called', () => {
    const list = [...inSchema('crate'), { schema: 's', name: 'v_crate', kind: 'view' }, { schema: 's', name: 'v_lot', kind: 'table' }]
    const { words } = wordsWithoutPrefix(list, tablePrefixes(list), (w) => singular(w).join(' '))
    expect(list.map((r) => words.get(r)?.join(' '))).toEqual(['crate', 'crate', 'v lot'])
  })
  it('what begins with a digit without its prefix keeps it', () => {
    const list = inSchema('zx_4pool', 'zx_host', 'zx_option')
    const { words } = wordsWithoutPrefix(list, tablePrefixes(list), (w) => singular(w).join(' '))
    expect(list.map((r) => words.get(r)?.join(' '))).toEqual(['zx 4pool', 'host', 'option'])
  })
  it('stays where the rest is another table of any schema, or says nothing', () => {
    const list = [...inSchema('zx_crate', 'zx_lots', 'zx_7', 'zx_ramp'), { schema: 't', name: 'crates' }, { schema: 't', name: 'lot' }]
    const { words, dropped } = wordsWithoutPrefix(list, tablePrefixes(list), (w) => singular(w).join(' '))
    expect(list.map((r) => words.get(r)?.join(' '))).toEqual(['zx crate', 'zx lots', 'zx 7', 'ramp', 'crates', 'lot'])
    expect([...dropped].map((r) => r.name)).toEqual(['zx_ramp'])
  })
})

describe('ends', () => {
  const naming = (child: string, parent: string, column: string, target: string, more: Partial<EndNaming> = {}): EndNaming => ({
    child: child.split(' '),
    parent: parent.split(' '),
    pairs: [{ column, target }],
    oneToOne: false,
    self: child === parent,
    several: false,
    ...more,
  })
  it.each([
    ['crate', 'bay', 'bay_id', 'id', 'bay', 'crates'],
    ['checkup', 'keeper', 'keeper_no', 'keeper_no', 'keeper', 'checkups'],
    ['fee', 'term', 'term_year', 'year', 'term', 'fees'],
    ['token', 'strain', 'strain', 'code', 'strain', 'tokens'],
    ['job', 'client', 'clientid', 'clientid', 'client', 'jobs'],
    ['crate', 'bay', 'fk_bay', 'id', 'bay', 'crates'],
    ['keeper account', 'keeper', 'keeper_no', 'keeper_no', 'keeper', 'accounts'],
    ['lab sample', 'keeper', 'taken_by', 'keeper_no', 'takenBy', 'labSamplesTakenBy'],
    ['note', 'crate', 'id', 'id', 'crate', 'notes'],
    ['crate', 'bay', 'homeBayId', 'id', 'homeBay', 'crates'],
    // Called as the key itself, or by its end: no role.
    ['crate', 'bay', 'bay_name', 'bay_name', 'bay', 'crates'],
    ['crate', 'bay kind', 'kind', 'bay_kind', 'bayKind', 'crates'],
    ['crate', 'bay', 'label', 'label', 'bay', 'crates'],
    // A letter says nothing, and a number behind the key word belongs to the role.
    ['crate', 'bay', 'b_id', 'id', 'bay', 'crates'],
    ['crate', 'bay', 'bay_id2', 'id', 'bay2', 'crates'],
  ])('%s of %s by %s(%s): %s, %s', (child, parent, column, target, own, inverse) => {
    const n = naming(child, parent, column, target)
    expect([ownEndCandidates(n)[0], inverseEndCandidates(n)[0]]).toEqual([own, inverse])
  })

  it('several references to one entity have their role in the inverse name', () => {
    expect(inverseEndCandidates(naming('checkup', 'keeper', 'second_keeper_no', 'keeper_no', { several: true }))[0]).toBe('checkupsAsSecondKeeper')
  })
  it('self-references have two sensible names', () => {
    expect(inverseEndCandidates(naming('area', 'area', 'parent_id', 'id'))[0]).toBe('children')
    expect(inverseEndCandidates(naming('feed', 'feed', 'parent_feed', 'id'))[0]).toBe('childFeeds')
    expect(inverseEndCandidates(naming('token', 'token', 'mother_id', 'id'))[0]).toBe('tokensAsMother')
  })
  it('one-to-one is singular at both ends', () => {
    expect(inverseEndCandidates(naming('keeper account', 'keeper', 'keeper_no', 'keeper_no', { oneToOne: true }))[0]).toBe('account')
  })
  it('a name for many becomes one for a single one, whatever role stands in it', () => {
    expect(['crates', 'cratesAsSpare', 'cratesCreatedBy', 'children'].map((n) => singularEnd(n))).toEqual(['crate', 'crateAsSpare', 'cratesCreatedBy', 'child'])
  })
  it('composite keys are named after the entity, or the role all columns share', () => {
    const pairs = (front: string) => [
      { column: `${front}batch_id`, target: 'batch_id' },
      { column: `${front}lot_no`, target: 'lot_no' },
    ]
    expect(ownEndCandidates({ ...naming('sample', 'jar lot', '', ''), pairs: pairs('') })[0]).toBe('jarLot')
    expect(ownEndCandidates({ ...naming('sample', 'jar lot', '', ''), pairs: pairs('spare_') })[0]).toBe('spareJarLot')
  })
  it('letters tell several references apart, and nothing is said twice', () => {
    expect(ownEndCandidates(naming('pair', 'bay', 'a_id', 'id', { several: true }))[0]).toBe('bayA')
    expect(ownEndCandidates(naming('crate', 'bay', 'bay_id', 'id'))).toEqual(['bay', 'bayRecord'])
    const pairs = ['bay_row', 'bay_no'].map((column) => ({ column, target: column.slice(4) }))
    expect(ownEndCandidates({ ...naming('crate', 'bay', '', ''), pairs })[0]).toBe('bay')
  })
  it('a column that is only a key word says nothing of its role', () => expect(roleWords('id', 'id', ['crate'])).toEqual([]))
})

describe('what is not counted by the piece', () => {
  it.each(['feedback', 'furniture', 'weather', 'data', 'metadata', 'news', 'savings', 'equipment', 'software'])('%s is the same, one or many', (word) =>
    expect([singularWord(word), pluralWord(word)]).toEqual([word, word]),
  )
})

describe('acronyms', () => {
  const names = (as: 'Url' | 'URL', property: 'camelCase' | 'snake_case' = 'camelCase') => {
    const n = namingOf([
      { rule: 'case', target: 'typescript', of: 'acronym', as },
      { rule: 'case', target: 'typescript', of: 'property', as: property },
    ])
    return [n.className(['parent', 'url']), n.propertyName(['url', 'of', 'id']), n.propertyName(['bay', 'ids'])]
  }
  it('are written as a project says, and plainly where it says nothing', () => {
    expect(names('URL')).toEqual(['ParentURL', 'urlOfID', 'bayIDs'])
    expect(names('Url')).toEqual(['ParentUrl', 'urlOfId', 'bayIds'])
    expect(names('URL', 'snake_case')).toEqual(['ParentURL', 'url_of_id', 'bay_ids'])
    expect(plainNaming.className(['parent', 'url'])).toBe('ParentUrl')
  })
  it('fall into the same words again', () => expect(splitWords('parentURLsOfID')).toEqual(['parent', 'urls', 'of', 'id']))
})

describe('assigning names', () => {
  it('gives the first free candidate, whatever its letter case, then numbers', () => {
    const request = (...candidates: string[]) => ({ scope: 'x', candidates })
    expect(assignNames([request('a', 'b'), request('A', 'b'), request('a'), request('a')], reservedMember)).toEqual(['a', 'b', 'a2', 'a3'])
  })
  it('never gives a reserved name', () => expect(assignNames([{ scope: 'x', candidates: ['constructor'] }], reservedMember)).toEqual(['constructor2']))

  it.each([
    ['Crate', 'class', null],
    ['crate', 'class', 'reserved'],
    ['Date', 'class', 'reserved'],
    ['crates', 'property', null],
    ['constructor', 'property', 'reserved'],
    ['class', 'property', null],
    ['1st', 'property', 'not an identifier'],
    ['a b', 'property', 'not an identifier'],
    ['', 'property', 'empty'],
  ] as const)('%s as a %s: %s', (name, of, problem) => expect(nameProblem(name, of)).toBe(problem))
})
