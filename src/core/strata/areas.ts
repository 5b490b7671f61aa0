// Subject areas, proposed from the references: communities of the graph without its hubs, named after what they are about.
import Graph from 'graphology'
import louvain from 'graphology-communities-louvain'
import { compareText } from '../catalog/index.ts'
import { plural } from '../names/index.ts'

export interface AreaLink {
  readonly from: string
  readonly to: string
}

export interface AreaNode {
  readonly id: string
  readonly schema: string
  /** Singular words of the class. */
  readonly words: readonly string[]
  /** What the area is called when this is its centre. */
  readonly plural: string
  /** Words of its columns and of what is said of it. */
  readonly vocabulary: readonly string[]
}

/** Mulberry32: a fixed seed, so that the same schema always gives the same areas. */
function seeded(): () => number {
  let state = 0x70656c76
  return () => {
    state = (state + 0x6d2b79f5) | 0
    let t = Math.imul(state ^ (state >>> 15), 1 | state)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
}

/** A plate this busy says nothing about a subject: users, statuses, tenants. */
const isHub = (degree: number, plates: number) => degree >= Math.max(10, plates / 5)

/**
 * Area name by id; plates without any link have none. References within a schema count twice. A community of one joins the
 * one it is linked to most. Deterministic, independent of the order of nodes and links.
 */
export function proposeAreas(nodes: readonly AreaNode[], links: readonly AreaLink[]): ReadonlyMap<string, string> {
  const byId = new Map(nodes.map((n) => [n.id, n]))
  const weights = new Map<string, number>()
  const neighbours = new Map<string, Map<string, number>>()
  const add = (a: string, b: string, w: number) => {
    const map = neighbours.get(a) ?? new Map<string, number>()
    map.set(b, (map.get(b) ?? 0) + w)
    neighbours.set(a, map)
  }
  for (const l of links) {
    const a = byId.get(l.from)
    const b = byId.get(l.to)
    if (!a || !b || a === b) continue
    const w = a.schema === b.schema ? 2 : 1
    const key = [a.id, b.id].sort(compareText).join('\n')
    weights.set(key, (weights.get(key) ?? 0) + w)
    add(a.id, b.id, w)
    add(b.id, a.id, w)
  }
  const linked = nodes
    .filter((n) => neighbours.has(n.id))
    .map((n) => n.id)
    .sort(compareText)
  const degree = (id: string) => neighbours.get(id)?.size ?? 0
  const hubs = new Set(linked.filter((id) => isHub(degree(id), linked.length)))
  const graph = new Graph({ type: 'undirected' })
  for (const id of linked) if (!hubs.has(id)) graph.addNode(id)
  for (const [key, weight] of [...weights].sort((a, b) => compareText(a[0], b[0]))) {
    const [a, b] = key.split('\n') as [string, string]
    if (!hubs.has(a) && !hubs.has(b)) graph.addEdge(a, b, { weight })
  }
  const community = new Map<string, number>(graph.order === 0 ? [] : Object.entries(louvain(graph, { rng: seeded(), getEdgeWeight: 'weight' })))
  settleRest(linked, community, neighbours, hubs)
  return nameAreas(linked, community, byId, degree)
}

/** Hubs and loners join the community they have most weight with; one that has none opens its own. */
function settleRest(
  linked: readonly string[],
  community: Map<string, number>,
  neighbours: ReadonlyMap<string, ReadonlyMap<string, number>>,
  hubs: ReadonlySet<string>,
): void {
  const size = new Map<number, number>()
  for (const c of community.values()) size.set(c, (size.get(c) ?? 0) + 1)
  const loners = linked.filter((id) => !hubs.has(id) && size.get(community.get(id) as number) === 1)
  let fresh = community.size
  // Hubs first: what is linked to nothing but a hub joins the hub's community.
  for (const id of [...linked.filter((l) => hubs.has(l)), ...loners]) {
    const pull = new Map<number, number>()
    for (const [other, w] of [...(neighbours.get(id) ?? [])].sort((a, b) => compareText(a[0], b[0]))) {
      const c = community.get(other)
      if (c !== undefined && other !== id && c !== (hubs.has(id) ? -1 : community.get(id))) pull.set(c, (pull.get(c) ?? 0) + w)
    }
    const best = [...pull].sort((a, b) => b[1] - a[1] || a[0] - b[0])[0]
    if (best) community.set(id, best[0])
    else if (!community.has(id)) {
      community.set(id, fresh)
      fresh += 1
    }
  }
}

/** A word of so many tables of the schema says nothing about one area of it. */
const commonplace = (count: number, tables: number) => tables >= 8 && count > tables / 2
const sentenceCase = (text: string) => text.charAt(0).toUpperCase() + text.slice(1)

/**
 * An area is called by the word that most of its tables share, spelled out where the area spells it out elsewhere, else after its most linked
 * table; never by one or two letters.
 */
function nameAreas(
  linked: readonly string[],
  community: ReadonlyMap<string, number>,
  byId: ReadonlyMap<string, AreaNode>,
  degree: (id: string) => number,
): ReadonlyMap<string, string> {
  const members = new Map<number, string[]>()
  for (const id of linked) {
    const c = community.get(id) as number
    const list = members.get(c) ?? []
    members.set(c, list)
    list.push(id)
  }
  const all = new Map<string, number>()
  for (const n of byId.values()) for (const w of new Set(n.words)) all.set(w, (all.get(w) ?? 0) + 1)
  const names = new Map<string, string>()
  const taken = new Set<string>()
  for (const list of [...members.values()].sort((a, b) => b.length - a.length || compareText(a[0] as string, b[0] as string))) {
    const nodes = list.toSorted((a, b) => degree(b) - degree(a) || compareText(a, b)).map((id) => byId.get(id) as AreaNode)
    const shared = sharedWord(nodes, (w) => commonplace(all.get(w) ?? 0, byId.size))
    const centres = nodes.map(centreName)
    const candidates = [
      ...(shared === null ? [] : [shared]),
      ...centres.slice(0, 3),
      ...(centres[1] === undefined ? [] : [`${centres[0]} and ${centres[1]?.toLowerCase()}`]),
    ]
    let name = candidates.find((n) => !taken.has(n))
    for (let n = 2; name === undefined; n += 1) name = taken.has(`${candidates[0]} ${n}`) ? undefined : `${candidates[0]} ${n}`
    taken.add(name)
    for (const id of list) names.set(id, name)
  }
  return names
}

/** The word that more than half of the tables have in their names, as people say it; null where there is none. */
function sharedWord(nodes: readonly AreaNode[], isCommonplace: (word: string) => boolean): string | null {
  const counts = new Map<string, number>()
  for (const n of nodes) for (const w of new Set(n.words)) counts.set(w, (counts.get(w) ?? 0) + 1)
  const best = [...counts]
    .filter(([w, n]) => nodes.length > 2 && n > nodes.length / 2 && !isCommonplace(w) && /\p{L}{2}/u.test(w))
    .sort((a, b) => b[1] - a[1] || compareText(a[0], b[0]))
    .map(([w]) => w)
    .map((w) => ({ w, full: spelledOut(w, nodes) }))
    .find(({ full }) => full.length > 3)
  if (!best) return null
  // A thing of which there are many is said in the plural; what only stands before other words (billing cycle, billing run) is not.
  const thing = nodes.some((n) => n.words.at(-1) === best.w)
  return sentenceCase(thing ? plural([best.full]).join(' ') : best.full)
}

/** The longer word of these tables that a short one abbreviates: it begins with it, or with its first letter and has its others in order; itself where there is none. */
function spelledOut(word: string, nodes: readonly AreaNode[]): string {
  if (word.length > 4) return word
  const counts = new Map<string, number>()
  for (const n of nodes) for (const w of [...n.words, ...n.vocabulary]) if (abbreviates(word, w)) counts.set(w, (counts.get(w) ?? 0) + 1)
  return [...counts].sort((a, b) => b[1] - a[1] || a[0].length - b[0].length || compareText(a[0], b[0]))[0]?.[0] ?? word
}

function abbreviates(short: string, word: string): boolean {
  if (word.length < short.length + 3 || word[0] !== short[0]) return false
  if (word.startsWith(short)) return short.length > 2
  if (/[aeiou]/.test(short.slice(1))) return false
  let at = 0
  for (const c of word) if (c === short[at]) at += 1
  return at === short.length && short.length > 1
}

/** What many of a table are called, without a prefix of one or two letters. */
function centreName(n: AreaNode): string {
  const words = n.plural.split(' ')
  return sentenceCase((words.length > 1 && (words[0] as string).length < 3 ? words.slice(1) : words).join(' '))
}
