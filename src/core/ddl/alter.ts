// ALTER TABLE and its kin, in all three dialects.
import { deferrable, expressionUntil, optionChanges, options, qualified, typeName } from './clauses.ts'
import { columnDefinition, startsClause } from './columns.ts'
import { tableConstraint } from './constraints.ts'
import type { Scanner } from './scanner.ts'
import { sequenceSettings } from './sequences.ts'
import type { AlterAction, ConstraintDefinition } from './statement.ts'
import { bound, setting } from './tables.ts'

/** All actions of one ALTER TABLE, after the table's name. */
export function alterActions(s: Scanner): readonly AlterAction[] {
  const found: AlterAction[] = []
  do found.push(...alterAction(s))
  while (s.acceptMark(','))
  return found
}

function alterAction(s: Scanner): readonly AlterAction[] {
  if (s.accept('ADD')) return addAction(s)
  if (s.accept('DROP')) return [dropAction(s)]
  if (s.accept('ALTER')) return [alterColumn(s)]
  if (s.accept('RENAME')) return [renameAction(s)]
  if (s.accept('MODIFY')) {
    s.accept('COLUMN')
    const definition = columnDefinition(s)
    position(s)
    return [{ kind: 'change column', column: definition.name, definition }]
  }
  if (s.accept('CHANGE')) {
    s.accept('COLUMN')
    const column = s.name('a column')
    const definition = columnDefinition(s)
    position(s)
    return [{ kind: 'change column', column, definition }]
  }
  return [tableAction(s)]
}

/** FIRST, AFTER column: where MySQL puts the column. */
function position(s: Scanner): string | 'first' | null {
  if (s.accept('FIRST')) return 'first'
  return s.accept('AFTER') ? s.name('a column') : null
}

function addAction(s: Scanner): readonly AlterAction[] {
  if (!s.is('COLUMN')) {
    const constraint = tableConstraint(s)
    if (constraint) return [{ kind: 'add constraint', constraint: withNotValid(s, constraint) }]
  }
  s.accept('COLUMN')
  const ifNotExists = s.accept('IF', 'NOT', 'EXISTS')
  if (s.acceptMark('(')) {
    const found: AlterAction[] = []
    do {
      const constraint = tableConstraint(s)
      if (constraint) found.push({ kind: 'add constraint', constraint })
      else found.push({ kind: 'add column', column: columnDefinition(s), ifNotExists, place: null })
    } while (s.acceptMark(','))
    s.expectMark(')')
    return found
  }
  const column = columnDefinition(s)
  return [{ kind: 'add column', column, ifNotExists, place: position(s) }]
}

function withNotValid(s: Scanner, c: ConstraintDefinition): ConstraintDefinition {
  const notValid = s.accept('NOT', 'VALID')
  return notValid && (c.kind === 'foreign key' || c.kind === 'check') ? { ...c, notValid } : c
}

function dropAction(s: Scanner): AlterAction {
  const of = s.accept('CONSTRAINT')
    ? 'any'
    : s.accept('PRIMARY', 'KEY')
      ? 'primary key'
      : s.accept('FOREIGN', 'KEY')
        ? 'foreign key'
        : s.accept('CHECK')
          ? 'check'
          : s.lexis.conditional !== null && (s.accept('INDEX') || s.accept('KEY'))
            ? 'index'
            : null
  if (of === 'primary key') return { kind: 'drop constraint', name: '', ifExists: false, of }
  if (of === null) s.accept('COLUMN')
  const ifExists = s.accept('IF', 'EXISTS')
  const name = s.name('what to drop')
  if (!s.accept('CASCADE')) s.accept('RESTRICT')
  return of === null ? { kind: 'drop column', column: name, ifExists } : { kind: 'drop constraint', name, ifExists, of }
}

function renameAction(s: Scanner): AlterAction {
  if (s.accept('CONSTRAINT')) {
    const name = s.name('a constraint')
    s.expect('TO')
    return { kind: 'rename constraint', name, to: s.name() }
  }
  if (s.lexis.conditional !== null && (s.accept('INDEX') || s.accept('KEY'))) {
    const name = s.name('an index')
    s.expect('TO')
    return { kind: 'rename index', name, to: s.name() }
  }
  if (s.accept('TO') || s.accept('AS')) return { kind: 'rename', to: qualified(s) }
  s.accept('COLUMN')
  const column = s.name('a column')
  // MySQL: RENAME new_name
  if (s.done || s.isMark(',')) return { kind: 'rename', to: { schema: null, name: column } }
  s.expect('TO')
  return { kind: 'rename column', column, to: s.name() }
}

