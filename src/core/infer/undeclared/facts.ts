// Every fact that speaks for or against an undeclared reference: what it is worth by judgement, and how it is said.
// What calibration made of these judgements stands in `weights.ts`; the page docs/guide/relationships.md explains them.

/** What a sentence about a fact may name. */
export interface FactView {
  readonly table: string
  readonly columns: string
  readonly target: string
  readonly targetColumns: string
  readonly role: string
  readonly types: string
  /** Numbers from the rows, as the end of a sentence; "" where none were read. */
  readonly counted: string
}

interface Fact {
  /** Worth in log-odds at full strength. */
  readonly prior: number
  /** The corpus has too few of its kind to say otherwise: calibration leaves it as it is judged. */
  readonly firm?: true
  readonly says: (v: FactView) => string
}

const definition = {
  // The name of the column and the name of the key.
  'key name': { prior: 1.2, says: (v) => `${v.columns} is called like the key ${v.target}(${v.targetColumns})` },
  'only owner': { prior: 2.2, says: (v) => `no other key is called ${v.targetColumns} with the same right` },
  'copy of the key': { prior: -2, says: (v) => `another table has a better right to the name ${v.targetColumns} than ${v.target}` },
  'key without marker': { prior: -1.2, says: (v) => `${v.targetColumns} is a word that need not be a key` },
  'key names its table': { prior: 2, says: (v) => `${v.targetColumns} says that it is of ${v.target}` },
  'generic key name': { prior: -2, says: (v) => `${v.targetColumns} could be the key of anything` },
  'exactly the name of a key': { prior: 1, firm: true, says: (v) => `${v.columns} is exactly what ${v.target} calls its key, and no other key is called so` },
  'another key is called exactly so': { prior: -2.5, firm: true, says: (v) => `${v.columns} is the name of a key, and of another one than ${v.targetColumns}` },
  'plain word': { prior: -2.5, firm: true, says: (v) => `${v.targetColumns} is a word that describes rows anywhere` },
  // The name of the column and the name of the table.
  'table name': { prior: 3, says: (v) => `${v.columns} names ${v.target}` },
  'noun of its key': { prior: 1.5, says: (v) => `${v.columns} names what ${v.targetColumns} is the key of` },
  'part of the table name': { prior: 1.2, says: (v) => `${v.columns} names part of ${v.target}` },
  'cut at the end': { prior: -0.7, says: (v) => `the name of ${v.target} goes on where ${v.columns} ends` },
  'list of kinds': { prior: -0.3, says: (v) => `${v.target} lists the values of what ${v.columns} names` },
  'kinds of a thing': { prior: -2.5, firm: true, says: (v) => `${v.target} lists kinds of a thing that another table holds` },
  'another table is called so': { prior: -2, firm: true, says: (v) => `${v.columns} is the whole name of another table than ${v.target}` },
  'whole name of several words': { prior: 1, firm: true, says: (v) => `${v.columns} is the whole name of ${v.target}, in several words` },
  'table and key': { prior: 0.8, says: (v) => `${v.columns} is the name of ${v.target} and of its key, and nothing else` },
  'long key tail': { prior: 2.3, firm: true, says: (v) => `${v.columns} ends in all words of ${v.targetColumns}` },
  'only such table': { prior: 0.8, firm: true, says: (v) => `no other table than ${v.target} is called so at the end` },
  'own words explain': { prior: 0.3, says: (v) => `the words of ${v.target} that ${v.columns} lacks are in the name of ${v.table}` },
  'shorter than another': { prior: -0.8, says: (v) => `another table has more of its name in ${v.columns} than ${v.target}` },
  'bare part': { prior: -1, says: (v) => `${v.columns} has only a part of the name and nothing that marks a key` },
  'key tail': { prior: 1.5, says: (v) => `${v.columns} ends like the key, ${v.targetColumns}` },
  'marker tail': { prior: 0.8, says: (v) => `${v.columns} is marked as a key` },
  'word tail': { prior: -0.5, says: (v) => `${v.columns} ends in a word that the key does not have` },
  'another key is called so': { prior: -2, says: (v) => `${v.columns} ends like another key of ${v.target}` },
  bare: { prior: 0.3, says: (v) => `${v.columns} is the name of the table and nothing else` },
  'bare under a role': { prior: -0.8, says: (v) => `${v.columns} has words in front and nothing that marks a key` },
  // Roles and short forms.
  'role of its own table': { prior: 3, says: (v) => `"${v.role}" leads from a row to another of its kind` },
  'unknown role of its own table': {
    prior: 1.5,
    firm: true,
    says: (v) => `nothing here is called "${v.role}", and ${v.columns} ends like the key of ${v.table}`,
  },
  'written like a key': { prior: 1.2, firm: true, says: (v) => `${v.columns} begins with a sign, as ${v.targetColumns} does` },
  'role names it': { prior: 1, says: (v) => `${v.columns} names ${v.target} as well` },
  'role of a person': { prior: 1.5, says: (v) => `"${v.role}" is someone, and ${v.target} is of people` },
  'account of them': { prior: 0.3, says: (v) => `${v.target} is of those who use the system` },
  'they log in': { prior: 1, firm: true, says: (v) => `those in ${v.target} log in` },
  'others log in': { prior: -1, firm: true, says: (v) => `those who log in are in another table than ${v.target}` },
  'only people here': { prior: 1, firm: true, says: (v) => `no other table than ${v.target} is of people` },
  'done by': { prior: 2, says: (v) => `${v.columns} is by whom something was done` },
  'keyed alike': { prior: 0.5, says: (v) => `${v.columns} and ${v.targetColumns} end alike` },
  'role keyed': { prior: 1, says: (v) => `${v.columns} is marked as a key` },
  'role bare': { prior: -0.5, says: (v) => `nothing marks ${v.columns} as a key` },
  'only short form': { prior: 0.6, firm: true, says: (v) => `no other table than ${v.target} could be meant` },
  'short form': { prior: 1.2, says: (v) => `${v.columns} may be short for ${v.target}` },
  role: { prior: -0.2, says: (v) => `in front stands "${v.role}"` },
  'long role': { prior: -0.3, says: (v) => `"${v.role}" is more than one word` },
  // What the columns hold.
  'same type': { prior: 0.7, says: (v) => `both are ${v.types}` },
  'same length': { prior: 0.6, firm: true, says: (v) => `both are texts of one length: ${v.types}` },
  'rare type': { prior: 0.6, says: (v) => `few columns of this schema are ${v.types}` },
  'near type': { prior: -0.4, says: (v) => `the types differ: ${v.types}` },
  'far type': { prior: -1.2, says: (v) => `the types differ: ${v.types}` },
  'other length': { prior: -0.7, says: (v) => `the lengths differ: ${v.types}` },
  'type untold': { prior: 0, says: (v) => `no types are declared to compare: ${v.types}` },
  'said in the plural': { prior: -1.5, says: (v) => `${v.columns} is a plural, as counts are called` },
  'may be a place in a list': { prior: -1.5, says: (v) => `${v.columns} may be a place in a list` },
  'a kind stands beside it': { prior: -4, says: (v) => `another column says what kind of thing ${v.columns} is of` },
  'has default': { prior: -0.3, says: (v) => `${v.columns} has a default` },
  'accepts null': { prior: 0, says: (v) => `${v.columns} accepts null` },
  'long text': { prior: -0.2, says: (v) => `${v.columns} is a text of any length` },
  // The key it would refer to.
  'primary key': { prior: 0.5, says: (v) => `${v.targetColumns} is the primary key of ${v.target}` },
  'unique key': { prior: -0.5, says: (v) => `${v.targetColumns} is unique, and not the primary key` },
  'counted key beside another': {
    prior: 1.2,
    firm: true,
    says: (v) => `the database counts up ${v.targetColumns}, which stands beside the primary key of ${v.target}`,
  },
  'counted key': { prior: 1, says: (v) => `the database counts up ${v.target}(${v.targetColumns})` },
  'key not counted': { prior: -1, says: (v) => `keys are counted up in this schema, and ${v.target}(${v.targetColumns}) is not` },
  'natural text key': { prior: -0.4, says: (v) => `${v.targetColumns} is a text` },
  'target keeps a record': { prior: -1.2, says: (v) => `${v.target} keeps a record of others` },
  // The place of the column in its own table.
  'counts up': { prior: -3, says: (v) => `the database counts up ${v.columns} as the key of ${v.table}` },
  'counts up beside its key': { prior: -1, says: (v) => `the database counts up ${v.columns}` },
  'own whole key': { prior: -0.7, says: (v) => `${v.columns} is the whole key of ${v.table}` },
  'own key called after its table': { prior: -3, says: (v) => `${v.columns} is the key of ${v.table} and called after it` },
  'called after its own table': { prior: -1.5, says: (v) => `${v.columns} is called after ${v.table} itself` },
  'part of own key': { prior: 0.5, says: (v) => `${v.columns} is part of the key of ${v.table}` },
  'unique itself': { prior: -0.3, says: (v) => `${v.columns} is unique in ${v.table}` },
  indexed: { prior: 1.5, says: (v) => `an index finds rows by ${v.columns}` },
  'not indexed': { prior: -1, says: (v) => `no index finds rows by ${v.columns}, as they do elsewhere in this schema` },
  'index missing': { prior: -1.5, says: (v) => `no index on ${v.columns}, which MySQL makes for every foreign key` },
  itself: { prior: -0.2, says: (v) => `it would refer to ${v.table} itself` },
  'itself without role': { prior: -2.5, says: (v) => `nothing says which other row of ${v.table} it would be` },
  // Both tables.
  'itself by a join alone': { prior: -0.5, firm: true, says: (v) => `no word of ${v.columns} says which other row of ${v.table} it would be` },
  'itself and unique': { prior: -1.5, firm: true, says: (v) => `${v.columns} is unique in ${v.table}, as a second name of a row is` },
  'numbers clash': { prior: -2, says: (v) => `the numbers in the names of ${v.table} and ${v.target} differ` },
  'same area': { prior: 0.5, says: (v) => `${v.table} and ${v.target} begin alike` },
  'other area': { prior: -0.7, says: (v) => `${v.table} and ${v.target} are of different areas` },
  'other schema': { prior: -0.3, says: (v) => `${v.target} is in another schema` },
  'table speaks of it': { prior: 0.3, says: (v) => `the name of ${v.table} speaks of ${v.target}` },
  'keeps a record': { prior: -0.8, says: (v) => `${v.table} keeps a record, which seldom has rules` },
  'table without key': { prior: -0.2, says: (v) => `${v.table} has no primary key` },
  // References over several columns.
  'several columns': { prior: -3.4, firm: true, says: (v) => `${v.table} has a column for each of ${v.targetColumns}` },
  'same names (several)': { prior: 2.2, says: () => 'columns are called like those of the key' },
  'table named in front (several)': { prior: 4, firm: true, says: (v) => `what stands in front of them says the name of ${v.target}` },
  'under a role (several)': { prior: 0.5, says: (v) => `"${v.role}" stands in front of them` },
  'primary key (several)': { prior: 0.5, says: (v) => `they are the primary key of ${v.target}` },
  'unique key (several)': { prior: -1, says: (v) => `they are unique in ${v.target}, and not its primary key` },
  'own whole key (several)': { prior: -0.7, says: (v) => `they are the whole key of ${v.table}` },
  'unique within own key (several)': { prior: -1, says: (v) => `fewer columns are unique in ${v.table} already` },
  'part of own key (several)': { prior: 0.3, says: (v) => `they are part of the key of ${v.table}` },
  'key names its table (several)': { prior: 2, says: (v) => `the key says that it is of ${v.target}` },
  'key names it better (several)': { prior: 1.5, says: (v) => `the key speaks more of ${v.target} than of ${v.table}` },
  'rows alike (several)': { prior: -5, firm: true, says: (v) => `${v.table} and ${v.target} have most of their columns in common: two of one kind` },
  'speaks of this table (several)': { prior: -1.5, firm: true, says: (v) => `${v.columns} speak more of ${v.table} than of ${v.target}` },
  'handed down (several)': { prior: 1.5, firm: true, says: (v) => `the key of ${v.table} is that of ${v.target} and more` },
  'of others only (several)': {
    prior: -3,
    firm: true,
    says: (v) => `${v.targetColumns}: each names another table than ${v.target}, or is a word that describes rows anywhere`,
  },
  'target keeps a record (several)': { prior: -2, firm: true, says: (v) => `${v.target} keeps a record of others` },
  'table speaks of it (several)': { prior: 0.7, says: (v) => `the name of ${v.table} speaks of ${v.target}` },
  'bare key words (several)': { prior: -2, says: (v) => `${v.columns}: words that could be the key of anything` },
  'only owner (several)': { prior: 1.3, says: (v) => `no other table has such a key as ${v.target}` },
  'other owners (several)': { prior: -0.3, says: () => 'other tables have the same key' },
  'numbers clash (several)': { prior: -2, says: (v) => `the numbers in the names of ${v.table} and ${v.target} differ` },
  'three or more (several)': { prior: 1, says: () => 'three columns or more agree' },
  'indexed (several)': { prior: 0.3, says: (v) => `an index finds rows by ${v.columns}` },
  'near type (several)': { prior: -0.7, says: (v) => `the types differ: ${v.types}` },
  'itself (several)': { prior: -0.5, says: (v) => `it would refer to ${v.table} itself` },
  'same area (several)': { prior: 0.3, says: (v) => `${v.table} and ${v.target} begin alike` },
  // What is done with them.
  'looked up by a trigger': { prior: 3.5, says: (v) => `a trigger of ${v.table} raises where ${v.columns} is none of ${v.target}(${v.targetColumns})` },
  'comment says so': { prior: 2.5, says: (v) => `the comment of ${v.columns} speaks of ${v.target}` },
  'parent declares it': { prior: 4, says: (v) => `${v.columns} is inherited, and where it comes from it is declared to refer to ${v.target}` },
  'joined in statements': { prior: 3, says: (v) => `statements of the application join ${v.table} and ${v.target} by ${v.columns} = ${v.targetColumns}` },
  'joined by': { prior: 3, says: (v) => `views or routines join ${v.table} and ${v.target} by ${v.columns} = ${v.targetColumns}` },
  // What other columns say.
  'joined elsewhere': {
    prior: 3.5,
    firm: true,
    says: (v) => `views, routines or triggers join columns called ${v.columns} with ${v.target}(${v.targetColumns}) elsewhere`,
  },
  'clear elsewhere': { prior: 2, firm: true, says: (v) => `columns called ${v.columns} say elsewhere that they refer to ${v.target}` },
  'joined otherwise elsewhere': {
    prior: -1.5,
    firm: true,
    says: (v) => `views, routines or triggers join columns called ${v.columns} with another key elsewhere`,
  },
  'joins say otherwise': { prior: -2, firm: true, says: (v) => `views, routines or triggers join ${v.columns} with another key` },
  'its counterpart': { prior: 2.3, firm: true, says: (v) => `a column that is called like ${v.columns}, for the other role, refers to ${v.target}` },
  'counterpart says otherwise': {
    prior: -2.5,
    firm: true,
    says: (v) => `a column that is called like ${v.columns}, for the other role, refers elsewhere than to ${v.target}`,
  },
  'two of one': { prior: 4, firm: true, says: (v) => `${v.table} is called after ${v.target} and has two columns for its rows` },
  'only another column says so': { prior: -0.3, firm: true, says: (v) => `nothing in the name ${v.columns} speaks of ${v.target}` },
  'key of what it mirrors': { prior: 3, firm: true, says: (v) => `${v.table} keeps what rows of ${v.target} were, and ${v.columns} is their key` },
  'what it mirrors refers there': { prior: 2.5, firm: true, says: (v) => `${v.columns} refers to ${v.target} in the table whose rows ${v.table} keeps` },
  mirrors: { prior: -0.5, firm: true, says: (v) => `${v.table} keeps what rows of another table were` },
  // What the rows say, where they were read. No schema of the corpus has rows: these stand as they were judged.
  'values all there': { prior: 5, says: (v) => `every value of ${v.columns} is one of ${v.target}(${v.targetColumns})${v.counted}` },
  'few values missing': { prior: 2.5, says: (v) => `nearly every value of ${v.columns} is one of ${v.target}(${v.targetColumns})${v.counted}` },
  'values missing': { prior: -6, says: (v) => `many values of ${v.columns} are none of ${v.target}(${v.targetColumns})${v.counted}` },
  'implied by a longer reference': { prior: -9, says: (v) => `${v.columns} is part of a reference over more columns that is declared, or holds for all rows` },
  'only a join says so': { prior: -0.3, says: (v) => `nothing in the name ${v.columns} speaks of ${v.target}` },
  'only values say so': { prior: -0.5, says: (v) => `nothing in the name ${v.columns} speaks of ${v.target}` },
  // Habits of the whole schema, known only after a first look at everything.
  'same name elsewhere': { prior: 1, says: (v) => `columns called ${v.columns} refer to ${v.target} elsewhere` },
  'same ending elsewhere': { prior: 1, firm: true, says: (v) => `columns that end like ${v.columns} refer to ${v.target} elsewhere` },
  'habit of the ending': { prior: 0.4, says: () => 'of columns that end so, many refer here, or few' },
  'well known': { prior: 0.2, says: (v) => `many columns refer to ${v.target}` },
  'target refers itself': { prior: -1.5, says: (v) => `${v.target}(${v.targetColumns}) seems to refer to another table itself` },
  'target only joins': { prior: -3, says: (v) => `${v.target} only joins others` },
  'part of a longer reference': { prior: -2.2, says: (v) => `${v.columns} is part of a reference over more columns` },
} as const satisfies Readonly<Record<string, Fact>>

export type FactName = keyof typeof definition
export const facts: Readonly<Record<FactName, Fact>> = definition
export const factNames = Object.keys(definition) as readonly FactName[]

/** Facts with their strength, from 0 to 1 except for habits. Those of no strength are left out. */
export type Facts = ReadonlyMap<FactName, number>
export type FactList = readonly (readonly [FactName, number])[]

/** Log-odds of a fact at full strength; `base` is where every candidate begins: few columns refer to any one table. */
export type Weights = Readonly<Record<FactName | 'base', number>>

export const priors: Weights = { base: -3.5, ...(Object.fromEntries(factNames.map((n) => [n, facts[n].prior])) as Record<FactName, number>) }
