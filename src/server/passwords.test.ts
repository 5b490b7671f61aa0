import { expect, it } from 'vitest'
import { isPassword, passwordHash } from './passwords.ts'

it('keeps no password: the same one gives another text each time, and each is known again', async () => {
  const [one, other] = await Promise.all([passwordHash('nine brass lanterns'), passwordHash('nine brass lanterns')])
  expect(one).toMatch(/^scrypt\$32768\$8\$3\$[\w-]{22}\$[\w-]{43}$/)
  expect(one).not.toBe(other)
  expect(await isPassword('nine brass lanterns', one)).toBe(true)
  expect(await isPassword('nine brass lanterns', other)).toBe(true)
  expect(await isPassword('nine brass lantern', one)).toBe(false)
})

it('takes letters typed as one code point or as two for the same', async () => {
  const hash = await passwordHash('caf\u00e9 caf\u00e9 caf\u00e9')
  expect(await isPassword('cafe\u0301 cafe\u0301 cafe\u0301', hash)).toBe(true)
})

it.each(['', 'scrypt$32768$8$3$salt$', 'plain$1$1$1$a$b', 'nine brass lanterns'])('says no to what is no hash: "%s"', async (hash) =>
  expect(await isPassword('nine brass lanterns', hash)).toBe(false),
)
