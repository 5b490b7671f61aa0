/** Which finding is chosen stands in the address; the desk reads it there. */
export default function Page() {
  return null
}
