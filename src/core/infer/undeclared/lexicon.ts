// The words of a schema's identifiers as inference compares them: split by the schema's own words, singular, digits apart.
import { type Relation, relationText } from '../../catalog/index.ts'
import { remembered } from '../../memo/memo.ts'
import { speakEnglish, splitEnglish } from '../../names/english.ts'
import { singularWord, splitWords } from '../../names/index.ts'
import { keyWords } from './words.ts'

export interface TableWords {
  /** All words of the table's name. */
  readonly words: readonly string[]
  /** How many words at the front only name an area: other tables begin so too. */
  readonly area: number
  /** How many at the end say nothing: most tables end so, or it is a number that tells versions apart. */
  readonly idle: number
  /** Words of each column without a first word, or first letters, that most columns of the table begin with; only where that differs. */
  readonly bare: ReadonlyMap<string, readonly string[]>
  /** That first word, or those first letters: people call the table by it. Null where there is none. */
  readonly prefix: string | null
  /** Words of each column, by name. */
  readonly columns: ReadonlyMap<string, readonly string[]>
}

export interface Lexicon {
  readonly words: (identifier: string) => readonly string[]
  /** The words as they are written, for names: neither singular nor without their digits. */
  readonly spelled: (identifier: string) => readonly string[]
  /** Tables by the words of their whole names, with and without their area and idle words. */
  readonly called: ReadonlyMap<string, readonly string[]>
  /** By relation text. */
  readonly tables: ReadonlyMap<string, TableWords>
}

/** O(identifiers). Empty for no relations. */
export function lexiconOf(relations: readonly Relation[]): Lexicon {
  // Initials are no plurals: gcs is not more than one gc.
  const stem = remembered((w) => (w.length > 3 && /[aeiouy]/.test(w.slice(0, -1)) ? singularWord(w) : w))
  const pieces = remembered((identifier) => splitWords(identifier).flatMap(apartDigits))
  const vocabulary = vocabularyOf(relations, (identifier) => pieces(identifier).map(stem), stem)
  const unglue = remembered((w) => segment(w, vocabulary, stem))
  const words = remembered((identifier) => pieces(identifier).flatMap(unglue).map(stem))
  // For names a table's own word may fall into others as well; for comparing it must stay what it is.
  // Columns are abbreviated more often than tables.
  const english = speakEnglish(relations.map((r) => r.name)) || speakEnglish(relations.flatMap((r) => r.columns.map((c) => c.name)))
  const isOwn = (piece: string) => vocabulary.apart.has(piece) || vocabulary.tables.has(piece)
  const inEnglish = (w: string): readonly string[] => splitEnglish(w, isOwn)?.flatMap(inEnglish) ?? [w]
  const spell = remembered((w) => {
    const parts = segment(w, vocabulary, stem, true)
    return english ? parts.flatMap(inEnglish) : parts
  })
  const spelled = remembered((identifier) =>
    splitWords(identifier).flatMap((word) => {
      const [letters, digits] = apartDigits(word)
      const parts = spell(letters as string)
      return digits === undefined ? parts : [...parts.slice(0, -1), `${parts.at(-1)}${digits}`]
    }),
  )
  const tables = tableWords(relations, words)
  return { words, spelled, tables, called: tablesByName(tables) }
}

function tablesByName(tables: Lexicon['tables']): Lexicon['called'] {
  const called = new Map<string, string[]>()
  for (const [table, t] of tables)
    for (const name of new Set([t.words.join(' '), t.words.slice(t.area, t.words.length - t.idle).join(' ')])) {
      const list = called.get(name)
      if (list) list.push(table)
      else called.set(name, [table])
    }
  return called
}

/** `label2` → label, 2: numbered columns are roles, and numbers in table names tell siblings apart. */
function apartDigits(word: string): readonly string[] {
  const m = /^(\p{L}+)(\d+)$/u.exec(word)
  return m ? [m[1] as string, m[2] as string] : [word]
}

interface Vocabulary {
  /** Words and whole names of tables: strong enough to split another word by. */
  readonly tables: ReadonlySet<string>
  /** Words that stand apart from others in at least two identifiers. */
  readonly apart: ReadonlySet<string>
}

function vocabularyOf(relations: readonly Relation[], pieces: (s: string) => readonly string[], stem: (w: string) => string): Vocabulary {
  const tables = new Set<string>()
  const counts = new Map<string, number>()
  for (const r of relations) {
    const own = pieces(r.name)
    for (const w of own) if (w.length >= 3) tables.add(w)
    tables.add(stem(own.join('')))
    for (const name of [r.name, ...r.columns.map((c) => c.name)]) {
      const list = name === r.name ? own : pieces(name)
      if (list.length > 1) for (const w of list) counts.set(w, (counts.get(w) ?? 0) + 1)
    }
  }
  return { tables, apart: new Set([...counts].filter(([w, n]) => n >= 2 && w.length >= 3).map(([w]) => w)) }
}

