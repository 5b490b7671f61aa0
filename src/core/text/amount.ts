/** `1 table`, `1,864 tables`, `2 entries`. */
export const amount = (n: number, one: string, many = `${one}s`): string => `${n.toLocaleString('en')} ${n === 1 ? one : many}`