function alterColumn(s: Scanner): AlterAction {
  if (s.accept('CONSTRAINT')) {
    const name = s.name('a constraint')
    return { kind: 'alter constraint', name, deferrable: deferrable(s) }
  }
  if (s.lexis.conditional !== null && s.accept('INDEX')) {
    s.name('an index')
    if (!s.accept('VISIBLE')) s.expect('INVISIBLE')
    return { kind: 'nothing' }
  }
  s.accept('COLUMN')
  if (s.kind === 'number') {
    s.next()
    s.expect('SET', 'STATISTICS')
    number(s)
    return { kind: 'nothing' }
  }
  const column = s.name('a column')
  if (s.accept('SET', 'DATA', 'TYPE') || s.accept('TYPE')) return columnType(s, column)
  if (s.accept('SET', 'DEFAULT')) return { kind: 'column default', column, expression: expressionUntil(s, () => startsClause(s)) }
  if (s.accept('DROP', 'DEFAULT')) return { kind: 'column default', column, expression: null }
  if (s.accept('SET', 'NOT', 'NULL')) return { kind: 'column null', column, notNull: true }
  if (s.accept('DROP', 'NOT', 'NULL')) return { kind: 'column null', column, notNull: false }
  if (s.accept('SET', 'STORAGE')) return { kind: 'column storage', column, storage: s.name().toLowerCase() }
  if (s.accept('SET', 'COMPRESSION')) return { kind: 'column compression', column, compression: s.name().toLowerCase() }
  if (s.accept('SET', 'STATISTICS')) return { kind: 'column statistics', column, target: number(s) }
  if (s.accept('DROP', 'IDENTITY') || s.accept('DROP', 'EXPRESSION')) {
    s.accept('IF', 'EXISTS')
    return { kind: 'column plain', column }
  }
  const identity = identityAction(s, column)
  if (identity) return identity
  if (s.accept('SET')) return { kind: 'column options', column, set: options(s), reset: [] }
  if (s.accept('RESET')) return { kind: 'column options', column, set: [], reset: options(s) }
  if (s.accept('OPTIONS')) return { kind: 'column foreign options', column, changes: optionChanges(s) }
  throw s.unreadable('a change of a column was expected')
}

/** ADD GENERATED … AS IDENTITY, SET GENERATED. */
function identityAction(s: Scanner, column: string): AlterAction | null {
  if (s.accept('ADD', 'GENERATED')) {
    const byDefault = s.accept('BY', 'DEFAULT')
    if (!byDefault) s.expect('ALWAYS')
    s.expect('AS', 'IDENTITY')
    const bracket = s.acceptMark('(')
    const settings = sequenceSettings(s)
    if (bracket) s.expectMark(')')
    return { kind: 'column identity', column, identity: { generation: byDefault ? 'by default' : 'always', settings } }
  }
  if (s.accept('SET', 'GENERATED')) {
    const byDefault = s.accept('BY', 'DEFAULT')
    if (!byDefault) s.expect('ALWAYS')
    return { kind: 'column identity', column, identity: { generation: byDefault ? 'by default' : 'always', settings: sequenceSettings(s) } }
  }
  return null
}

function columnType(s: Scanner, column: string): AlterAction {
  const type = typeName(s)
  const collation = s.accept('COLLATE') ? qualified(s) : null
  if (s.accept('USING')) expressionUntil(s, () => false)
  return { kind: 'column type', column, type, collation }
}

function number(s: Scanner): number {
  const minus = s.acceptMark('-')
  if (s.kind !== 'number') throw s.unreadable('a number was expected')
  const value = Number(s.raw)
  s.next()
  return minus ? -value : value
}

function tableAction(s: Scanner): AlterAction {
  // What every table of a dump has comes first.
  const known = s.is('OWNER') ? plainAction(s) : (hierarchyAction(s) ?? securityAction(s) ?? setAction(s) ?? plainAction(s))
  if (known) return known
  const settings = new Map<string, string>()
  setting(s, settings)
  while (!s.done && !s.isMark(',')) setting(s, settings)
  return { kind: 'settings', settings }
}

