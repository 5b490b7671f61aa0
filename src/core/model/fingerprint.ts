import { hashText } from '../catalog/index.ts'

/** The first 16 hex digits of the hash of a value's JSON; for telling "the same as before", not for security. */
export function canonicalHash(value: unknown): string {
  return hashText(JSON.stringify(value)).slice(0, 16)
}
