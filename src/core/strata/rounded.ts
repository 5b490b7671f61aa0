// Ways that go along the axes.

const round = (n: number) => Math.round(n * 10) / 10
const corner = 7

/** Through these points, axis by axis, with round corners; points that repeat or lie on a straight way are left out. */
export function rounded(points: readonly { readonly x: number; readonly y: number }[]): string {
  const kept: { readonly x: number; readonly y: number }[] = []
  for (const p of points) {
    const [a, b] = [kept.at(-2), kept.at(-1)]
    if (b && b.x === p.x && b.y === p.y) continue
    if (a && b && ((a.x === b.x && b.x === p.x) || (a.y === b.y && b.y === p.y))) kept.pop()
    kept.push(p)
  }
  const first = kept[0] as { x: number; y: number }
  let path = `M${round(first.x)} ${round(first.y)}`
  for (let i = 1; i < kept.length; i += 1) {
    const [a, b, c] = [kept[i - 1] as { x: number; y: number }, kept[i] as { x: number; y: number }, kept[i + 1]]
    if (!c) {
      path += `L${round(b.x)} ${round(b.y)}`
      continue
    }
    const r = Math.min(corner, Math.hypot(b.x - a.x, b.y - a.y) / 2, Math.hypot(c.x - b.x, c.y - b.y) / 2)
    const towards = (p: { x: number; y: number }) => {
      const d = Math.hypot(p.x - b.x, p.y - b.y) || 1
      return { x: b.x + ((p.x - b.x) / d) * r, y: b.y + ((p.y - b.y) / d) * r }
    }
    const [from, to] = [towards(a), towards(c)]
    path += `L${round(from.x)} ${round(from.y)}C${round(b.x)} ${round(b.y)} ${round(b.x)} ${round(b.y)} ${round(to.x)} ${round(to.y)}`
  }
  return path
}
