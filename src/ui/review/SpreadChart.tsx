'use client'

import { BarController, BarElement, CategoryScale, Chart, LinearScale, Tooltip } from 'chart.js'
import { useEffect, useRef } from 'react'

Chart.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip)

interface Counts {
  readonly n: number
  readonly parents: number
}

/** As many bars as can be told apart; beyond them counts stand in ranges of one width. */
const most = 24

function barsOf(counts: readonly Counts[]): readonly { readonly label: string; readonly parents: number }[] {
  const top = counts.at(-1)?.n ?? 0
  const width = Math.max(1, Math.ceil((top + 1) / most))
  return Array.from({ length: Math.floor(top / width) + 1 }, (_, i) => ({
    label: width === 1 ? String(i) : `${i * width}–${i * width + width - 1}`,
    parents: counts.filter((c) => Math.floor(c.n / width) === i).reduce((s, c) => s + c.parents, 0),
  }))
}

/** Parents by how many children they have. */
export default function SpreadChart({ counts, says }: { readonly counts: readonly Counts[]; readonly says: string }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  useEffect(() => {
    const host = canvas.current
    if (!host) return
    const style = getComputedStyle(host)
    const [ink, soft, rule] = ['ink', 'soft', 'rule'].map((n) => style.getPropertyValue(`--color-${n}`).trim())
    const bars = barsOf(counts)
    const ticks = { color: soft ?? '', font: { family: style.fontFamily, size: 11 } }
    const chart = new Chart(host, {
      type: 'bar',
      data: {
        labels: bars.map((b) => b.label),
        datasets: [{ data: bars.map((b) => b.parents), backgroundColor: ink ?? '', barPercentage: 0.9, categoryPercentage: 0.95 }],
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        plugins: { tooltip: { callbacks: { title: ([t]) => `${t?.label ?? ''} each`, label: (t) => `${t.formattedValue} of them` } } },
        scales: {
          x: { title: { display: true, text: 'how many each', color: soft ?? '' }, ticks, grid: { display: false } },
          y: {
            title: { display: true, text: 'of them', color: soft ?? '' },
            ticks: { ...ticks, precision: 0 },
            grid: { color: rule ?? '' },
            beginAtZero: true,
          },
        },
      },
    })
    return () => chart.destroy()
  }, [counts])
  return (
    <div className="h-36">
      <canvas ref={canvas} role="img" aria-label={says} />
    </div>
  )
}
