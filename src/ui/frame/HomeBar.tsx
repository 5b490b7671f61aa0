import Link from 'next/link'
import { ThemeButton } from './ThemeButton.tsx'
import { type Signed, Who } from './Who.tsx'

/** The bar outside projects. */
export function HomeBar({ who }: { who: Signed | null }) {
  return (
    <header className="flex h-[46px] shrink-0 items-center gap-4 border-b border-ink px-4">
      <Link href="/" className="font-serif text-xl font-semibold">
        Pelvok
      </Link>
      <span className="text-soft">a schema into decisions, decisions into code and migrations that are proven</span>
      <span className="ml-auto flex gap-4">
        <ThemeButton />
        {who === null ? null : <Who who={who} />}
      </span>
    </header>
  )
}
