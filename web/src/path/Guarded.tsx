// What stands between the path and the key: each hazard is confirmed by name, each part that is over is overridden by name.
import type { PathNow, usePath } from './usePath'
import { timeOf } from '../ui/words'

export function Guarded({
  now,
  path,
}: {
  now: PathNow
  path: Pick<ReturnType<typeof usePath>, 'confirm' | 'override'>
}) {
  if (now.hazards.length + now.over.length === 0) return null
  return (
    <ul className="guarded">
      {now.hazards.map((h) => (
        <li key={h.hazard}>
          <span className="caution">{h.words}</span>
          {h.by === null ? (
            <button type="button" className="chip" onClick={() => path.confirm.mutate(h.hazard)}>
              I know, and I say so by name
            </button>
          ) : (
            <small>
              confirmed by {h.by}, {timeOf(h.at ?? '')}
            </small>
          )}
        </li>
      ))}
      {now.over.map((o) => (
        <li key={o.part}>
          <span className="caution">{o.words}</span>
          {o.by === null ? (
            <button type="button" className="chip" onClick={() => path.override.mutate(o.part)}>
              Key all the same, this once
            </button>
          ) : (
            <small>
              let through by {o.by}, {timeOf(o.at ?? '')}
            </small>
          )}
        </li>
      ))}
    </ul>
  )
}
