// Names of classes that somebody else might have chosen otherwise: prefixes that are left out, and tables that would be called alike.
import { compareAddress, type Relation, relationText } from '../../catalog/index.ts'
import { type Alternative, type Edit, type Finding, findingId } from '../../model/index.ts'
import { splitWords } from '../../names/index.ts'
import { type Clash, classNames } from '../classNames.ts'
import type { Context } from '../context.ts'
import { fact, structureFinding } from './common.ts'

/** Of a finding about many tables so many names are told. */
const told = 4

const naming = (r: Relation, value: string): Edit => ({ facet: 'entity.name', subject: relationText(r), value })
const rounded = (n: number) => Math.round(n * 1000) / 1000

function listed(names: readonly string[]): string {
  const rest = names.length - told
  return rest > 1 ? `${names.slice(0, told).join(', ')} and ${rest} more` : names.join(', ')
}

/** One finding for each prefix of each schema that no rule of the project speaks of. Its subject is the first of the tables. */
export function leftOutPrefixes(x: Context): readonly Finding[] {
  const groups = new Map<string, Relation[]>()
  for (const r of [...x.unprefixed].toSorted(compareAddress)) {
    const prefix = splitWords(r.name)[0] as string
    if (x.naming.prefixes(r.schema).has(prefix)) continue
    const key = JSON.stringify([r.schema, prefix])
    groups.set(key, [...(groups.get(key) ?? []), r])
  }
  const { names } = classNames(x)
  return [...groups.values()].map((relations) => {
    const [first] = relations as [Relation]
    const prefix = splitWords(first.name)[0] as string
    const nameOf = (r: Relation) => names.get(relationText(r)) ?? r.name
    const full = (r: Relation) => x.naming.className([prefix, ...(x.words.get(relationText(r)) ?? [])])
    const tables = relations.length === 1 ? 'one table' : `${relations.length} tables`
    const where = first.schema === '' ? 'here' : `of ${first.schema}`
    const finding = structureFinding(
      'prefix',
      relationText(first),
      0.95,
      [fact('left out', `"${prefix}" begins the names of ${tables} ${where} and is left out: ${listed(relations.map(nameOf))}`)],
      relations.map((r) => naming(r, nameOf(r))),
      prefix,
    )
    const [yes, no] = finding.alternatives as readonly [Alternative, Alternative]
    return {
      ...finding,
      alternatives: [
        yes,
        {
          ...no,
          edits: relations.map((r) => naming(r, full(r))),
          evidence: [fact('kept', `with it ${relations.length === 1 ? 'it is' : 'they are'} ${listed(relations.map(full))}`)],
        },
      ],
    }
  })
}

/** One finding for each name that several classes would have; each answer says what all of them are called. */
export function namesAlike(x: Context): readonly Finding[] {
  const { names, clashes } = classNames(x)
  return clashes.map((c) => alike(c, (r) => names.get(relationText(r)) ?? r.name))
}

/** `a, b and c` */
const allOf = (names: readonly string[]) => `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`

/** So many tables may be the one with the plain name. */
const most = 5

function alike(c: Clash, nameOf: (r: Relation) => string): Finding {
  const apart = (r: Relation) => c.apart.get(relationText(r)) ?? nameOf(r)
  const [first] = c.relations as [Relation]
  const proposed = c.relations.map((r) => naming(r, nameOf(r)))
  const others = [
    c.relations.map((r) => naming(r, apart(r))),
    ...c.relations.slice(0, most).map((plain) => c.relations.map((r) => naming(r, r === plain ? c.plain : apart(r)))),
  ]
  const answers = [...new Map([proposed, ...others].filter(areDifferent).map((edits) => [JSON.stringify(edits.map((e) => e.value)), edits])).values()]
  const plain = c.relations.find((r) => nameOf(r) === c.plain)
  const sure = plain ? 0.9 : 0.7
  const evidence = [
    fact(
      'alike',
      `${allOf(c.relations.map((r) => relationText(r).replaceAll('%20', ' ')))} would ${c.relations.length === 2 ? 'both' : 'all'} be called ${c.plain}`,
    ),
    fact(
      plain ? 'plain name' : 'told apart',
      plain
        ? `${relationText(plain)} is what others refer to, or the only one that is no record or view of another`
        : 'none has a better claim to the plain name than the others',
    ),
  ]
  const keyOf = (edits: readonly Edit[]) => {
    const bare = c.relations.find((_, i) => edits[i]?.value === c.plain)
    return bare ? `plain ${relationText(bare)}` : 'apart'
  }
  const alternatives = answers.map(
    (edits, i): Alternative => ({
      key: keyOf(edits),
      confidence: i === 0 ? sure : rounded((1 - sure) / (answers.length - 1)),
      edits,
      evidence: i === 0 ? evidence : [fact('named', listed(edits.map((e) => `${e.subject.replaceAll('%20', ' ')} is ${String(e.value)}`)))],
    }),
  )
  return {
    id: findingId('structure', `names alike:${relationText(first)}/${c.plain}`),
    kind: 'structure',
    topic: 'names alike',
    subject: relationText(first),
    alternatives: alternatives as unknown as Finding['alternatives'],
  }
}

const areDifferent = (edits: readonly Edit[]) => new Set(edits.map((e) => String(e.value).toLowerCase())).size === edits.length
