/** `crate_range` → `crate_multirange`, anything else gets `_multirange` (typecmds.c, makeMultirangeTypeName). */
export const multirangeName = (range: string): string => (range.includes('range') ? range.replace('range', 'multirange') : `${range}_multirange`)
