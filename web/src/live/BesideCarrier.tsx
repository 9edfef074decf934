// What stands beside the carrier, live: the spectrum that a receiver hears which streams.
import { useSyncExternalStore } from 'react'
import { useBenchNow } from './stream'

const WIDTH = 460
const HEIGHT = 150
const FLOOR_DB = -90
const GONE_MS = 2000 // as old as that it is of another moment

/** A plot of levels over the offset from the carrier; nothing while no receiver hears one. */
export function BesideCarrier() {
  const spectrum = useBenchNow((known) => known.spectrum)
  const now = useSyncExternalStore(everySecond, seconds)
  if (spectrum === null || 1000 * now - spectrum.seen > GONE_MS) return null
  const { levels_db: levels, reach_hz: reach, rbw_hz: rbw, carrier_hz: carrier } = spectrum
  const x = (n: number) => (WIDTH * n) / (levels.length - 1)
  const y = (db: number) => (HEIGHT * Math.min(0, Math.max(FLOOR_DB, db))) / FLOOR_DB
  return (
    <figure className="beside-carrier">
      <svg viewBox={`0 -16 ${WIDTH} ${HEIGHT + 20}`} role="img" aria-label="Spectrum beside the carrier">
        {[0, -30, -60, -90].map((db) => (
          <g key={db}>
            <line x1="0" x2={WIDTH} y1={y(db)} y2={y(db)} stroke="var(--hair)" />
            <text x="2" y={y(db) - 3} fill="var(--pale)" fontSize="11">
              {db === 0 ? '0 dB' : `−${-db}`}
            </text>
          </g>
        ))}
        {[-10, 10].map((khz) => (
          <line
            key={khz}
            x1={(WIDTH * (1 + (1000 * khz) / reach)) / 2}
            x2={(WIDTH * (1 + (1000 * khz) / reach)) / 2}
            y1="0"
            y2={HEIGHT}
            stroke="var(--hair)"
            strokeDasharray="4 4"
          />
        ))}
        <polyline
          points={levels.map((db, n) => `${x(n).toFixed(1)},${y(db).toFixed(1)}`).join(' ')}
          fill="none"
          stroke="var(--petrol)"
          strokeWidth="1.6"
        />
      </svg>
      <figcaption className="quiet">
        ± {reach / 1000} kHz beside {(carrier / 1e6).toFixed(5)} MHz in bands of {rbw} Hz; broken lines at ± 10 kHz.
      </figcaption>
    </figure>
  )
}

const seconds = () => Math.floor(Date.now() / 1000)
const everySecond = (tell: () => void) => {
  const timer = setInterval(tell, 1000)
  return () => clearInterval(timer)
}
