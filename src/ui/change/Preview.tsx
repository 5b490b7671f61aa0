import type { EditPreview } from '../../core/lineage/index.ts'

/** `Schema change:` and what it comes to. */
export function Preview({ preview }: { preview: EditPreview }) {
  return (
    <div aria-live="polite" className="mt-2 border-l-4 border-rule bg-card px-2 py-1">
      {preview.parts.map((p) => (
        <p key={p.says}>
          <b>Schema change:</b> {p.says}.{' '}
          {p.is === 'there' ? (
            <span className="text-soft">The database has it already.</span>
          ) : p.is === 'refused' ? (
            <span className="text-needs">Not possible: {p.because}.</span>
          ) : null}
        </p>
      ))}
      {preview.steps.length > 0 ? (
        <p className="text-soft">
          {preview.steps.length === 1 ? 'One step' : `${preview.steps.length} steps`}: {preview.steps.join('; ')}.
        </p>
      ) : null}
      {preview.hazards.map((h) => (
        <p key={h} className="text-needs">
          ▲ {h}
        </p>
      ))}
    </div>
  )
}
