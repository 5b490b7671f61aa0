// Options that a server keeps for itself: counted and told, never structure.
import type { OwnOption } from './types.ts'

const manyOf: Readonly<Record<string, string>> = { index: 'indexes', 'operator class': 'columns of indexes' }

/** `on 225 columns` */
export const ownOptionPlace = (o: OwnOption): string => `on ${o.count.toLocaleString('en')} ${o.count === 1 ? o.kind : (manyOf[o.kind] ?? `${o.kind}s`)}`

/** One sentence, or nothing where there are none: `The server keeps an option for itself: pg_attver on 225 columns.` */
export function ownOptionsSentence(options: readonly OwnOption[]): string {
  if (options.length === 0) return ''
  return `The server keeps ${options.length === 1 ? 'an option' : 'options'} for itself: ${options.map((o) => `${o.name} ${ownOptionPlace(o)}`).join(', ')}.`
}
