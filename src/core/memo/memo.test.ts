import { expect, it } from 'vitest'
import { keptWith, remembered } from './memo.ts'

it('asks once for each text, and forgets when there are too many', () => {
  const asked: string[] = []
  const of = remembered((text) => {
    asked.push(text)
    return text.length > 1
  }, 2)
  expect([of('a'), of('bb'), of('a'), of('bb')]).toEqual([false, true, false, true])
  expect(asked).toEqual(['a', 'bb'])
  expect([of('ccc'), of('a')]).toEqual([true, false])
  expect(asked).toEqual(['a', 'bb', 'ccc', 'a'])
})

it('keeps an answer with the value it is of, also where there is none', () => {
  let asked = 0
  const of = keptWith((list: readonly number[]) => {
    asked += 1
    return list[0]
  })
  const [one, other] = [[], [1]]
  expect([of(one), of(other), of(one), of(other)]).toEqual([undefined, 1, undefined, 1])
  expect(asked).toBe(2)
})
