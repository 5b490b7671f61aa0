/** The desk stands in the layout, and goes on where somebody was: this page has nothing of its own. */
export default function Page() {
  return null
}
