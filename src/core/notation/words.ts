// The words of the notation, for reading and for completion.
import type { Dialect } from '../catalog/index.ts'
import type { TypeTarget } from '../model/index.ts'

export const dialects: readonly Dialect[] = ['postgresql', 'mysql', 'sqlite']
export const blockWords = [
  'entity',
  'join',
  'enumeration',
  'domain',
  'composite',
  'type',
  'elsewhere',
  'group',
  'no',
  'query',
  'function',
  'procedure',
  'aggregate',
  'window',
  'layout',
] as const
export const typeTargets: readonly TypeTarget[] = ['bigint', 'number', 'string', 'Date', 'JsonValue']
export const relationWords = ['table', 'partitioned', 'view', 'materialized', 'foreign'] as const
/** What may be said of a property behind its type. */
export const propertyWords = ['optional', 'counted', 'default', 'computed', 'one', 'any', 'yes', 'no', 'version', 'audit', 'held', 'shape', 'note'] as const
export const endWords = ['enforced', 'declared', 'model', 'guessed', 'on', 'there', 'unguarded'] as const
export const actions = ['no action', 'restrict', 'cascade', 'set null', 'set default'] as const

export const lineWords = ['key', 'known', 'unique', 'index', 'note', 'no', 'kind', 'query'] as const
