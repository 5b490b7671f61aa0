// Words of the trade and of plain English that candidates are found by. None is taken from any one schema.

const set = (text: string): ReadonlySet<string> => new Set(text.split(' '))

/** Last or first words that say "key" and not what the key is of. */
export const keyWords = set('id no nr num number code key uid uuid guid fk ref ident identifier oid pk rid ptr sk')

/** Those of them that say nothing else: a column that ends so is a key, or refers to one. */
export const markerWords = set('id uid uuid guid fk ref oid pk rid ptr sk ident identifier')

/** What a table of allowed values is called after what it lists. */
export const kindWords = set('type kind status state category class lookup list value option code name enum definition def master ref info data detail')

/** Tables that keep what was: often copies, and seldom under the rules of what they copy. */
export const recordWords = set('log history histo hist audit stat statistic cache archive archived backup bak old tmp temp temporary journal trace staging')

/** What stands behind a role where a second column says which table it is: owner_kind beside owner_id. */
export const whichWords = set('kind type class model table entity object category')

export const prepositions = set('from to by for via with on in of')

/** Words of a role that, without naming a table, point back to the table itself. */
export const ownRoles = set(
  'parent child root previous prev next original superior ancestor predecessor successor copied duplicate replaced superseded reports supervisor boss manager mother father dam sire reply replied',
)

/** Words that people do things under. */
const personRoles = set(
  'creator author owner editor modifier updater approver assignee reporter manager reviewer sender recipient receiver by assigned uploader publisher requester submitter driver',
)

/** Tables of those who use the system. */
export const personTables = set('user usr account acct person people employee emp member operator staff')

/** Words that end like those of doers, and are things. */
const things = set(
  'number order header footer folder counter pointer filter parameter buffer server cluster identifier letter color vector container provider paper layer chapter register ledger meter trigger router printer computer scanner timer banner poster cover marker sticker error factor sector sensor monitor motor transfer offer voucher newsletter answer center other river tier power water tree fee degree coffee character master quarter adapter controller renderer handler user mother father',
)

/** One who does something, by the ending of the word: subscriber, granter, assignee. */
export const isAgent = (word: string | undefined): boolean =>
  word !== undefined && (personRoles.has(word) || (word.length >= 5 && /(er|or|[^t]ee)$/.test(word) && !things.has(word)))
