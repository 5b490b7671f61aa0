// Singular and plural of English words; only the last word of a compound is inflected.
import pluralize from 'pluralize'
import { remembered } from '../memo/memo.ts'

/** Words that schemas use where the general rules give another word. Singular → plural; the same word where it has one form. */
const exceptions: Readonly<Record<string, string>> = {
  data: 'data',
  media: 'media',
  metadata: 'metadata',
  meta: 'meta',
  lens: 'lenses',
  gas: 'gases',
  bus: 'buses',
  canvas: 'canvases',
  atlas: 'atlases',
  bias: 'biases',
  alias: 'aliases',
  status: 'statuses',
  virus: 'viruses',
  campus: 'campuses',
  bonus: 'bonuses',
  corpus: 'corpora',
  census: 'censuses',
  radius: 'radii',
  axis: 'axes',
  analysis: 'analyses',
  basis: 'bases',
  chassis: 'chassis',
  news: 'news',
  series: 'series',
  species: 'species',
  equipment: 'equipment',
  information: 'information',
  honey: 'honey',
  leaf: 'leaves',
  half: 'halves',
  shelf: 'shelves',
  cookie: 'cookies',
  movie: 'movies',
  cache: 'caches',
  levy: 'levies',
  quota: 'quotas',
  schema: 'schemas',
  criterion: 'criteria',
  person: 'people',
  child: 'children',
  info: 'infos',
  config: 'configs',
  access: 'accesses',
  address: 'addresses',
  process: 'processes',
  class: 'classes',
  progress: 'progress',
  sms: 'sms',
  dns: 'dns',
  cpu: 'cpus',
  gpu: 'gpus',
  sku: 'skus',
  menu: 'menus',
  agenda: 'agendas',
  memorandum: 'memoranda',
  oasis: 'oases',
  neurosis: 'neuroses',
  helix: 'helices',
  stomach: 'stomachs',
  veto: 'vetoes',
  calorie: 'calories',
  focus: 'focuses',
  means: 'means',
  goods: 'goods',
  clothes: 'clothes',
  thanks: 'thanks',
  crossroads: 'crossroads',
  barracks: 'barracks',
  trousers: 'trousers',
  pants: 'pants',
  // What is not counted by the piece, and what is many by its form.
  ...Object.fromEntries(
    'feedback luggage baggage furniture weather evidence knowledge livestock poultry merchandise freight homework underwear footwear electricity petrol rubbish spam maintenance jewelry jewellery stationery offspring savings earnings proceeds belongings surroundings'
      .split(' ')
      .map((w) => [w, w]),
  ),
  // Names of fields of work; statistics and topics are more than one.
  ...Object.fromEntries(
    'mathematics physics logistics economics politics ethics genetics robotics ergonomics optics acoustics aesthetics linguistics gymnastics athletics informatics electronics'
      .split(' ')
      .map((w) => [w, w]),
  ),
}
/** Second plurals of words that have another one above or by the rules. */
const otherPlurals: Readonly<Record<string, string>> = {
  persons: 'person',
  indexes: 'index',
  matrixes: 'matrix',
  vertexes: 'vertex',
  appendixes: 'appendix',
  foci: 'focus',
  apices: 'apex',
  formulae: 'formula',
  radiuses: 'radius',
  viri: 'virus',
}
const singulars: Readonly<Record<string, string>> = { ...otherPlurals, ...Object.fromEntries(Object.entries(exceptions).map(([one, many]) => [many, one])) }
const own = (table: Readonly<Record<string, string>>, word: string) => (Object.hasOwn(table, word) ? table[word] : undefined)

/** The singular of a lower-case word; a word that is no plural comes back as it is, and so does one in another script. */
export const singularWord: (word: string) => string = remembered((word) => {
  if (own(exceptions, word) !== undefined) return word
  const known = own(singulars, word)
  if (known !== undefined) return known
  if (!/^[a-z]+$/.test(word) || word.length < 3 || /(ss|us|is)$/.test(word)) return word
  const one = pluralize.singular(word)
  return pluralize.plural(one) === word ? one : word
})

export const pluralWord: (word: string) => string = remembered((word) => {
  const known = own(exceptions, word)
  if (known !== undefined) return known
  if (own(singulars, word) !== undefined) return word
  return /^[a-z]+$/.test(word) ? pluralize.plural(word) : `${word}s`
})

/** Digits behind a word stay where they are: labels2 → label2. */
const inflectStem = (word: string, inflect: (w: string) => string) => word.replace(/^(\p{L}+)(?=\d*$)/u, inflect)

const inflectLast = (words: readonly string[], inflect: (w: string) => string) => words.map((w, i) => (i === words.length - 1 ? inflectStem(w, inflect) : w))

/** `one` and `many` inflect a word; a project may know words that we do not. */
export const singular = (words: readonly string[], one = singularWord): readonly string[] => inflectLast(words, one)
export const plural = (words: readonly string[], many = pluralWord): readonly string[] => inflectLast(words, many)

/** Begin with a vowel to the ear: a silent h, and letters that are read one by one. */
const soundsOpen = /^(hour|honest|honou?r|heir)|^(xml|xray|html|https?|sms|sku|sql|ssh|ssl|rfid|nfc|mfa|lms|fk)\b/i
/** Begin with a consonant to the ear: "user", "unit", "European", "one". */
const soundsShut = /^(on(e|ce)(?![a-z])|eu|ewe|u(ni(?!n|m|d)|s[eib]|t[ei]|r[il]|u|bi))/i

/** `a` or `an` before a noun, by how it sounds. */
export function article(noun: string): 'a' | 'an' {
  return soundsOpen.test(noun) || (/^[aeiou]/i.test(noun) && !soundsShut.test(noun)) ? 'an' : 'a'
}
