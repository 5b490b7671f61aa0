// One way to read a column's name: the key it may speak of, what speaks for that, and how much of the name it explains.
import type { FactList } from './facts.ts'
import type { TargetKey } from './targets.ts'
import { bareKinds, keyWords, kindWords, plainWords, whichWords } from './words.ts'

export interface NameMatch {
  readonly target: TargetKey
  readonly facts: FactList
  /** Words in front of what the match is about. */
  readonly role: readonly string[]
}

export interface Offer extends NameMatch {
  /** Which of several ways to read one name is the best; above 0.5 the name says the table or key. */
  readonly rank: number
  /** How many words say what it is a key of: of the table's name, or of the key's. */
  readonly covered: number
  /** The words are the whole name of the table. */
  readonly named?: boolean
  /** The table lists what kinds there are of what the words name. */
  readonly kinds?: boolean
}

/** The strength of a fact that holds or does not. */
export const yes = (condition: boolean) => (condition ? 1 : 0)

/** `kind` alone: whose kinds, it does not say. */
export const isBareKind = (words: readonly string[]) => words.length === 1 && bareKinds.has(words[0] as string)

/** Words that are no role. */
export const isPlain = (w: string) => plainWords.has(w) || kindWords.has(w) || whichWords.has(w) || keyWords.has(w)
