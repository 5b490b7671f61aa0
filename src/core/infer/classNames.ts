// What each table's class is called, and what is done where several would be called alike.
import { type Relation, relationText } from '../catalog/index.ts'
import { keptWith } from '../memo/memo.ts'
import { assignNames, type NameRequest, reservedClass, splitWords } from '../names/index.ts'
import { isView } from '../views/index.ts'
import type { Context } from './context.ts'
import { recordWords } from './undeclared/words.ts'

/** Tables whose classes would be called alike. */
export interface Clash {
  /** In order of address. */
  readonly relations: readonly Relation[]
  readonly plain: string
  /** With the word that tells each from the others, by relation text. */
  readonly apart: ReadonlyMap<string, string>
}

export interface ClassNames {
  /** By relation text. */
  readonly names: ReadonlyMap<string, string>
  readonly clashes: readonly Clash[]
}

const wordsOf = (x: Context, r: Relation) => x.words.get(relationText(r)) ?? splitWords(r.name)

/** Schemas that are there before anybody names one: their name tells nothing. */
const nameless = new Set(['', 'public', 'main', 'dbo'])

/**
 * The plain name goes to what people mean by it: to the one table that others refer to, else to the only one that is no view and keeps no record of others. Where
 * two have the same claim each says what tells it from the other: its schema, or its name as it is written.
 */
export const classNames: (x: Context) => ClassNames = keptWith((x) => {
  const { className } = x.naming
  const claim = claims(x)
  const ordered = x.relations.toSorted((a, b) => claim(a) - claim(b))
  const byPlain = new Map<string, Relation[]>()
  for (const r of x.relations) {
    const key = className(wordsOf(x, r)).toLowerCase()
    byPlain.set(key, [...(byPlain.get(key) ?? []), r])
  }
  const clashes: Clash[] = []
  const shy = new Set<Relation>()
  for (const list of byPlain.values()) {
    if (list.length === 1) continue
    clashes.push({
      relations: list,
      plain: className(wordsOf(x, list[0] as Relation)),
      apart: new Map(list.map((r) => [relationText(r), apartName(x, r, list)])),
    })
    const best = Math.min(...list.map(claim))
    const equals = list.filter((r) => claim(r) === best)
    for (const r of equals.length > 1 ? equals : []) if (!nameless.has(r.schema) || equals.some((o) => o !== r && o.schema === r.schema)) shy.add(r)
  }
  const inClash = new Map(clashes.flatMap((c) => c.relations.map((r) => [r, c] as const)))
  const requests = ordered.map((r): NameRequest => {
    const words = wordsOf(x, r)
    const full = inClash.get(r)?.apart.get(relationText(r)) ?? className(withSchema(r, words))
    return { scope: '', candidates: [...(shy.has(r) ? [] : [className(words)]), full, className(withSchema(r, words)), className([...words, 'record'])] }
  })
  const names = assignNames(requests, reservedClass)
  return { names: new Map(ordered.map((r, i) => [relationText(r), names[i] as string])), clashes }
})

/** The schema stands in front once: bank.bank_account is no BankBankAccount. */
function withSchema(r: Relation, words: readonly string[]): readonly string[] {
  const schema = splitWords(r.schema)
  return schema.every((w, i) => words[i] === w) ? words : [...schema, ...words]
}

/** A view says that it is one; tables of several schemas say which; of one schema each is called as it is written. */
function apartName(x: Context, r: Relation, others: readonly Relation[]): string {
  const { className } = x.naming
  const words = wordsOf(x, r)
  const sameSchema = others.filter((o) => o.schema === r.schema)
  if (isView(r) && !others.some((o) => o !== r && isView(o))) return className([...words, 'view'])
  return className(sameSchema.length > 1 ? splitWords(r.name) : withSchema(r, words))
}

/** From 0 for what others refer to, to 3 for what keeps a record of others. */
function claims(x: Context): (r: Relation) => number {
  const referred = new Set(x.references.flatMap((r) => (r.child === r.parent || isView(r.child) ? [] : [r.parent])))
  const claim = (r: Relation) => {
    if (splitWords(r.name).some((w) => recordWords.has(w)) || x.ground.mirrors.has(r)) return 3
    if (isView(r)) return 2
    return referred.has(r) ? 0 : 1
  }
  const known = new Map(x.relations.map((r) => [r, claim(r)]))
  return (r) => known.get(r) as number
}
