import type { Sentence } from '../../core/model/index.ts'
import { Breakable } from '../common/Breakable.tsx'

/** A sentence with its nouns in bold; long names break at their words. */
export function SentenceText({ sentence }: { sentence: Sentence }) {
  return (
    <>
      {sentence.map((run, i) =>
        run.kind === 'noun' ? (
          <b key={i}>
            <Breakable text={run.text} />
          </b>
        ) : (
          <Breakable key={i} text={run.text} />
        ),
      )}
    </>
  )
}
