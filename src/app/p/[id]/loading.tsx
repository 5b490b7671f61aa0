export default function Loading() {
  return <p className="p-6 text-soft">Reading the snapshot …</p>
}
