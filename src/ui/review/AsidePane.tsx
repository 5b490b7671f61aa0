import type { ReactNode } from 'react'

interface Props {
  readonly title: string
  readonly onClose: () => void
  readonly children: ReactNode
}

/** What stands in the place of the evidence until it is closed. */
export function AsidePane({ title, onClose, children }: Props) {
  return (
    <section aria-label={title} className="min-h-0 overflow-auto border-l border-rule px-4 py-3">
      <div className="flex items-baseline">
        <h2 className="flex-1 text-lg">{title}</h2>
        <button type="button" className="btn btn-xs" onClick={onClose}>
          <span className="key">Esc</span> Close
        </button>
      </div>
      {children}
    </section>
  )
}
