import { describe, expect, it } from 'vitest'
import { decodeEntry } from './index.ts'
import { parseJsonShape } from './jsonShape.ts'

describe('the shape of JSON', () => {
  it('is what JSON Schema says of what a value is; what only describes is left out', () => {
    const text =
      '{"$schema":"https://json-schema.org/draft/2020-12/schema","type":"object","title":"x","properties":{"a":{"type":"integer","description":"y"},"b":{"type":"array","items":{"enum":["x",1,null]}}},"required":["a"],"additionalProperties":false}'
    expect(parseJsonShape(text)).toEqual({
      ok: true,
      shape: {
        type: 'object',
        properties: { a: { type: 'integer' }, b: { type: 'array', items: { enum: ['x', 1, null] } } },
        required: ['a'],
        additionalProperties: false,
      },
    })
    expect(parseJsonShape('{"anyOf":[{"const":1},{"type":"null"}]}')).toMatchObject({ ok: true })
  })

  it.each([
    ['{"type": "object"', /no JSON/],
    ['[]', /at the top: a schema is an object/],
    ['{"type":"object","properties":{"a":{"type":"integr"}}}', /at properties\.a: \{"type":"integr"\}/],
    ['{"type":"array","items":{"type":"string","minLength":3}}', /at items: .*words of JSON Schema that narrow otherwise are not read/],
    ['{"anyOf":[{"type":"string"},7]}', /at anyOf\.1/],
    ['{"type":"object","additionalProperties":true}', /at additionalProperties/],
  ])('%s is refused with its place', (text, says) => expect(parseJsonShape(text)).toMatchObject({ ok: false, problem: expect.stringMatching(says) }))

  it('is kept in the ledger, and a wrong one is not', () => {
    const entry = (value: object | null) => ({
      seq: 1,
      at: 'x',
      by: 'Ada',
      kind: 'edit',
      edit: { facet: 'json.schema', subject: 's.bay(flags)', value },
      note: null,
    })
    expect(decodeEntry(entry({ type: 'array', items: { type: 'string' } }))).toMatchObject({ edit: { value: { type: 'array' } } })
    expect(() => decodeEntry(entry({ type: 'list' }))).toThrow()
  })
})
