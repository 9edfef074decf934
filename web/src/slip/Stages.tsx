// The stages of the unit in a row, each marked by hand as good, weak or dead.
import type { Schemas } from '../api/client'

const STATES = ['good', 'weak', 'dead'] as const

/** Where it dies, said by hand. */
export function Stages({ slip, onStage }: { slip: Schemas['SlipOut']; onStage: (words: string) => void }) {
  return (
    <>
      <p className="quiet">Where it dies: mark a stage, then say what was seen.</p>
      <ol className="stages">
        {slip.stages.map((s) => (
          <li key={s.id}>
            <span>
              {s.name} {s.state !== null && <span className={`seen-${s.state}`}>{s.state}</span>}
              <small>{s.seen ?? (s.due === '' ? '' : `due: ${s.due}`)}</small>
            </span>
            <span className="said">
              {STATES.map((state) => (
                <button
                  key={state}
                  type="button"
                  className="chip"
                  aria-pressed={s.state === state}
                  aria-label={`${s.name} ${state}`}
                  onClick={() => onStage(`stage ${s.name} ${state} `)}
                >
                  {state}
                </button>
              ))}
            </span>
          </li>
        ))}
      </ol>
    </>
  )
}
