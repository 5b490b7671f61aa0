import type { ReactNode } from 'react'

interface Props {
  readonly label: string
  /** How high it may get. */
  readonly height: string
  readonly head: ReactNode
  readonly children: ReactNode
}

/** A table of values as the database prints them, in a box of its own that scrolls. */
export function ScrolledRows({ label, height, head, children }: Props) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a scrolled region must be reached by keys
    <section className={`mt-1 overflow-auto border border-rule bg-card ${height}`} tabIndex={0} aria-label={label}>
      <table className="db text-[0.9em]">
        <thead className="sticky top-0 bg-card text-left">
          <tr>{head}</tr>
        </thead>
        <tbody>{children}</tbody>
      </table>
    </section>
  )
}

/** One value; null is none, and an empty text is one. */
export function Cell({ value, className = '' }: { readonly value: string | null; readonly className?: string }) {
  return (
    <td className={`max-w-56 truncate px-1.5 whitespace-nowrap ${className}`} title={value ?? 'null'}>
      {value ?? <span className="text-soft italic">null</span>}
    </td>
  )
}
