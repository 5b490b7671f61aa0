// A review as a document: what is open, asked and ruled, area by area, as Markdown (CommonMark 0.31) and as one HTML page of its own.
import { activeEntries, type LedgerEntry, openQuestions, revisionText, sentenceText } from '../model/index.ts'
import type { DocketItem } from './docket.ts'
import { entryText } from './entryText.ts'
import type { Review } from './review.ts'

export interface ReportLine {
  readonly says: string
  readonly subject: string
  readonly status: DocketItem['status']
  readonly confidence: number
  /** Who ruled when, in which words, with notes; oldest first. */
  readonly history: readonly { readonly by: string; readonly at: string; readonly what: string }[]
  readonly asked: { readonly whom: string; readonly question: string } | null
}

export interface Report {
  readonly title: string
  readonly revision: string
  /** ISO 8601. */
  readonly at: string
  readonly counts: { readonly open: number; readonly asked: number; readonly ruled: number; readonly certain: number }
  readonly areas: readonly {
    readonly area: string
    readonly open: readonly ReportLine[]
    readonly asked: readonly ReportLine[]
    readonly ruled: readonly ReportLine[]
    readonly certain: readonly ReportLine[]
  }[]
}

const part = (i: DocketItem): 'open' | 'asked' | 'ruled' | 'certain' | null => {
  if (i.status === 'folded' || i.partOf !== null) return null
  if (i.status === 'open' || i.changed) return 'open'
  if (i.status === 'asked') return 'asked'
  return i.status === 'certain' || i.status === 'settled' ? 'certain' : 'ruled'
}

/** `items` are those of the docket with their areas, `areas` those of the map from top to bottom. */
export function reportOf(
  title: string,
  at: string,
  r: Review,
  items: readonly DocketItem[],
  areas: readonly string[],
  entries: readonly LedgerEntry[],
): Report {
  const questions = openQuestions(entries)
  const histories = new Map<string, { by: string; at: string; what: string }[]>()
  for (const e of activeEntries(entries)) {
    const about = e.kind === 'rule' ? e.finding : e.kind === 'note' ? e.subject : null
    if (about !== null) histories.set(about, [...(histories.get(about) ?? []), { by: e.by, at: e.at, what: entryText(e) }])
  }
  const lineOf = (i: DocketItem): ReportLine => ({
    says: i.says.map(sentenceText).join(' '),
    subject: i.subject,
    status: i.status,
    confidence: i.confidence,
    history: [...(histories.get(i.id) ?? []), ...(histories.get(i.subject) ?? [])].toSorted((a, b) => (a.at < b.at ? -1 : 1)),
    asked: questions.get(i.id) ?? null,
  })
  const listed = items.flatMap((i) => {
    const of = part(i)
    return of === null ? [] : [{ of, area: i.area ?? 'Standing alone', line: lineOf(i) }]
  })
  const count = (of: string) => listed.filter((l) => l.of === of).length
  const lines = (area: string, of: string) => listed.filter((l) => l.area === area && l.of === of).map((l) => l.line)
  return {
    title,
    revision: revisionText(r.revision),
    at,
    counts: { open: count('open'), asked: count('asked'), ruled: count('ruled'), certain: count('certain') },
    areas: [...areas, 'Standing alone']
      .filter((a) => listed.some((l) => l.area === a))
      .map((area) => ({ area, open: lines(area, 'open'), asked: lines(area, 'asked'), ruled: lines(area, 'ruled'), certain: lines(area, 'certain') })),
  }
}

const parts = [
  ['open', 'Open'],
  ['asked', 'Asked'],
  ['ruled', 'Ruled'],
  ['certain', 'Needs no ruling'],
] as const

const summary = (c: Report['counts']) => `${c.open} open, ${c.asked} asked, ${c.ruled} ruled, ${c.certain} that need no ruling`
const day = (iso: string) => iso.slice(0, 16).replace('T', ' ')

/** What Markdown would read as markup is escaped (CommonMark, 2.4). */
const plain = (text: string) => text.replace(/[\\`*_{}[\]<>#|~]/g, (c) => `\\${c}`).replace(/\s+/g, ' ')

export function reportMarkdown(r: Report): string {
  const out = [`# ${plain(r.title)}`, '', `${summary(r.counts)}. ${plain(r.revision)}; written ${day(r.at)} UTC.`]
  for (const a of r.areas) {
    out.push('', `## ${plain(a.area)}`)
    for (const [key, label] of parts) {
      if (a[key].length === 0) continue
      out.push('', `### ${label}: ${a[key].length}`, '')
      for (const l of a[key]) {
        out.push(`- ${plain(l.says)} (\`${l.subject.replaceAll('`', "'")}\`, ${l.confidence.toFixed(2)})`)
        if (l.asked) out.push(`  - asked of ${plain(l.asked.whom)}: ${plain(l.asked.question)}`)
        for (const h of l.history) out.push(`  - ${plain(h.by)}, ${day(h.at)}: ${plain(h.what)}`)
      }
    }
  }
  return `${out.join('\n')}\n`
}

const escaped = (text: string) => text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;')

const style = `body{max-width:60rem;margin:2rem auto;padding:0 1rem;font:15px/1.5 "Source Sans 3",system-ui,sans-serif;color:#1d2b3a;background:#f5f1e6}
h1,h2,h3{font-family:"Source Serif 4",Georgia,serif}h2{border-top:1px solid #1d2b3a;padding-top:.6rem;margin-top:2rem}h3{font-size:1rem;margin:.8rem 0 .2rem}
li{margin:.2rem 0}code{font:.85em ui-monospace,monospace;color:#5f6b76;overflow-wrap:anywhere}.soft{color:#5f6b76}.open>h3{color:#b5471b}ul ul{color:#5f6b76;font-size:.92em}`

/** One page that needs nothing else. */
export function reportHtml(r: Report): string {
  const line = (l: ReportLine) => {
    const more = [...(l.asked ? [`asked of ${l.asked.whom}: ${l.asked.question}`] : []), ...l.history.map((h) => `${h.by}, ${day(h.at)}: ${h.what}`)].map(
      (m) => `<li>${escaped(m)}</li>`,
    )
    return `<li>${escaped(l.says)} <code>${escaped(l.subject)}</code> <span class="soft">${l.confidence.toFixed(2)}</span>${more.length > 0 ? `<ul>${more.join('')}</ul>` : ''}</li>`
  }
  const section = (a: Report['areas'][number]) =>
    `<section><h2>${escaped(a.area)}</h2>${parts
      .filter(([key]) => a[key].length > 0)
      .map(([key, label]) => {
        const list = `<ul>${a[key].map(line).join('\n')}</ul>`
        return key === 'certain'
          ? `<details><summary>${label}: ${a[key].length}</summary>${list}</details>`
          : `<div class="${key}"><h3>${label}: ${a[key].length}</h3>${list}</div>`
      })
      .join('\n')}</section>`
  return [
    '<!doctype html>',
    `<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${escaped(r.title)}</title><style>${style}</style></head><body>`,
    `<h1>${escaped(r.title)}</h1><p>${summary(r.counts)}.</p><p class="soft">${escaped(r.revision)}; written ${day(r.at)} UTC.</p>`,
    ...r.areas.map(section),
    '</body></html>',
    '',
  ].join('\n')
}
