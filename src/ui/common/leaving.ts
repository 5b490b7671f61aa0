// Where a click on a link leads while that page is on its way: who writes the address then would call the reader back.
import { useEffect } from 'react'

let to: string | null = null

/** Is another page of ours on its way? */
export const isLeaving = (): boolean => to !== null && to !== location.pathname

/** Stands in the frame, which is there before any page is: a link may be clicked while the page under it is still being made. */
export function useLeaving(path: string): void {
  useEffect(() => {
    if (path === to) to = null
  }, [path])
  useEffect(() => {
    const leave = (event: MouseEvent) => {
      const link = (event.target as Element).closest('a[href]')
      const plain = event.button === 0 && !event.metaKey && !event.ctrlKey && !event.shiftKey
      if (link instanceof HTMLAnchorElement && plain && link.target === '' && link.origin === location.origin && !link.hasAttribute('download'))
        to = link.pathname
    }
    const back = () => {
      to = null
    }
    document.addEventListener('click', leave, true)
    window.addEventListener('popstate', back)
    return () => {
      document.removeEventListener('click', leave, true)
      window.removeEventListener('popstate', back)
    }
  }, [])
}
