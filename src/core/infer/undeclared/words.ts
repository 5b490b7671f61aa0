// Words of the trade and of plain English that candidates are found by. None is taken from any one schema.

export { recordWords } from '../../names/index.ts'

const set = (text: string): ReadonlySet<string> => new Set(text.split(' '))

/** Last or first words that say "key" and not what the key is of. */
export const keyWords = set('id no nr num number code key uid uuid guid fk ref ident identifier oid pk rid ptr sk')

/** Those of them that say nothing else: a column that ends so is a key, or refers to one. */
export const markerWords = set('id uid uuid guid fk ref oid pk rid ptr sk ident identifier')

/** What a table of allowed values is called after what it lists. */
export const kindWords = set('type kind status state category class lookup list value option code name enum definition def master ref info data detail')

/** What stands behind a role where a second column says which table it is: owner_kind beside owner_id. */
export const whichWords = set('kind type class model table entity object category')

export const prepositions = set('from to by for via with on in of')

/** What rows of other systems are named by: nothing here. */
export const outsideWords = set(
  'external ext remote foreign legacy import imported sync session request transaction tx trace correlation message msg token tax vat vendor facebook google twitter github gitlab ldap oauth openid stripe paypal apple android device client tenant process thread job batch instance serial version public private unique object global local internal app application',
)

/** Words of a role that, without naming a table, point back to the table itself. */
export const ownRoles = set(
  'parent child root previous prev next original superior ancestor predecessor successor copied duplicate replaced superseded reports supervisor boss manager mother father dam sire reply replied',
)

/** Words that describe a row and name no other: some table's key may be called so, and all others still mean their own. */
export const plainWords = set(
  'name title label description code reference text note comment remark value number position level order rank status state kind type class category topic subject short long full display short_name symbol abbreviation initial sign letter year month day date time version size color colour unit amount wording heading message content url path file email phone street city town address language flag mode priority bezeichnung beschreibung nummer nombre descripcion codigo tipo estado',
)

/** Words that say what kind a row is of, and alone not whose kinds. */
export const bareKinds = set('type kind status state class category')

/** Words of two roles of one kind: what one refers to, the other does. */
export const rolePairs: readonly (readonly [string, string])[] = [
  ['first', 'second'],
  ['source', 'target'],
  ['source', 'destination'],
  ['src', 'dst'],
  ['src', 'dest'],
  ['from', 'to'],
  ['parent', 'child'],
  ['ancestor', 'descendant'],
  ['mother', 'father'],
  ['dam', 'sire'],
  ['start', 'end'],
  ['begin', 'end'],
  ['first', 'last'],
  ['left', 'right'],
  ['upper', 'lower'],
  ['above', 'below'],
  ['old', 'new'],
  ['previous', 'next'],
  ['prev', 'next'],
  ['in', 'out'],
  ['input', 'output'],
  ['home', 'away'],
  ['debit', 'credit'],
  ['sender', 'receiver'],
  ['sender', 'recipient'],
  ['buyer', 'seller'],
  ['leader', 'follower'],
  ['master', 'slave'],
  ['primary', 'secondary'],
  ['main', 'sub'],
  ['origin', 'destination'],
  ['predecessor', 'successor'],
  ['subject', 'object'],
  ['before', 'after'],
  ['a', 'b'],
  ['1', '2'],
]

/** Columns that only tables of people have: what they are called by, and what they log in with. */
const personColumns = set(
  'full_name first_name last_name family_name given_name middle_name surname forename fullname firstname lastname nachname vorname apellido apellidos nom_de_famille prenom',
)
const loginWords = set('login password passwd pwd username loginname passwordhash')

/** What columns, named by their words, say about the rows of a table: that they are people, and whether those log in. */
export function peopleBy(columns: Iterable<readonly string[]>): { readonly people: boolean; readonly logIn: boolean } {
  let people = false
  let logIn = false
  for (const words of columns) {
    const name = words.join('_')
    if (personColumns.has(name)) people = true
    if (loginWords.has(words[0] as string) || words[0] === 'pass' || name === 'user_name') logIn = true
  }
  return { people: people || logIn, logIn }
}

/** Words that people do things under. */
const personRoles = set(
  'creator author owner editor modifier updater approver assignee reporter manager reviewer sender recipient receiver by assigned uploader publisher requester submitter driver',
)

/** Tables of those who use the system. */
export const personTables = set('user usr person people employee emp member operator staff')

/** Of money as often as of people: these are people only where they log in. */
export const accountTables = set('account acct')

/** Words that end like those of doers, and are things. */
const things = set(
  'number order header footer folder counter pointer filter parameter buffer server cluster identifier letter color vector container provider paper layer chapter register ledger meter trigger router printer computer scanner timer banner poster cover marker sticker error factor sector sensor monitor motor transfer offer voucher newsletter answer center other river tier power water tree fee degree coffee character master quarter adapter controller renderer handler user mother father median meridian human major minor prior superior inferior interior exterior anchor mirror floor door motor corridor reservoir metaphor tutorial november december october september winter summer weather finger paper super hyper inner outer upper lower under over after before never either further larger smaller higher newer older other another together divider slider spacer connector detector compressor capacitor resistor generator indicator accelerator elevator refrigerator calculator separator terminator selector descriptor iterator constructor destructor locator cursor tensor censor',
)

/** One who does something, by the ending of the word: subscriber, granter, assignee. */
export const isAgent = (word: string | undefined): boolean =>
  word !== undefined && (personRoles.has(word) || (word.length >= 5 && /(er|or|[^t]ee|[iu]an|trar|person|man)$/.test(word) && !isThing(word)))

/** A thing's word also at the end of a compound: a reorder is no person. */
const isThing = (word: string) => things.has(word) || [5, 6, 7, 8, 9].some((n) => word.length > n + 1 && things.has(word.slice(-n)))
