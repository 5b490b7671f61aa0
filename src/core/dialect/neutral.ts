// Types in terms of no particular engine or language: what a column's values are.

export type Neutral =
  | {
      readonly kind:
        | 'integer'
        | 'bigint'
        | 'decimal'
        | 'float'
        | 'text'
        | 'boolean'
        | 'date'
        | 'time'
        | 'local datetime'
        | 'instant'
        | 'interval'
        | 'bytes'
        | 'uuid'
        | 'json'
    }
  /** A type the schema defines: an enumerated type, a domain, a composite. */
  | { readonly kind: 'named'; readonly schema: string; readonly name: string }
  | { readonly kind: 'list'; readonly of: Neutral }
  /** Kept as the server prints it. */
  | { readonly kind: 'other'; readonly type: string }

/** A neutral type in words: `list of integer`. */
export function neutralText(t: Neutral): string {
  switch (t.kind) {
    case 'named':
      return t.schema === '' ? t.name : `${t.schema}.${t.name}`
    case 'list':
      return `list of ${neutralText(t.of)}`
    case 'other':
      return 'as printed'
    default:
      return t.kind
  }
}
