// Entries of the ledger in words.
import { columnsText } from '../catalog/index.ts'
import { schemaEditText } from '../change/schemaEditText.ts'
import { type Edit, type LedgerEntry, settingsText } from '../model/index.ts'
import { ruleText } from '../names/index.ts'

/** One line for an entry of the ledger. */
export function entryText(e: LedgerEntry): string {
  switch (e.kind) {
    case 'rule': {
      const said = e.asks
        ? `asked ${e.asks.whom} about ${e.finding}: ${e.asks.question}`
        : `${{ accept: 'accepted', amend: 'amended', reject: 'rejected', ask: 'asked about' }[e.verdict]} ${e.finding}${e.verdict === 'amend' ? amendedTo(e.edits) : ''}`
      return e.note === null ? said : `${said} (“${e.note}”)`
    }
    case 'edit':
      return editText(e.edit, e.note)
    case 'scope':
      return scopeText(e.edits)
    case 'naming':
      return `set a naming rule: ${ruleText(e.rule)}`
    case 'settings':
      return `set how TypeScript is laid out: ${settingsText(e.settings)}`
    case 'rebind':
      return e.to === null ? `said that ${e.from} is gone for good` : `said that ${e.from} is ${e.to} now`
    case 'pin':
      return `kept the trial “${e.name}”: ${[e.path.entity, ...e.path.steps.map((s) => s.relationship)].join(', ')}`
    case 'schema-edit':
      return `schema change: ${e.edits.map(schemaEditText).join('; ')}${e.note === null ? '' : ` (“${e.note}”)`}`
    case 'note':
      return `noted on ${e.subject}: ${e.text}`
    case 'settle':
      return `settled ${e.findings.length} findings at ${e.threshold} or surer`
    case 'take':
      return `took ${e.findings.length === 1 ? 'one proposal' : `${e.findings.length} proposals`} as ${e.findings.length === 1 ? 'it stands' : 'they stand'}${e.note === null ? '' : ` (“${e.note}”)`}: ${e.findings.map((f) => f.id).join(', ')}`
    case 'revert':
      return `took back entry ${e.reverts}`
    case 'other':
      return `an entry of a later version: ${String(e.body['kind'])}`
    default:
      return unreachable(e)
  }
}

const typeText = (subject: string) => subject.replace(/^type:/, 'the type ')

/** What was set by hand. */
const editText = (x: Edit, note: string | null): string => `${settingText(x)}${note === null ? '' : ` (“${note}”)`}`

function settingText(x: Edit): string {
  switch (x.facet) {
    case 'entity.name':
      return `called the class of ${x.subject} ${x.value}`
    case 'property.name':
      return `called the property of ${x.subject} ${x.value}`
    case 'reference.ownName':
      return `called the end that ${endText(x.subject)} makes ${x.value}`
    case 'reference.inverseName':
      return `called the other end of ${endText(x.subject)} ${x.value}`
    case 'join.firstName':
      return `called the first end of ${x.subject} ${x.value}`
    case 'join.secondName':
      return `called the second end of ${x.subject} ${x.value}`
    case 'table.area':
      return x.value === null ? `put ${x.subject} back into the area proposed for it` : `put ${x.subject} into the area ${x.value}`
    case 'area.name':
      return x.value === null ? `called the area ${x.subject} as proposed again` : `called the area ${x.subject} ${x.value}`
    case 'reference.always':
      return x.value ? `said that there always is one by ${x.subject}` : `left ${x.subject} as the database allows`
    case 'reference.atMostOne':
      return x.value ? `said that there is at most one by ${x.subject}` : `left ${x.subject} as the database allows`
    case 'type.target':
      return x.value === null ? `left ${typeText(x.subject)} as its type says` : `said that ${typeText(x.subject)} is held as ${x.value}`
    case 'json.schema':
      return x.value === null ? `left the JSON of ${x.subject} open` : `said what the JSON of ${x.subject} holds`
    case 'type.name':
      return x.value === null ? `took the name of ${typeText(x.subject)} away` : `called ${typeText(x.subject)} ${x.value}`
    case 'project.threshold':
      return `said that what is ${x.value} sure or surer needs no ruling`
    case 'scope':
      return scopeText([x])
    case 'reference.target':
    case 'reference.kinds':
    case 'column.values':
    case 'column.flag':
    case 'column.role':
    case 'columns.group':
    case 'entity.identity':
    case 'join.reading':
      return `read ${endText(x.subject)} as ${madeOf(x).join(', ')}`
    default:
      return unreachable(x)
  }
}

/** Without the target that tells references of the same columns apart. */
const endText = (subject: string) => (subject.split('>')[0] as string).replace(/^columns:/, '')

/** ` to a reference to field.bay(id)`: what an amendment made of it. */
function amendedTo(edits: readonly Edit[]): string {
  const said = edits.flatMap(madeOf)
  return said.length === 0 ? '' : ` to ${said.join(', ')}`
}

/** What one edit of an amendment makes of its subject; nothing for names, which say themselves. */
export function madeOf(x: Edit): readonly string[] {
  switch (x.facet) {
    case 'reference.target':
      return [x.value ? `a reference to ${columnsText({ schema: x.value.schema, name: x.value.table }, x.value.targetColumns)}` : 'no reference']
    case 'join.reading':
      return [x.value.as === 'many-to-many' ? 'a many-to-many' : x.value.shortcut ? 'an entity with a many-to-many beside it' : 'an entity']
    case 'reference.kinds':
      return [x.value ? 'a row of one of several tables' : 'no reference']
    case 'type.target':
      return [x.value ?? 'what its type says']
    case 'column.flag':
      return [x.value ? 'yes or no' : 'its words as they are']
    case 'column.role':
      return [x.value === 'version' ? 'the version of its row' : x.value === 'audit' ? 'who and when' : 'a column like others']
    case 'columns.group':
      return [x.value ? `one type, ${x.value.name}` : 'no type of their own']
    case 'entity.identity':
      return [x.value ? `told apart by ${x.value.join(', ')}` : 'told apart by nothing']
    case 'column.values':
      return [x.value ? 'one of its words' : 'any text']
    default:
      return []
  }
}

/** `left out field.crate_2019 and 3 more; took in field.bay` */
function scopeText(edits: readonly { readonly subject: string; readonly value: 'in' | 'out' }[]): string {
  const part = (value: 'in' | 'out', verb: string) => {
    const of = edits.filter((x) => x.value === value).map((x) => x.subject.replace(/^(schema|routine):/, '$1 '))
    return of.length === 0 ? [] : [`${verb} ${of.slice(0, 3).join(', ')}${of.length > 3 ? ` and ${of.length - 3} more` : ''}`]
  }
  return [...part('out', 'left out'), ...part('in', 'took in')].join('; ')
}

function unreachable(e: never): never {
  throw new Error(`a ledger entry of no known kind: ${JSON.stringify(e)}`)
}
