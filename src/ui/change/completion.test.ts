import { describe, expect, it } from 'vitest'
import { completed, matching } from './completion.ts'

const tables = ['depot.bay', 'depot.bay_lid', 'yard.lid', 'yard.tray']

describe('what completes a text', () => {
  it.each<readonly [string, boolean, readonly string[]]>([
    ['dep', false, ['depot.bay', 'depot.bay_lid']],
    ['lid', false, ['depot.bay_lid', 'yard.lid']],
    ['BAY', false, ['depot.bay', 'depot.bay_lid']],
    ['ay', false, ['depot.bay', 'depot.bay_lid', 'yard.tray']],
    ['depot.bay', false, ['depot.bay_lid']],
    ['yard.lid, dep', true, ['depot.bay', 'depot.bay_lid']],
    ['yard.lid, ', true, ['depot.bay', 'depot.bay_lid', 'yard.tray']],
    ['nothing of it', false, []],
  ])('%s', (value, many, expected) => expect(matching(value, tables, many)).toEqual(expected))

  it('those first that begin with it, then at a word, then anywhere', () => {
    expect(matching('id', ['void', 'bay_id', 'id_no'], false)).toEqual(['id_no', 'bay_id', 'void'])
  })

  it('takes the place of what was typed, the last part of a list alone', () => {
    expect(completed('dep', 'depot.bay', false)).toBe('depot.bay')
    expect(completed('a,  b, dep', 'depot', true)).toBe('a, b, depot')
  })
})
