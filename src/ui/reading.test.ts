// What a person reads: views of plain values, printed as the server prints them.
import { createElement, type FunctionComponent } from 'react'
import { renderToStaticMarkup } from 'react-dom/server'
import { describe, expect, it } from 'vitest'
import type { RehearsalView } from '../core/change/index.ts'
import { Told } from '../core/text/told.ts'
import { Complaint } from './common/Complaint.tsx'
import { Fault } from './common/Fault.tsx'
import { JobStrip } from './common/JobStrip.tsx'
import type { JobView } from './common/job.ts'
import { Stale } from './gate/Stale.tsx'
import { ScriptFindings, Understood } from './newProject/ScriptFindings.tsx'
import { RehearsalReport } from './plan/RehearsalReport.tsx'
import { deskKeys } from './review/deskKeys.ts'
import { SentenceText } from './review/SentenceText.tsx'
import { StatusWord, stateWord } from './review/Status.tsx'

const markup = <P extends object>(view: FunctionComponent<P>, props: P): string => renderToStaticMarkup(createElement(view, props))
/** The text alone, as a reader or a screen reader gets it. */
const text = <P extends object>(view: FunctionComponent<P>, props: P): string =>
  markup(view, props)
    .replace(/<\/(p|li|h2|summary|button|pre)>/g, '\n')
    .replace(/<[^>]*>/g, '')
    .replace(/&#x27;/g, "'")
    .replace(/&quot;/g, '"')
    .trim()

const nothing = () => {}

describe('a complaint', () => {
  it('begins with a capital, and leaves out what there is nothing to say of', () => {
    expect(text(Complaint, { wording: { message: 'no bay "a"', detail: '', hint: 'Make one.' } })).toBe('No bay "a"\nMake one.')
    expect(markup(Complaint, { wording: { message: 'x', detail: '<b>', hint: '' } })).toContain('&lt;b&gt;')
    expect(markup(Complaint, { wording: { message: 'x', detail: '', hint: '' } })).toContain('role="alert"')
  })
})

describe('a view that failed', () => {
  it('says what is the matter where that is known', () => {
    const { digest } = new Told({ message: 'the store is away', detail: '', hint: 'Wait a little.' }, 503)
    expect(text(Fault, { message: 'hidden', digest, retry: nothing })).toBe('The store is away\nWait a little.\nTry again')
  })
  it('is our fault where it is not, with what to report', () => {
    const said = text(Fault, { message: 'x is undefined', digest: '123', retry: nothing })
    expect(said).toContain('That is a fault in Pelvok.')
    expect(said).toContain('Its number in the log is 123.')
    expect(text(Fault, { message: 'x is undefined', retry: nothing })).toContain('x is undefined')
  })
})

describe('a job', () => {
  const job = (more: Partial<JobView>): JobView => ({
    id: 1,
    kind: 'survey',
    state: 'running',
    doing: '',
    done: 0,
    total: null,
    cancelRequested: false,
    error: null,
    ...more,
  })
  const strip = (j: JobView | null, busy = true) =>
    text(JobStrip, { handle: { job: j, busy, wording: null, start: nothing, startAt: nothing, cancel: nothing }, unit: 'objects' })
  it.each<readonly [Partial<JobView>, boolean, string]>([
    [{ state: 'waiting' }, true, 'Waiting for its turnCancel'],
    [{ done: 7, doing: 'reading columns' }, true, '7 objects, reading columnsCancel'],
    [{ done: 7, total: 9 }, true, '7 of 9 objectsCancel'],
    [{ cancelRequested: true }, true, '0 objectsEnding …'],
    [{ state: 'done' }, false, ''],
    [{ state: 'failed', error: { message: 'this was interrupted', detail: '', hint: 'Start it again.' } }, false, 'This was interrupted\nStart it again.'],
    [{ state: 'cancelled' }, false, 'Cancelled. Nothing was kept of it.'],
    [{ state: 'cancelled', kind: 'apply' }, false, 'Ended between two steps. What ran stays; applying again goes on from there.'],
  ])('%o is told', (more, busy, said) => expect(strip(job(more), busy)).toBe(said))
  it('that there is none of says nothing', () => expect(strip(null, false)).toBe(''))
})

describe('an output that is older than the ledger', () => {
  it.each<readonly [number | null, number, string]>([
    [null, 4, ''],
    [4, 4, ''],
    [3, 4, '▲ stale: the ledger has one entry since, which it does not know.'],
    [1, 4, '▲ stale: the ledger has 3 entries since, which it does not know.'],
  ])('made at %s, now at %s', (made, head, said) => expect(text(Stale, { made, head })).toBe(said))
})

describe('a script that was read', () => {
  const script = { because: 'it says so', understood: 1200, structural: 1200, ignored: 0, diagnostics: [], diagnosticCount: 0 }
  it('is told how far it was understood', () => {
    expect(text(Understood, { script })).toBe('All 1,200 statements about the structure were understood.')
    const some = { ...script, understood: 3, structural: 4, ignored: 2000, diagnostics: ['a.sql:1:1: error: no'], diagnosticCount: 3 }
    expect(text(Understood, { script: some })).toBe(
      '3 of 4 statements about the structure were understood. 2,000 about rows, rights and settings were passed over.\na.sql:1:1: error: no\nand 2 more; the command line prints them all',
    )
  })
  it('is told what it holds, one of a thing as one', () => {
    const report = {
      ...script,
      dialect: 'SQLite',
      counts: [
        ['tables', 1],
        ['views', 0],
        ['foreign keys', 2],
      ] as const,
    }
    expect(text(ScriptFindings, { file: 'a.sql', report })).toContain('a.sql was read as SQLite: it says so.\n1 table · 2 foreign keys')
  })
})

describe('a rehearsal', () => {
  const phase = (direction: string, differences: RehearsalView['phases'][number]['differences'] = []) => ({
    direction,
    steps: 3,
    milliseconds: 5,
    differences,
    allowed: 0,
    announced: 0,
  })
  const view = (more: Partial<RehearsalView>): RehearsalView => ({
    ok: true,
    server: 'PostgreSQL 15',
    rows: null,
    stored: null,
    phases: [phase('up'), phase('down'), phase('up again')],
    steps: [],
    skipped: [],
    notSupported: [],
    failure: null,
    ...more,
  })
  it('that proves a plan says each way', () =>
    expect(text(RehearsalReport, { r: view({ rows: 1200 }) })).toBe(
      'Proven on PostgreSQL 15, with 1,200 rows\nup: 3 steps in 5 ms, equal to the plan\ndown: 3 steps in 5 ms, as before\nup again: 3 steps in 5 ms, equal to the plan',
    ))
  it('that does not has a line for each kind of difference, and all of them unfolded', () => {
    const r = view({
      ok: false,
      phases: [
        phase('up', [
          { says: '2 columns have another default, such as a', all: ['a', 'b'] },
          { says: 'table c is missing', all: ['c'] },
        ]),
      ],
    })
    const said = text(RehearsalReport, { r })
    expect(said).toContain('Not proven on PostgreSQL 15')
    expect(said).toContain('up: 3 steps in 5 ms, 3 differences2 columns have another default, such as a\na\nb')
    expect(markup(RehearsalReport, { r }).match(/<details>/g)).toHaveLength(1)
    expect(text(RehearsalReport, { r: view({ ok: false, phases: [phase('up', [{ says: 'x', all: ['x'] }])] }) })).toContain('one difference')
  })
  it('that failed says where, what was said and the statement', () =>
    expect(
      text(RehearsalReport, { r: view({ ok: false, phases: [], failure: { where: 'step 2', said: 'no such type', statement: 'CREATE TABLE a (b c)' } }) }),
    ).toContain('Failed at step 2: no such type\nCREATE TABLE a (b c)'))
  it('with made-up rows says what became of them', () =>
    expect(text(RehearsalReport, { r: view({ stored: { stored: 9, compared: 8, classes: 2, wrong: ['a'], left: ['t: no'] } }) })).toContain(
      'made-up rows: 9 stored, 8 of 2 classes read back through the emitted stores, 1 otherwise but for those of one table',
    ))
})

describe('where a finding stands', () => {
  it('is a shape and a word, with who put it there', () => {
    expect(text(StatusWord, { status: 'open' })).toBe('◆ waits for you')
    expect(text(StatusWord, { status: 'accepted', by: 'Mara' })).toBe('✓ accepted, Mara')
    expect((['enforced', 'declared', 'model', 'guessed'] as const).map(stateWord)).toEqual([
      'enforced by the database',
      'declared, not enforced',
      'in the model only',
      'guessed',
    ])
  })
  it('has its nouns in bold, and long names may break at their words', () =>
    expect(
      markup(SentenceText, {
        sentence: [
          { kind: 'noun', text: 'A bay' },
          { kind: 'text', text: ' has depot.crate_lids.' },
        ] as never,
      }),
    ).toBe('<b>A bay</b> has depot.<wbr/>crate_<wbr/>lids.'))
})

describe('the keys of the desk', () => {
  it('are each listed once', () => {
    const keys = deskKeys.flatMap((g) => g.keys.map(([key]) => key))
    expect(new Set(keys).size).toBe(keys.length)
  })
})
