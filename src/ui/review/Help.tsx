import { AsidePane } from './AsidePane.tsx'
import { deskKeys } from './deskKeys.ts'

/** All keys of the desk. */
export function Help({ onClose }: { readonly onClose: () => void }) {
  return (
    <AsidePane title="Keys" onClose={onClose}>
      <p className="mt-1 text-soft">One letter each, while nobody types. What is typed ahead waits for what came before it.</p>
      {deskKeys.map((g) => (
        <div key={g.about} className="mt-3">
          <h3 className="border-b border-rule pb-0.5 font-sans text-sm font-semibold">{g.about}</h3>
          <dl className="mt-1 grid grid-cols-[auto_1fr] gap-x-3 gap-y-0.5">
            {g.keys.map(([key, says]) => (
              <div key={key} className="contents">
                <dt>
                  <span className="key">{key}</span>
                </dt>
                <dd>{says}</dd>
              </div>
            ))}
          </dl>
        </div>
      ))}
    </AsidePane>
  )
}
