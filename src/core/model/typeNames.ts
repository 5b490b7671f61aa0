// Types in the code: what is said of native ones, and the names of those the schema defines.
import { type Catalog, compareAddress, compareText } from '../catalog/index.ts'
import { pascalCase, reservedClass, splitWords } from '../names/index.ts'
import type { Composite, Enumeration, NamedType } from './entityModel.ts'
import type { Facets } from './facets.ts'

/** What is said of native types, by their spelling. */
export function ofTypes<T extends string>(facets: Facets, facet: 'type.target' | 'type.name', as: (value: string) => T): Readonly<Record<string, T>> {
  const subjects = [...facets.subjects(facet)].filter((s) => s.startsWith('type:')).sort(compareText)
  return Object.fromEntries(
    subjects.flatMap((s) => {
      const value = facets.get(facet, s)
      return value === undefined || value === null ? [] : [[s.slice('type:'.length), as(value)]]
    }),
  )
}

/** Types keep out of each other's way and of the classes': the schema's name goes in front, then a number behind. */
export function typeNames(
  catalog: Catalog,
  names: readonly string[],
): { readonly enumerations: readonly Enumeration[]; readonly namedTypes: readonly NamedType[]; readonly composites: readonly Composite[] } {
  const taken = new Set(names.map((name) => name.toLowerCase()))
  const claim = (t: { readonly schema: string; readonly name: string }) => {
    const base = pascalCase(splitWords(t.name))
    const candidates = [base, pascalCase([...splitWords(t.schema), ...splitWords(t.name)]), `${base}Type`]
    let name = candidates.find((c) => !taken.has(c.toLowerCase()) && !reservedClass(c))
    for (let n = 2; name === undefined; n += 1) name = taken.has(`${base}type${n}`.toLowerCase()) ? undefined : `${base}Type${n}`
    taken.add(name.toLowerCase())
    return name
  }
  const sorted = <T extends { readonly schema: string; readonly name: string }>(list: readonly T[]) => list.toSorted(compareAddress)
  return {
    enumerations: sorted(catalog.enums).map((t) => ({ schema: t.schema, name: t.name, typeName: claim(t), labels: t.labels })),
    namedTypes: sorted(catalog.domains).map((t) => ({ schema: t.schema, name: t.name, typeName: claim(t), type: t.type, nullable: t.nullable })),
    composites: sorted(catalog.composites).map((t) => ({
      schema: t.schema,
      name: t.name,
      typeName: claim(t),
      attributes: t.attributes.map((a) => ({ name: a.name, type: a.type })),
    })),
  }
}
