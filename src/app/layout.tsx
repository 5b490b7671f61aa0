import type { Metadata } from 'next'
import type { ReactNode } from 'react'
import { NameQuestion } from '../ui/frame/NameQuestion.tsx'
import { identity, theme } from './_identity.ts'
import './globals.css'

export const metadata: Metadata = {
  title: { default: 'Pelvok', template: '%s · Pelvok' },
  description: 'Turns a schema into decisions, and decisions into code and migrations that are proven.',
}
export const dynamic = 'force-dynamic'

export default async function RootLayout({ children }: { children: ReactNode }) {
  const [who, worn] = await Promise.all([identity(), theme()])
  return (
    <html lang="en" data-theme={worn}>
      <body className="h-screen overflow-hidden flex flex-col">
        {children}
        {who.known ? null : <NameQuestion proposed={who.name} />}
      </body>
    </html>
  )
}
