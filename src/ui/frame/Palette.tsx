'use client'

import { useRouter } from 'next/navigation'
import { type KeyboardEvent, useEffect, useRef, useState } from 'react'
import type { Found } from '../../core/review/index.ts'
import type { CatalogAnswers } from '../../workers/catalogMessages.ts'
import { get } from '../common/api.ts'
import { useCatalog } from '../common/useCatalog.ts'

interface Props {
  readonly projectId: string
  readonly hash: string
  readonly stages: readonly (readonly [string, string])[]
}

interface Choice {
  readonly key: string
  readonly what: string
  readonly name: string
  readonly says: string
  readonly path: string
}

const noEntries: readonly unknown[] = []
const nothing: CatalogAnswers['find'] = { objects: [], columns: [] }

/** Where a finding of the server stands. */
const pathOf = (projectId: string, f: Found) => {
  const query = new URLSearchParams(f.query).toString()
  return `/p/${projectId}/${f.stage}${query === '' ? '' : `?${query}`}${f.place === null ? '' : `#${f.place}`}`
}

function choicesFor(text: string, { projectId, stages }: Props, found: CatalogAnswers['find'], further: readonly Found[]): readonly Choice[] {
  const at = (query: Readonly<Record<string, string>>) => `/p/${projectId}/catalog?${new URLSearchParams(query)}`
  const pages = stages.filter(([, label]) => label.toLowerCase().includes(text.trim().toLowerCase()))
  return [
    ...pages.map(([stage, label]) => ({ key: `page ${stage}`, what: 'go to', name: label, says: '', path: `/p/${projectId}/${stage}` })),
    ...found.objects.map((o) => ({ key: o.id, what: o.kind, name: o.schema === '' ? o.name : `${o.schema}.${o.name}`, says: o.says, path: at({ at: o.id }) })),
    ...found.columns.map(([name, n]) => ({
      key: `column ${name}`,
      what: 'column',
      name,
      says: n === 1 ? 'in one relation' : `where in ${n} relations?`,
      path: at({ column: name }),
    })),
    ...further.map((f) => ({ key: `${f.what} ${pathOf(projectId, f)} ${f.name}`, what: f.what, name: f.name, says: f.says, path: pathOf(projectId, f) })),
  ]
}

/** Ctrl K: pages, objects and column names of the project as one types, and a moment later what is said in its review, classes, ledger, plans and trials. The snapshot is fetched when it is first opened. */
export function Palette(props: Props) {
  const { hash } = props
  const router = useRouter()
  const dialog = useRef<HTMLDialogElement>(null)
  const ask = useCatalog(hash, noEntries)
  const [text, setText] = useState('')
  const [found, setFound] = useState(nothing)
  const [at, setAt] = useState(0)
  const { further, looking, failed } = useFurther(props.projectId, text)
  const choices = choicesFor(text, props, found, further)

  const show = () => {
    setText('')
    setFound(nothing)
    setAt(0)
    dialog.current?.showModal()
  }
  const open = useRef(show)
  open.current = show
  useEffect(() => {
    const key = (e: globalThis.KeyboardEvent) => {
      if (!((e.ctrlKey || e.metaKey) && e.key.toLowerCase() === 'k')) return
      e.preventDefault()
      open.current()
    }
    window.addEventListener('keydown', key)
    return () => window.removeEventListener('keydown', key)
  }, [])

  const latest = useRef('')
  const type = (value: string) => {
    setText(value)
    setAt(0)
    latest.current = value
    if (value.trim() === '') return setFound(nothing)
    void ask({ ask: 'find', text: value }).then((answer) => latest.current === value && setFound(answer))
  }
  const go = (choice: Choice | undefined) => {
    if (!choice) return
    dialog.current?.close()
    // A place on a page is marked only where the browser itself goes there (HTML, the :target pseudo-class).
    if (choice.path.includes('#')) location.assign(choice.path)
    else router.push(choice.path)
  }
  const keys = (e: KeyboardEvent) => {
    if (e.key === 'ArrowDown') setAt(Math.min(choices.length - 1, at + 1))
    else if (e.key === 'ArrowUp') setAt(Math.max(0, at - 1))
    else if (e.key === 'Enter') go(choices[at])
    else return
    e.preventDefault()
  }
  return (
    <>
      <button type="button" className="text-soft hover:text-ink" onClick={show}>
        Find <span className="key">Ctrl K</span>
      </button>
      <dialog ref={dialog} className="mx-auto mt-24 w-[36rem] border border-ink bg-paper p-0 text-ink backdrop:bg-black/30" aria-label="Find">
        <input
          className="input db w-full rounded-none border-x-0 border-t-0 focus-visible:-outline-offset-2"
          placeholder="A page, an object, a class, or any words of a finding, an entry, a step"
          aria-label="Find"
          value={text}
          onChange={(e) => type(e.target.value)}
          onKeyDown={keys}
          autoFocus
        />
        <ol className="max-h-96 overflow-auto">
          {choices.map((c, i) => (
            <li key={c.key}>
              <button
                type="button"
                tabIndex={-1}
                aria-current={i === at}
                onMouseMove={() => setAt(i)}
                onClick={() => go(c)}
                className={`flex w-full items-baseline gap-3 border-l-4 px-3 py-1 text-left ${i === at ? 'border-l-needs bg-card' : 'border-l-transparent'}`}
              >
                <span className="w-32 shrink-0 text-soft">{c.what}</span>
                <span className="db min-w-0 truncate" title={c.name}>
                  {c.name}
                </span>
                <span className="ml-auto shrink-0 text-soft">{c.says}</span>
              </button>
            </li>
          ))}
          {looking ? <li className="px-3 py-1 text-soft">Looking in the review, the ledger and the plans …</li> : null}
          {failed ? <li className="px-3 py-1 text-needs">The review, the ledger and the plans could not be searched now. Type on to try again.</li> : null}
          {choices.length === 0 && !looking && !failed ? <li className="px-3 py-2 text-soft">Nothing matches “{text}”.</li> : null}
        </ol>
      </dialog>
    </>
  )
}

const none: readonly Found[] = []

/** What the server finds, asked a moment after the last key; what was found of the text before stays until then. */
function useFurther(projectId: string, text: string): { readonly further: readonly Found[]; readonly looking: boolean; readonly failed: boolean } {
  const [state, setState] = useState<{ readonly of: string; readonly found: readonly Found[] | null }>({ of: '', found: none })
  const wanted = text.trim()
  useEffect(() => {
    if (wanted === '') return
    let current = true
    const timer = setTimeout(() => {
      void get<readonly Found[]>(`/api/projects/${projectId}/find?${new URLSearchParams({ text: wanted })}`).then(
        (found) => current && setState({ of: wanted, found }),
      )
    }, 150)
    return () => {
      current = false
      clearTimeout(timer)
    }
  }, [projectId, wanted])
  const looking = wanted !== '' && state.of !== wanted
  return { further: wanted === '' ? none : (state.found ?? none), looking, failed: wanted !== '' && !looking && state.found === null }
}
