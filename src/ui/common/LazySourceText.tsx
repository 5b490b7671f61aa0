'use client'

import dynamic from 'next/dynamic'

/** `SourceText`, fetched once it is shown: the editor behind it is larger than all else of a desk. */
export const LazySourceText = dynamic(() => import('./SourceText.tsx').then((m) => m.SourceText), { ssr: false })
