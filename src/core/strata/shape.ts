// Shapes of the panes that maps are packed to.

/** Shapes of panes for which a map is packed anew, width over height: a fifth apart. */
const shapes = [0.5, 0.62, 0.78, 0.97, 1.2, 1.5, 1.9, 2.4]

/** One of those that maps are packed to. */
export const isShape = (shape: number): boolean => shapes.includes(shape)

/** Where nobody knows the pane. */
export const usualShape = 1.2

/** The one that a pane comes nearest to. */
export const nearestShape = (width: number, height: number): number => {
  const wanted = Math.log(Math.max(0.1, width) / Math.max(0.1, height))
  return shapes.reduce((best, s) => (Math.abs(Math.log(s) - wanted) < Math.abs(Math.log(best) - wanted) ? s : best))
}
