// What completes a text that is being typed.

/** More than this is no help to anybody. */
const most = 50

const parts = (value: string) => value.split(',')
const last = (value: string, many: boolean) => (many ? (parts(value).at(-1) ?? '') : value).trim()

/** Options that the text, or its last part of a list with commas, begins or occurs in; those first that begin with it, at any word. Not what stands there already. Pure. */
export function matching(value: string, options: readonly string[], many: boolean): readonly string[] {
  const word = last(value, many).toLowerCase()
  const before = new Set(
    many
      ? parts(value)
          .slice(0, -1)
          .map((p) => p.trim())
      : [],
  )
  const rank = (option: string): number => {
    const text = option.toLowerCase()
    if (text.startsWith(word)) return 0
    const at = text.indexOf(word)
    return at < 0 ? -1 : /[a-z0-9]/.test(text[at - 1] ?? '') ? 2 : 1
  }
  return options
    .flatMap((option) => {
      const r = before.has(option) || option.toLowerCase() === word ? -1 : rank(option)
      return r < 0 ? [] : [{ option, r }]
    })
    .sort((a, b) => a.r - b.r)
    .slice(0, most)
    .map((x) => x.option)
}

/** The text with the option in the place of what was typed of it. */
export const completed = (value: string, option: string, many: boolean): string =>
  many
    ? [
        ...parts(value)
          .slice(0, -1)
          .map((p) => p.trim()),
        option,
      ].join(', ')
    : option
