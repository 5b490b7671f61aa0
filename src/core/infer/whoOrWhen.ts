// Columns that say who made or changed a row, and when.
import type { Column } from '../catalog/index.ts'
import { remembered } from '../memo/memo.ts'
import { splitWords } from '../names/index.ts'
import { isMoment } from './structure/common.ts'

const deeds = ['created', 'creation', 'inserted', 'added', 'updated', 'update', 'changed', 'modified', 'edited', 'touched']
const parts = ['at', 'on', 'by', 'date', 'time', 'timestamp', 'datetime', 'user', 'last', 'when', 'ts']

/** A deed and nothing that is not about when or by whom: `created_at`, `date_created`, `last_modified_by`. */
export const namesWhoOrWhen = remembered((name: string): boolean => {
  const words = splitWords(name)
  return words.some((w) => deeds.includes(w)) && words.every((w) => deeds.includes(w) || parts.includes(w))
})

export const saysWhoOrWhen = (c: Column): boolean => namesWhoOrWhen(c.name) && (isMoment(c.type) || splitWords(c.name).some((w) => w === 'by' || w === 'user'))
