// What a new row may be made from, and what may be changed of one, as Zod schemas: an allow-list, checked before anything is sent.
import type { Entity, Property } from '../../model/index.ts'
import { type Declared, type EmitContext, keyOf } from './entityFile.ts'
import { article, docComment } from './text.ts'

/** What a writer may give a new row: not what the database gives, a key that it makes, or who-and-when and version columns that are kept by themselves. */
const isGiven = (e: Entity, p: Property): boolean =>
  p.written !== 'never' &&
  p.role === null &&
  !(keyOf(e).includes(p) && e.identity.kind === 'primary key' && e.identity.generated && p.written === 'has default')

/** The whole file, of an entity that is written. */
export function inputFile(e: Entity, x: EmitContext): string {
  const names = x.declared.get(e.id) as Declared
  const given = e.properties.filter((p) => isGiven(e, p))
  const key = keyOf(e)
  const line = (p: Property) => {
    const { schema } = x.types.ofProperty(p)
    const optional = p.nullable ? '.nullable().optional()' : p.written === 'has default' ? '.optional()' : ''
    return `  ${p.name}: ${schema}${optional},\n`
  }
  const assigned = given.filter((p) => key.includes(p))
  const plain = given.filter((p) => !key.includes(p))
  const lines = (list: readonly Property[]) => list.map(line).join('')
  const texts = [...assigned, ...plain].map((p) => x.types.ofProperty(p).schema)
  const uses = texts.some((t) => /\bof\./.test(t))
  const changing = `${docComment([`What may be changed of ${article(e.name)}: not its key, and nothing that the database or the program keeps by itself.`], '')}export const ${names.changeSchema} = z.object({\n${lines(plain)}}).strict().partial()\n`
  const making = `${docComment([`What a new ${e.name} is made from.`], '')}export const ${names.inputSchema} = z.object({\n${lines([...assigned, ...plain])}}).strict()\n`
  const types = `export type ${names.input} = z.infer<typeof ${names.inputSchema}>\nexport type ${names.change} = z.infer<typeof ${names.changeSchema}>\n`
  return `${x.header}import { z } from 'zod'\n${uses ? `import * as of from './schemas.js'\n` : ''}\n${making}\n${changing}\n${types}`
}
