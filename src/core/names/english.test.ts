import { describe, expect, it } from 'vitest'
import { isEnglish, speakEnglish, splitEnglish } from './english.ts'

const none = () => false

describe('words without anything between them', () => {
  it.each([
    ['jobclass', 'job class'],
    ['mediatype', 'media type'],
    ['objectcompression', 'object compression'],
    ['userid', 'user id'],
    ['validto', 'valid to'],
    ['isactive', 'is active'],
    ['orderitems', 'order items'],
    ['contactgroups', 'contact groups'],
  ])('%s → %s', (glued, apart) => expect(splitEnglish(glued, none)?.join(' ')).toBe(apart))

  it.each(['timestamp', 'username', 'hostname', 'therapist', 'borehole', 'letterbox', 'timetables', 'config', 'potno', 'vcard', 'xyzzy', 'rd2name'])(
    '%s stays whole',
    (word) => expect(splitEnglish(word, none)).toBeNull(),
  )

  it('a word that the schema uses goes before all others', () => {
    expect(splitEnglish('crateframes', (p) => p === 'crate')).toEqual(['crate', 'frames'])
    expect(splitEnglish('skepno', (p) => p === 'skep' || p === 'no')).toBeNull()
    expect(splitEnglish('skepname', (p) => p === 'skep')).toEqual(['skep', 'name'])
  })

  it('knows words of the language and of the trade, one or many', () => {
    expect(['shelves', 'changeset', 'changesets', 'warehouse'].every(isEnglish)).toBe(true)
    expect(['auftrag', 'gofutiid'].some(isEnglish)).toBe(false)
  })

  it('tells whether a schema speaks English', () => {
    expect(speakEnglish(['bay', 'shelf_visit', 'warehousegate', 'crate', 'label', 'qzx', 'lane'])).toBe(true)
    expect(speakEnglish(['auftrag', 'kunde', 'rechnung', 'mitarbeiter', 'lieferung', 'position'])).toBe(false)
    expect(speakEnglish(['crate', 'label'])).toBe(false)
  })
})
