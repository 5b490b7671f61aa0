// A script as a Catalog: files in order, statement by statement, on one draft.
import { type Catalog, sortCatalog } from '../catalog/index.ts'
import { alterTable } from './change.ts'
import { alterIndex } from './changeIndex.ts'
import { alterSequence } from './changeSequence.ts'
import { alterType } from './changeType.ts'
import type { ScriptDiagnostic } from './diagnostic.ts'
import { type Draft, newDraft } from './draft.ts'
import { drop } from './dropObjects.ts'
import { alterObject, alterPolicy, dropObject, dropPolicy, makeObject, makePolicy, makeRange } from './makeObject.ts'
import {
  makeComment,
  makeExtension,
  makeIndex,
  makeRoutine,
  makeRule,
  makeSchema,
  makeSequence,
  makeTrigger,
  makeType,
  makeUnmodelled,
  makeView,
  makeVirtualTable,
} from './makeOther.ts'
import { makeTable } from './makeTable.ts'
import { StatementReader, type TextPlace } from './reader.ts'
import { renameOther } from './rename.ts'
import type { Statement } from './statement.ts'
import type { Semantics } from './types.ts'

export interface ScriptResult {
  readonly catalog: Catalog
  readonly diagnostics: readonly ScriptDiagnostic[]
  /** Statements about the structure, and how many of them were read; the rest is on the closed list. */
  readonly structural: number
  readonly understood: number
  readonly ignored: number
}

/** Takes files piece by piece. `finish` gives what they make together; nothing may be fed after it. */
export class ScriptReader {
  private readonly draft: Draft
  private readonly diagnostics: ScriptDiagnostic[] = []
  private reader: StatementReader | null = null
  private understood = 0
  private unread = 0
  private ignored = 0

  /** Of the statement that made something, where more can be said of it once all is read. */
  private readonly places = new WeakMap<object, TextPlace>()

  constructor(private readonly semantics: Semantics) {
    this.draft = newDraft(semantics, semantics.base)
  }

  feed(file: string, text: string, last: boolean): void {
    this.reader ??= new StatementReader(file, this.semantics.lexis, {
      statement: (s, place) => this.take(s, place),
      unreadable: (place, expected, shown) => {
        this.unread += 1
        this.diagnostics.push({ code: 'unreadable', place, expected, text: shown })
      },
    })
    this.reader.feed(text, last)
    if (!last) return
    if (this.reader.holes.size > 0)
      this.diagnostics.push({ code: 'template', place: { file, from: 0, to: 0, line: 1, column: 1 }, holes: [...this.reader.holes].slice(0, 5) })
    this.reader = null
  }

  private take(s: Statement, place: TextPlace): void {
    if (s.kind === 'ignored') this.ignored += 1
    else this.understood += 1
    this.draft.complain = (c) => this.diagnostics.push({ ...c, place })
    this.draft.made = (x) => this.places.set(x, place)
    apply(this.draft, s)
  }

  finish(): ScriptResult {
    const { draft } = this
    const nowhere = { file: '', from: 0, to: 0, line: 1, column: 1 }
    draft.complain = (c) => this.diagnostics.push({ ...c, place: nowhere })
    draft.complainOf = (made, c) => this.diagnostics.push({ ...c, place: this.places.get(made) ?? nowhere })
    this.semantics.finish(draft)
    return {
      catalog: sortCatalog(this.semantics.settle?.(catalogOf(draft), draft) ?? catalogOf(draft)),
      diagnostics: this.diagnostics,
      structural: this.understood + this.unread,
      understood: this.understood,
      ignored: this.ignored,
    }
  }
}

/** Read whole files, in order. Never throws for what is in them. O(characters). */
export function readScript(files: readonly { readonly name: string; readonly text: string }[], semantics: Semantics): ScriptResult {
  const reader = new ScriptReader(semantics)
  for (const f of files) reader.feed(f.name, f.text, true)
  return reader.finish()
}

function apply(d: Draft, s: Statement): void {
  switch (s.kind) {
    case 'create table':
      return makeTable(d, s)
    case 'create schema': {
      makeSchema(d, s)
      const path = d.searchPath
      if (!d.semantics.fixedSchema) d.searchPath = [s.name, ...path]
      for (const e of s.elements) apply(d, e)
      d.searchPath = path
      return
    }
    case 'create extension':
      return makeExtension(d, s)
    case 'create index':
      return makeIndex(d, s)
    case 'create view':
      return makeView(d, s)
    case 'create virtual table':
      return makeVirtualTable(d, s)
    case 'create sequence':
      return makeSequence(d, s)
    case 'create enum':
    case 'create composite':
    case 'create domain':
      return makeType(d, s)
    case 'create range':
      return makeRange(d, s)
    case 'create object':
      return makeObject(d, s)
    case 'alter object':
      return alterObject(d, s)
    case 'drop object':
      return dropObject(d, s)
    case 'create policy':
      return makePolicy(d, s)
    case 'alter policy':
      return alterPolicy(d, s)
    case 'drop policy':
      return dropPolicy(d, s)
    case 'create routine':
      return makeRoutine(d, s)
    case 'create trigger':
      return makeTrigger(d, s)
    case 'create rule':
      return makeRule(d, s)
    case 'create other':
      return makeUnmodelled(d, s)
    case 'alter table':
      return alterTable(d, s)
    case 'rename tables':
      for (const { table, to } of s.pairs)
        alterTable(d, { kind: 'alter table', table, of: 'table', only: false, ifExists: false, actions: [{ kind: 'rename', to }] })
      return
    case 'alter sequence':
      return alterSequence(d, s)
    case 'alter index':
      return alterIndex(d, s)
    case 'alter type':
      return alterType(d, s)
    case 'rename other':
      return renameOther(d, s)
    case 'drop':
      return drop(d, s)
    case 'comment':
      return makeComment(d, s)
    case 'search path':
      if (!d.semantics.fixedSchema) d.searchPath = s.schemas
      return
    case 'rows follow':
    case 'ignored':
      return
    default:
      return unreachable(s)
  }
}

function unreachable(s: never): never {
  throw new Error(`a statement of no known kind: ${JSON.stringify(s)}`)
}

function catalogOf(d: Draft): Catalog {
  return {
    format: 'pelvok.catalog/1',
    dialect: d.semantics.dialect,
    schemas: [...d.schemas.values()],
    extensions: [...d.extensions.values()],
    enums: [...d.enums.values()],
    domains: [...d.domains.values()],
    composites: [...d.composites.values()],
    ranges: [...d.ranges.values()],
    sequences: [...d.sequences.values()],
    relations: [...d.relations.values()],
    routines: [...d.routines.values()],
    objects: [...d.objects.values()],
    unmodelled: [...d.unmodelled.values()],
  }
}
