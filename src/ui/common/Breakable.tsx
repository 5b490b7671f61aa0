import { Fragment } from 'react'

/** A long database name that may go on in the next line after an underscore, a dot or a bracket, or before a capital, and nowhere else. */
export function Breakable({ text }: { text: string }) {
  return text.split(/(?<=[_.(,])|(?<=\p{Ll})(?=\p{Lu})/u).map((part, i) => (
    <Fragment key={i}>
      {i > 0 ? <wbr /> : null}
      {part}
    </Fragment>
  ))
}
