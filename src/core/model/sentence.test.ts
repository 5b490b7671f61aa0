// Every pattern of a relationship's two sentences, with names that take "an", that end in "by", that say their class or do not.
import { describe, expect, it } from 'vitest'
import { article } from '../names/index.ts'
import type { End, Relationship } from './entityModel.ts'
import { sentencesOf, sentenceText } from './sentence.ts'

const entities = ['Hour', 'User', 'Crate', 'DockYard', 'Honey', 'XrayUnit', 'OrderVisit', 'Owner'] as const
const nouns = ['crate', 'dockYard', 'createdBy', 'lastSeenBy', 'hours', 'cratesCreatedBy', 'visits', 'owner', 'yard', 'units'] as const
const leads = ['exactly one', 'at most one', 'any number'] as const

const said = (a: string, b: string, own: string, inverse: string, from: End['leadsTo'], to: End['leadsTo']) => {
  const end = (entity: string, property: string, leadsTo: End['leadsTo']): End => ({
    entity: entity as never,
    property,
    columns: [],
    leadsTo,
    because: '',
    claimed: false,
  })
  const r = { from: end(a, own, from), to: end(b, inverse, to) } as unknown as Relationship
  const model = { entities: entities.map((name) => ({ id: name, name })) } as never
  return sentencesOf(r, model).map(sentenceText)
}
const all = entities.flatMap((a) =>
  entities.flatMap((b) =>
    nouns.flatMap((own) => nouns.flatMap((inverse) => leads.flatMap((from) => leads.flatMap((to) => said(a, b, own, inverse, from, to))))),
  ),
)

describe('sentences of relationships', () => {
  it('begin with a capital letter, end with one full stop, and have single spaces', () => {
    expect(all.filter((s) => !/^[A-Z][^.]*\.$/.test(s) || / {2}| [.,)]|\( /.test(s))).toEqual([])
  })
  it('have the right article before every name', () => {
    const wrong = all.filter((s) => [...s.matchAll(/\b(an?) ([a-z0-9]+)/gi)].some(([, a = '', word = '']) => a.toLowerCase() !== article(word)))
    expect(wrong).toEqual([])
  })
  it('say no word twice in a row, and no noun twice beside itself', () => {
    expect(all.filter((s) => /\b(\w+) \1\b/i.test(s))).toEqual([])
    expect(all.filter((s) => /\b(\w[\w ]*), an? \1\b/i.test(s))).toEqual([])
  })
  it.each([
    [
      'Crate',
      'User',
      'createdBy',
      'cratesCreatedBy',
      'at most one',
      'any number',
      'A crate is created by at most one user. A user has created any number of crates.',
    ],
    ['Crate', 'DockYard', 'dockYard', 'crates', 'at most one', 'any number', 'A crate has at most one dock yard. A dock yard has any number of crates.'],
    ['Hour', 'User', 'owner', 'hours', 'exactly one', 'any number', 'Each hour has exactly one owner, a user. A user has any number of hours.'],
    ['Crate', 'Hour', 'lastSeenBy', 'crate', 'at most one', 'at most one', 'A crate is last seen by at most one hour. An hour has at most one crate.'],
  ] as const)('of %s and %s, %s and %s, %s and %s are what one would say', (a, b, own, inverse, from, to, says) => {
    expect(said(a, b, own, inverse, from, to).join(' ')).toBe(says)
  })
})
