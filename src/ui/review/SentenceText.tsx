import type { Sentence } from '../../core/model/index.ts'

/** A sentence with its nouns in bold. */
export function SentenceText({ sentence }: { sentence: Sentence }) {
  return <>{sentence.map((run, i) => (run.kind === 'noun' ? <b key={i}>{run.text}</b> : <span key={i}>{run.text}</span>))}</>
}
