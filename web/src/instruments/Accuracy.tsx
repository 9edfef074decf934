// How far each function of an instrument may be out: typical of its kind until its own is stated.
import type { Schemas } from '../api/client'

type Function = Schemas['FunctionOut']
const PARTS = {
  percent_of_reading: '% of reading',
  percent_of_full_scale: '% of full scale',
  ppm: 'ppm',
  db: 'dB',
  absolute: '',
} as const
type Part = keyof typeof PARTS

interface AccuracyProps {
  instrument: Schemas['BenchInstrument']
  onKeep: (body: Schemas['InstrumentIn']) => void
}

/** The bounds of every function, each figure changed in place. */
export function Accuracy({ instrument: i, onKeep }: AccuracyProps) {
  if (i.functions.length === 0) return null
  const state = (f: Function, part: Part, value: number) => {
    const { percent_of_full_scale, percent_of_reading, absolute, ppm, db, digital } = f
    const stated = { percent_of_full_scale, percent_of_reading, absolute, ppm, db, digital, [part]: value }
    onKeep({ functions: { [f.name]: stated } })
  }
  return (
    <div className="scroll" tabIndex={0} role="region" aria-label={`How far ${i.name} may be out`}>
      <table className="accuracy">
        <caption>How far it may be out, ±</caption>
        <thead>
          <tr>
            <th scope="col" aria-label="Function" />
            {Object.entries(PARTS).map(([part, words]) => (
              <th key={part} scope="col">
                {words === '' ? 'its unit' : words}
              </th>
            ))}
            <th scope="col" aria-label="By whose word" />
          </tr>
        </thead>
        <tbody>
          {i.functions.map((f) => (
            <tr key={f.name}>
              <th scope="row">
                {f.name.replaceAll('_', ' ')} <small className="quiet">{f.unit}</small>
              </th>
              {(Object.keys(PARTS) as Part[]).map((part) => (
                <td key={part}>
                  <input
                    className="small-input"
                    inputMode="decimal"
                    maxLength={9}
                    aria-label={`${i.name}, ${f.name}: ${PARTS[part] === '' ? f.unit : PARTS[part]}`}
                    key={f[part]}
                    defaultValue={f[part] === 0 ? '' : String(f[part])}
                    onBlur={(e) => {
                      const value = Number(e.target.value)
                      if (Number.isFinite(value) && value >= 0 && value !== f[part]) state(f, part, value)
                      else e.target.value = f[part] === 0 ? '' : String(f[part])
                    }}
                    onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
                  />
                </td>
              ))}
              <td className="quiet">
                {f.own ? (
                  <button
                    type="button"
                    className="link"
                    aria-label={`${i.name}, ${f.name}: own; typical again`}
                    onClick={() => onKeep({ functions: { [f.name]: null } })}
                  >
                    own; typical again
                  </button>
                ) : (
                  'typical'
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}
