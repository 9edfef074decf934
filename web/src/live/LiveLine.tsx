// The live value at the current line, judged as it would be taken now; and the word that something was taken.
import { useEffect, useState } from 'react'
import { Figure } from '../entry'
import { Verdict } from '../ui/verdict'
import { BesideCarrier } from './BesideCarrier'
import { useBenchNow } from './stream'

const SHOWN_MS = 3_000

/** The live value on the current line, judged. */
export function LiveLine({ row }: { row: string | null }) {
  const current = useBenchNow((known) => known.live.current)
  if (current === null || (current.row ?? null) !== row) return null
  return (
    <div data-testid="live">
      <Figure meaning={current.meaning} live />
    </div>
  )
}

/** The big word after a capture: what was taken, and how it stands. */
export function Taken({ job }: { job: string }) {
  const captured = useBenchNow((known) => known.captured)
  const [gone, setGone] = useState(0)
  const at = captured?.job === job ? captured.at : 0
  useEffect(() => {
    if (at === 0) return
    const timer = setTimeout(() => setGone(at), SHOWN_MS)
    return () => clearTimeout(timer)
  }, [at])
  if (captured === null || at === 0 || gone === at) return null
  return (
    <p className="taken" role="status">
      <b>Taken</b> {captured.name} {captured.figure} <Verdict verdict={captured.verdict} size={22} />
    </p>
  )
}

const SHOWN = ['power', 'frequency', 'amps', 'depth', 'deviation'] as const
const WHERE_GIVEN = ['drive', 'plate_volts', 'plate_amps', 'grid_amps', 'level', 'sinad'] as const
const NAMES: Record<string, string> = {
  power: 'power',
  frequency: 'frequency',
  amps: 'current',
  depth: 'depth',
  deviation: 'deviation',
  volts: 'supply',
  reflected: 'reflected',
  pep: 'crest',
  drive: 'drive',
  plate_volts: 'plate',
  plate_amps: 'plate current',
  grid_amps: 'grid current',
  level: 'generator',
  sinad: 'SINAD',
}

/** Everything the instruments show now, in one quiet line. */
export function LiveValues() {
  const values = useBenchNow((known) => known.live.values)
  const there = [
    ...SHOWN.filter((name) => values[name] !== undefined),
    ...WHERE_GIVEN.filter((name) => values[name]?.value != null && values[name].shown !== 'nothing'),
  ]
  return (
    <section className="card" aria-label="Live instruments">
      <h2>Live instruments</h2>
      <dl className="pairs live-values">
        {there.map((name) => (
          <div key={name} style={{ display: 'contents' }}>
            <dt>{NAMES[name]}</dt>
            <dd>{values[name]?.shown}</dd>
          </div>
        ))}
      </dl>
      <BesideCarrier />
      {there.length === 0 && <p className="quiet">Waiting for an answer.</p>}
    </section>
  )
}
