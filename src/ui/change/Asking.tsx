'use client'

import dynamic from 'next/dynamic'
import { createContext, type ReactNode, use, useEffect, useRef, useState } from 'react'
import type { Thing } from '../../core/change/index.ts'

/** Fetched when it is first asked for. */
const ChangeForm = dynamic(() => import('./ChangeForm.tsx').then((m) => m.ChangeForm))

export const newTable: Thing = { table: null, columns: [], part: null }

const Ask = createContext<(thing: Thing) => void>(() => {})

/** Opens the form of changes of a thing, from any stage of the project. */
export const useAskChange = (): ((thing: Thing) => void) => use(Ask)

/** The stages of a project, and the form of changes over them while it is open. */
export function Asking({ projectId, children }: { readonly projectId: string; readonly children: ReactNode }) {
  const [thing, setThing] = useState<Thing | null>(null)
  const dialog = useRef<HTMLDialogElement>(null)
  useEffect(() => {
    if (thing !== null) dialog.current?.showModal()
  }, [thing])
  return (
    <Ask value={setThing}>
      {children}
      <dialog
        ref={dialog}
        aria-label="A change of the database"
        className="mx-auto mt-16 max-h-[80vh] w-[36rem] overflow-auto border border-ink bg-paper p-0 text-ink backdrop:bg-black/30"
        onClose={() => setThing(null)}
      >
        {thing === null ? null : <ChangeForm key={JSON.stringify(thing)} projectId={projectId} thing={thing} onClose={() => dialog.current?.close()} />}
      </dialog>
    </Ask>
  )
}

interface AskProps {
  readonly thing: Thing | null
  readonly label?: string | undefined
  /** What `it` is, where there are many. */
  readonly of?: string
  /** The key that does the same. */
  readonly keyed?: string
  /** One of many, as a link. */
  readonly quiet?: boolean
}

/** The way there from where the thing stands; nothing where no plan can change it. */
export function AskChange({ thing, label = 'Change it in the database …', of, keyed, quiet = false }: AskProps) {
  const ask = useAskChange()
  if (thing === null) return null
  return (
    <button
      type="button"
      className={quiet ? 'link link-hover whitespace-nowrap text-soft' : 'btn btn-xs'}
      title="It is asked for, and stands under Plan; nothing is changed now"
      aria-label={of === undefined ? undefined : `Change ${of} in the database`}
      onClick={() => ask(thing)}
    >
      {keyed === undefined ? null : <span className="key">{keyed}</span>} {label}
    </button>
  )
}
