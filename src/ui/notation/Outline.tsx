import { useMemo, useState } from 'react'

/** The classes of the text, in its order; choosing one goes there. */
export function Outline({ text, onGo }: { text: string; onGo: (offset: number) => void }) {
  const [filter, setFilter] = useState('')
  const classes = useMemo(() => [...text.matchAll(/^entity\s+("(?:[^"]|"")*"|[^\s=]+)/gm)].map((m) => ({ name: m[1] ?? '', at: m.index })), [text])
  const shown = classes.filter((c) => c.name.toLowerCase().includes(filter.toLowerCase()))
  return (
    <nav aria-label="Classes" className="flex min-h-0 flex-col border-r border-rule">
      <div className="border-b border-rule px-3 py-2">
        <h1 className="text-lg">
          Notation <span className="font-sans text-sm font-normal text-soft">{classes.length === 1 ? 'one class' : `${classes.length} classes`}</span>
        </h1>
        <input
          className="input input-sm mt-1 w-full"
          placeholder="Find a class"
          value={filter}
          onChange={(e) => setFilter(e.target.value)}
          aria-label="Find a class"
        />
      </div>
      <ul className="min-h-0 flex-1 overflow-auto py-1">
        {shown.slice(0, 500).map((c) => (
          <li key={`${c.name} ${c.at}`}>
            <button type="button" className="db block w-full px-3 py-0.5 text-left break-words hover:bg-card" onClick={() => onGo(c.at)}>
              {c.name}
            </button>
          </li>
        ))}
        {shown.length > 500 ? <li className="px-3 py-1 text-soft">and {shown.length - 500} more: find them by name</li> : null}
      </ul>
    </nav>
  )
}