function hierarchyAction(s: Scanner): AlterAction | null {
  if (s.accept('ATTACH', 'PARTITION')) {
    const partition = qualified(s, 'a table')
    return { kind: 'attach partition', partition, bound: bound(s) }
  }
  if (s.accept('DETACH', 'PARTITION')) {
    const partition = qualified(s, 'a table')
    if (!s.accept('CONCURRENTLY')) s.accept('FINALIZE')
    return { kind: 'detach partition', partition }
  }
  if (s.accept('INHERIT')) return { kind: 'inherit', parent: qualified(s, 'a table') }
  if (s.accept('NOT', 'OF')) return { kind: 'of type', type: null }
  if (s.accept('OF')) return { kind: 'of type', type: qualified(s, 'a type') }
  if (s.accept('OPTIONS')) return { kind: 'foreign options', changes: optionChanges(s) }
  if (s.accept('NO', 'INHERIT')) return { kind: 'no inherit', parent: qualified(s, 'a table') }
  return null
}

function securityAction(s: Scanner): AlterAction | null {
  if (s.accept('ENABLE', 'ROW', 'LEVEL', 'SECURITY')) return { kind: 'row security', enabled: true }
  if (s.accept('DISABLE', 'ROW', 'LEVEL', 'SECURITY')) return { kind: 'row security', enabled: false }
  if (s.accept('FORCE', 'ROW', 'LEVEL', 'SECURITY')) return { kind: 'row security', forced: true }
  if (s.accept('NO', 'FORCE', 'ROW', 'LEVEL', 'SECURITY')) return { kind: 'row security', forced: false }
  return s.is('ENABLE') || s.is('DISABLE') ? firing(s) : null
}

function setAction(s: Scanner): AlterAction | null {
  if (s.accept('SET', 'WITHOUT', 'CLUSTER')) return { kind: 'cluster', index: null }
  if (s.accept('SET', 'WITHOUT', 'OIDS') || s.accept('SET', 'WITH', 'OIDS')) return { kind: 'nothing' }
  if (s.accept('SET', 'LOGGED')) return { kind: 'logged', logged: true }
  if (s.accept('SET', 'UNLOGGED')) return { kind: 'logged', logged: false }
  if (s.accept('SET', 'SCHEMA')) return { kind: 'set schema', schema: s.name('a schema') }
  if (s.accept('SET', 'ACCESS', 'METHOD')) return { kind: 'access method', method: s.name('an access method') }
  if (s.accept('SET', 'TABLESPACE')) {
    s.next()
    return { kind: 'nothing' }
  }
  if (s.accept('SET')) return { kind: 'options', set: options(s), reset: [] }
  if (s.accept('RESET')) return { kind: 'options', set: [], reset: options(s) }
  return null
}

function plainAction(s: Scanner): AlterAction | null {
  if (s.accept('OWNER', 'TO')) {
    s.next()
    return { kind: 'nothing' }
  }
  if (s.accept('VALIDATE', 'CONSTRAINT')) return { kind: 'validate constraint', name: s.name() }
  if (s.accept('CLUSTER', 'ON')) return { kind: 'cluster', index: s.name() }
  if (s.accept('REPLICA', 'IDENTITY')) return replicaIdentity(s)
  if (s.accept('CONVERT', 'TO', 'CHARACTER', 'SET')) {
    s.next()
    if (s.accept('COLLATE')) s.next()
    return { kind: 'nothing' }
  }
  return s.accept('FORCE') ? { kind: 'nothing' } : null
}

function replicaIdentity(s: Scanner): AlterAction {
  if (s.accept('USING', 'INDEX')) return { kind: 'replica identity', identity: { index: s.name('an index') } }
  for (const identity of ['default', 'full', 'nothing'] as const) if (s.accept(identity.toUpperCase())) return { kind: 'replica identity', identity }
  throw s.unreadable('DEFAULT, FULL, NOTHING or USING INDEX was expected')
}

/** ENABLE [REPLICA | ALWAYS] {TRIGGER | RULE} name, DISABLE … ; MySQL's ENABLE KEYS too. */
function firing(s: Scanner): AlterAction {
  const disabled = s.accept('DISABLE')
  if (!disabled) s.expect('ENABLE')
  if (s.accept('KEYS')) return { kind: 'nothing' }
  const fires = disabled ? 'disabled' : s.accept('REPLICA') ? 'replica' : s.accept('ALWAYS') ? 'always' : 'origin'
  const of = s.accept('RULE') ? 'rule' : 'trigger'
  if (of === 'trigger') s.expect('TRIGGER')
  return { kind: 'firing', of, name: s.name(), fires }
}
