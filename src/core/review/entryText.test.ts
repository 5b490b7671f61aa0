import { describe, expect, it } from 'vitest'
import { decodeEntry, type Edit } from '../model/index.ts'
import { entryText } from './entryText.ts'

const says = (edit: Edit, note: string | null = null) => entryText(decodeEntry({ seq: 1, at: 'x', by: 'Ada', kind: 'edit', edit, note } as never))

describe('what was set by hand, in words', () => {
  it.each<readonly [Edit, string]>([
    [{ facet: 'entity.name', subject: 's.bay', value: 'Berth' }, 'called the class of s.bay Berth'],
    [{ facet: 'property.name', subject: 's.bay(no)', value: 'number' }, 'called the property of s.bay(no) number'],
    [{ facet: 'reference.ownName', subject: 's.crate(bay_id)>s.bay', value: 'berth' }, 'called the end that s.crate(bay_id) makes berth'],
    [{ facet: 'reference.inverseName', subject: 's.crate(bay_id)', value: 'boxes' }, 'called the other end of s.crate(bay_id) boxes'],
    [{ facet: 'join.firstName', subject: 's.bay_lane', value: 'lanes' }, 'called the first end of s.bay_lane lanes'],
    [{ facet: 'join.secondName', subject: 's.bay_lane', value: 'bays' }, 'called the second end of s.bay_lane bays'],
    [{ facet: 'reference.target', subject: 's.crate(bay_id)', value: null }, 'read s.crate(bay_id) as no reference'],
    [{ facet: 'join.reading', subject: 's.bay_lane', value: { as: 'entity' } }, 'read s.bay_lane as an entity'],
    [{ facet: 'column.values', subject: 's.crate(kind)', value: ['box', 'bag'] }, 'read s.crate(kind) as one of its words'],
    [{ facet: 'column.flag', subject: 's.crate(open)', value: null }, 'read s.crate(open) as its words as they are'],
    [{ facet: 'column.role', subject: 's.crate(version)', value: 'version' }, 'read s.crate(version) as the version of its row'],
    [{ facet: 'columns.group', subject: 'columns:s.crate(x, y)', value: { name: 'spot' } }, 'read s.crate(x, y) as one type, spot'],
  ])('%j', (edit, text) => expect(says(edit)).toBe(text))

  it('with the reason that was given', () =>
    expect(says({ facet: 'entity.name', subject: 's.bay', value: 'Berth' }, 'as the crew says')).toBe('called the class of s.bay Berth (“as the crew says”)'))
})
