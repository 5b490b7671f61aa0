import { describe, expect, it } from 'vitest'
import { readScript } from '../../ddl/index.ts'
import { postgresScript } from './script.ts'
import { isSettable, optionName } from './settable.ts'

describe('options that a person can set', () => {
  it.each([
    [{ kind: 'table' }, 'fillfactor', 150020, true],
    [{ kind: 'table' }, 'toast.autovacuum_enabled', 150020, true],
    [{ kind: 'table' }, 'toast.fillfactor', 150020, false],
    [{ kind: 'table' }, 'autovacuum_vacuum_max_threshold', 170010, false],
    [{ kind: 'table' }, 'autovacuum_vacuum_max_threshold', 180004, true],
    [{ kind: 'table' }, 'constructor', 150020, false],
    [{ kind: 'partitioned table' }, 'fillfactor', 150020, false],
    [{ kind: 'column' }, 'n_distinct', null, true],
    [{ kind: 'column' }, 'keeper_mark', null, false],
    [{ kind: 'view' }, 'security_invoker', 140000, false],
    [{ kind: 'view' }, 'security_invoker', null, true],
    [{ kind: 'index', method: 'btree' }, 'deduplicate_items', 150020, true],
    [{ kind: 'index', method: 'brin' }, 'fillfactor', 150020, false],
    [{ kind: 'index', method: 'of_an_extension' }, 'anything', 150020, true],
    [{ kind: 'operator class', schema: null }, 'siglen', 150020, true],
    [{ kind: 'operator class', schema: 'depot' }, 'anything', 150020, true],
  ] as const)('%o %s on %s: %s', (owner, name, version, can) => expect(isSettable(owner, name, version)).toBe(can))

  it.each([
    ['fillfactor=70', 'fillfactor'],
    ['a=b=c', 'a'],
    ['bare', 'bare'],
  ])('%s is called %s', (option, name) => expect(optionName(option)).toBe(name))

  it('are all that a script keeps; others are told once each', () => {
    const { catalog, diagnostics } = readScript(
      [
        {
          name: 'f.sql',
          text: 'create table t (a int, b int) with (fillfactor = 70, oids = false); alter table t alter a set (keeper_mark = 1), alter b set (n_distinct = 5, keeper_mark = 2);',
        },
      ],
      postgresScript,
    )
    expect(catalog.relations[0]?.options).toEqual(['fillfactor=70'])
    expect(catalog.relations[0]?.columns.map((c) => c.options)).toEqual([[], ['n_distinct=5']])
    expect(diagnostics.map((d) => (d.code === 'ignored-by-server' ? d.name : d.code))).toEqual([
      '"oids" of a table',
      '"keeper_mark" of a column, said 2 times,',
    ])
  })
})
