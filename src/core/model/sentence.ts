// A relationship as two plain sentences, one from each end, whose nouns can be edited.
import { keptWith } from '../memo/memo.ts'
import { article, splitWords } from '../names/index.ts'
import type { End, EntityModel, Relationship } from './entityModel.ts'

/** A run of a sentence; the noun of an end is its property's name in words. */
export type Run =
  | { readonly kind: 'text'; readonly text: string }
  | { readonly kind: 'noun'; readonly end: 'from' | 'to'; readonly text: string }
  | { readonly kind: 'entity'; readonly text: string }

export type Sentence = readonly Run[]

const inWords = (name: string) => splitWords(name).join(' ')
const text = (t: string): Run => ({ kind: 'text', text: t })

const amounts: Readonly<Record<End['leadsTo'], string>> = { 'exactly one': 'exactly one', 'at most one': 'at most one', 'any number': 'any number of' }

/** What only a person says is told with it: whoever relies on it must know. */
function sentence(r: Relationship, end: 'from' | 'to', nameOf: ReadonlyMap<string, string>): Sentence {
  const said = plainSentence(r, end, nameOf)
  return r[end].claimed ? [...said.slice(0, -1), text(': somebody says so, and nothing in the database guards it.')] : said
}

function plainSentence(r: Relationship, end: 'from' | 'to', nameOf: ReadonlyMap<string, string>): Sentence {
  const own = r[end]
  const other = r[end === 'from' ? 'to' : 'from']
  const subject = inWords(nameOf.get(own.entity) ?? own.entity)
  const object = inWords(nameOf.get(other.entity) ?? other.entity)
  const noun = inWords(own.property)
  // "created by" is no thing to have.
  if (own.leadsTo !== 'any number' && / by$/.test(noun))
    return [
      text(`${own.leadsTo === 'exactly one' ? 'Each ' : article(subject) === 'an' ? 'An ' : 'A '}`),
      { kind: 'entity', text: subject },
      text(' is '),
      { kind: 'noun', end, text: noun },
      text(` ${amounts[own.leadsTo]} `),
      { kind: 'entity', text: object },
      text('.'),
    ]
  const done = /^(.+) (\S+) by$/.exec(noun)
  if (own.leadsTo === 'any number' && done)
    return [
      text(article(subject) === 'an' ? 'An ' : 'A '),
      { kind: 'entity', text: subject },
      text(' has '),
      { kind: 'noun', end, text: `${done[2]} any number of ${done[1]}` },
      text('.'),
    ]
  const opening = own.leadsTo === 'exactly one' ? 'Each ' : `${article(subject) === 'an' ? 'An' : 'A'} `
  const explained =
    noun.includes(object) || plainlyNames(noun, object)
      ? []
      : [
          text(own.leadsTo === 'any number' ? ' (each ' : `, ${article(object)} `),
          { kind: 'entity', text: object } as const,
          text(own.leadsTo === 'any number' ? ')' : ''),
        ]
  return [text(opening), { kind: 'entity', text: subject }, text(` has ${amounts[own.leadsTo]} `), { kind: 'noun', end, text: noun }, ...explained, text('.')]
}

/** Is the noun just the plural of the entity's name, or the end of it? */
function plainlyNames(noun: string, object: string): boolean {
  const stem = object.slice(0, Math.max(3, object.length - 3))
  return noun.startsWith(stem) || object.endsWith(noun.slice(0, Math.max(3, noun.length - 3)))
}

/** Class names by entity. */
export const entityNames = (model: Pick<EntityModel, 'entities'>): ReadonlyMap<string, string> => namesOf(model.entities)

const namesOf = keptWith((entities: EntityModel['entities']): ReadonlyMap<string, string> => new Map(entities.map((e) => [e.id, e.name])))

/** `[from, to]`: "Each crate has exactly one bay." and "A bay has any number of crates." */
export function sentencesOf(r: Relationship, model: EntityModel): readonly [Sentence, Sentence] {
  const nameOf = entityNames(model)
  return [sentence(r, 'from', nameOf), sentence(r, 'to', nameOf)]
}

export const sentenceText = (s: Sentence): string => s.map((run) => run.text).join('')
