'use client'

/** Day or night; a cookie keeps it, so that no page begins in the other. */
export function ThemeButton() {
  const turn = () => {
    const root = document.documentElement
    const next = root.dataset['theme'] === 'night' ? 'day' : 'night'
    root.dataset['theme'] = next
    // biome-ignore lint/suspicious/noDocumentCookie: the cookie store is not in every browser yet
    document.cookie = `pelvok-theme=${next}; path=/; max-age=31536000; samesite=lax`
  }
  return (
    <button type="button" className="text-soft hover:text-ink" onClick={turn} title="Day or night" aria-label="Day or night">
      ◐
    </button>
  )
}
