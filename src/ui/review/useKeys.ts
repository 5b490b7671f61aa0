'use client'

import { useEffect, useRef } from 'react'

/** Single keys of the review desk, by their lower-case name, arrows with `shift+` before it where it is held; none fires while somebody types, or with a modifier held. `typeAhead` is asked first, and takes what is text. */
export function useKeys(keys: Readonly<Record<string, () => void>>, typeAhead: (key: string) => boolean = () => false): void {
  const latest = useRef({ keys, typeAhead })
  latest.current = { keys, typeAhead }
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement | null
      if (event.ctrlKey || event.metaKey || event.altKey) return
      if (latest.current.typeAhead(event.key)) {
        event.preventDefault()
        return
      }
      if (target?.closest('input, textarea, select, dialog, [contenteditable="true"]')) return
      const key = event.key.toLowerCase()
      const action = latest.current.keys[event.shiftKey && key.startsWith('arrow') ? `shift+${key}` : key]
      if (!action) return
      event.preventDefault()
      action()
    }
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  }, [])
}
