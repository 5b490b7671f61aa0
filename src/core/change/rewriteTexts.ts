// Every text of a catalog that is SQL, rewritten.
import type { Catalog, Expression, Relation, Routine } from '../catalog/index.ts'

/** The server prints its own text afterwards: what was rewritten here counts as written by hand. */
const written = (e: Expression, text: string): Expression => (text === e.written ? e : { written: text, canonical: null })
const each = <T extends Expression | null>(e: T, of: (text: string) => string): T => (e === null ? e : (written(e, of(e.written)) as T))

/** Is its body kept as parsed, so that it follows renames and holds on to columns (manual, CREATE FUNCTION, sql_body)? */
export const isParsed = (r: Pick<Routine, 'language' | 'definition'>): boolean =>
  r.language === 'sql' && /(\bBEGIN\s+ATOMIC\b|(^|\n)\s*RETURN\b)/i.test(r.definition.written) && !/\bAS\s+(\$|'|E')/i.test(r.definition.written)

/** Every text of the catalog that is SQL, rewritten; `own` is for the texts of one relation, `parsed` for routines whose bodies are kept as parsed. */
export function rewriteTexts(
  c: Catalog,
  own: (r: Relation, text: string) => string,
  other: (text: string) => string,
  parsed: (r: Routine, text: string) => string = (_, text) => other(text),
): Catalog {
  const ofRelation = (r: Relation): Relation => {
    const mine = (text: string) => own(r, text)
    const element = <T extends { readonly expression: Expression | null }>(x: T): T => ({ ...x, expression: each(x.expression, mine) })
    return {
      ...r,
      columns: r.columns.map((x) => ({
        ...x,
        type: other(x.type),
        default: each(x.default, other),
        generated: x.generated && { ...x.generated, expression: each(x.generated.expression, mine) },
      })),
      checks: r.checks.map((k) => ({ ...k, expression: each(k.expression, mine) })),
      indexes: r.indexes.map((x) => ({ ...x, columns: x.columns.map(element), predicate: each(x.predicate, mine) })),
      exclusions: r.exclusions.map((x) => ({ ...x, elements: x.elements.map(element), predicate: each(x.predicate, mine) })),
      policies: r.policies.map((p) => ({ ...p, using: each(p.using, mine), check: each(p.check, mine) })),
      triggers: r.triggers.map((t) => ({ ...t, definition: each(t.definition, mine) })),
      rules: r.rules.map((t) => ({ ...t, definition: each(t.definition, mine) })),
      partitionKey: r.partitionKey === null ? null : mine(r.partitionKey),
      definition: each(r.definition, mine),
    }
  }
  return {
    ...c,
    relations: c.relations.map(ofRelation),
    objects: c.objects.map((o) => ({ ...o, definition: o.definition.map((d) => each(d, other)) })),
    domains: c.domains.map((d) => ({ ...d, default: each(d.default, other), checks: d.checks.map((k) => ({ ...k, expression: each(k.expression, other) })) })),
    routines: c.routines.map((r) => (isParsed(r) ? { ...r, definition: each(r.definition, (text) => parsed(r, text)) } : r)),
  }
}