/** `crateid` → crate, id; `baygroupid` → bay, group, id; a word that does not fall into known words whole stays as it is. */
function segment(word: string, v: Vocabulary, stem: (w: string) => string, tablesToo = false): readonly string[] {
  if (word.length < 4 || (!tablesToo && (v.tables.has(word) || v.tables.has(stem(word)))) || !/^\p{L}+$/u.test(word)) return [word]
  // best[i]: fewest pieces that make up the first i letters.
  const best: (readonly string[] | null)[] = [[]]
  for (let end = 1; end <= word.length; end += 1) {
    let found: readonly string[] | null = null
    for (let start = 0; start < end; start += 1) {
      const before = best[start]
      if (!before || (start === 0 && end === word.length)) continue
      const piece = word.slice(start, end)
      const strong = v.tables.has(piece) || v.tables.has(stem(piece))
      const key = end === word.length && start > 0 && keyWords.has(piece)
      if (!(strong && piece.length >= 3) && !key && !(piece.length >= 4 && v.apart.has(piece))) continue
      if (found === null || before.length + 1 < found.length) found = [...before, piece]
    }
    best.push(found)
  }
  const whole = best[word.length]
  // A word that only happens to be two others, none of them a table's, stays whole.
  return whole && whole.length > 1 && whole.some((p) => v.tables.has(p) || v.tables.has(stem(p))) ? whole : [word]
}

function tableWords(relations: readonly Relation[], words: (s: string) => readonly string[]): ReadonlyMap<string, TableWords> {
  const fronts = new Map<string, number>()
  for (const r of relations) {
    const w = words(r.name)
    for (let n = 1; n < w.length; n += 1) {
      const front = w.slice(0, n).join(' ')
      fronts.set(front, (fronts.get(front) ?? 0) + 1)
    }
  }
  const lasts = new Map<string, number>()
  for (const r of relations) {
    const last = words(r.name).at(-1) ?? ''
    lasts.set(last, (lasts.get(last) ?? 0) + 1)
  }
  const names = new Set(relations.map((r) => words(r.name).join(' ')))
  return new Map(
    relations.map((r) => {
      const w = words(r.name)
      const last = w.at(-1) ?? ''
      const numbered = /^\d+$/.test(last) && !names.has(w.slice(0, -1).join(' '))
      const idle = w.length > 1 && (numbered || (relations.length >= 4 && (lasts.get(last) ?? 0) >= relations.length * 0.6)) ? 1 : 0
      let area = 0
      for (let n = 1; n < w.length - idle; n += 1) {
        const front = w.slice(0, n).join(' ')
        if ((fronts.get(front) ?? 0) >= 3 && (!names.has(front) || area === n - 1)) area = n
      }
      // Where the rest is a table too, the front tells the two apart.
      if (area > 0 && names.has(w.slice(area).join(' '))) area = 0
      const columns = new Map(r.columns.map((c) => [c.name, words(c.name)]))
      return [relationText(r), { words: w, area, idle, columns, ...columnPrefix(columns, words) }]
    }),
  )
}

function columnPrefix(columns: ReadonlyMap<string, readonly string[]>, words: (s: string) => readonly string[]): Pick<TableWords, 'bare' | 'prefix'> {
  const first = commonFirst([...columns.values()].flatMap((w) => (w.length > 1 ? [w[0] as string] : [])))
  if (first !== null && first.n >= columns.size * 0.6)
    return {
      prefix: first.word,
      bare: new Map([...columns].flatMap(([name, w]) => (w.length > 1 && w[0] === first.word ? [[name, w.slice(1)] as const] : []))),
    }
  const letters = commonLetters([...columns.keys()].map((n) => n.toLowerCase()))
  if (letters === null) return { prefix: null, bare: new Map() }
  return {
    prefix: letters,
    bare: new Map([...columns.keys()].flatMap((n) => (n.toLowerCase().startsWith(letters) ? [[n, words(n.slice(letters.length))] as const] : []))),
  }
}

/** The two to four letters that nine in ten of four or more names begin with and go on after, though nothing sets them apart: jobid, jobname, jobdesc. */
function commonLetters(names: readonly string[]): string | null {
  const needed = Math.max(4, Math.ceil(names.length * 0.9))
  if (names.length < needed) return null
  // One of as many as may begin otherwise, and one more, must begin so.
  const some = names.slice(0, names.length - needed + 1)
  for (const length of [4, 3, 2]) {
    for (const letters of new Set(some.filter((n) => n.length > length).map((n) => n.slice(0, length)))) {
      if (/^\p{L}+$/u.test(letters) && names.filter((n) => n.length > length && n.startsWith(letters)).length >= needed) return letters
    }
  }
  return null
}

/** What occurs most, at least three times; the first of equals. */
function commonFirst(list: readonly string[]): { readonly word: string; readonly n: number } | null {
  const counts = new Map<string, number>()
  for (const w of list) counts.set(w, (counts.get(w) ?? 0) + 1)
  let best: { word: string; n: number } | null = null
  for (const [word, n] of counts) if (n >= 3 && (best === null || n > best.n)) best = { word, n }
  return best
}
