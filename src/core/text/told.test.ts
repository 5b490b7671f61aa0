import { describe, expect, it } from 'vitest'
import { Told, toldBy } from './told.ts'

describe('what is told', () => {
  it('comes back out of its digest', () => {
    const words = { message: 'no bay "a"', detail: '', hint: 'Make one.' }
    expect(toldBy(new Told(words, 409).digest)).toEqual(words)
  })
  it.each([undefined, '', '1234567', 'told:', 'told:{"message":1}', 'told:null'])('is nothing in %j', (digest) => expect(toldBy(digest)).toBeNull())
})
