// An instrument held against the shop's standard, with the trend of its checks.
import { useState } from 'react'
import type { Schemas } from '../api/client'
import { dayOf } from '../ui/words'

type Instrument = Schemas['BenchInstrument']

/** A quick check, and how those before it stood. */
export function QuickCheck({
  instrument: i,
  onCheck,
}: {
  instrument: Instrument
  onCheck: (body: Schemas['QuickCheckIn']) => void
}) {
  const [chosen, setChosen] = useState(i.checkable[0] ?? '')
  const [standard, setStandard] = useState('')
  const [read, setRead] = useState('')
  if (i.checkable.length === 0) return null
  const fits =
    standard.trim() !== '' && read.trim() !== '' && Number.isFinite(Number(standard)) && Number.isFinite(Number(read))
  return (
    <form
      className="check"
      onSubmit={(e) => {
        e.preventDefault()
        onCheck({ id: crypto.randomUUID(), function: chosen, standard: Number(standard), read: Number(read) })
        setRead('')
      }}
    >
      <h2>Quick check against the shop's standard</h2>
      <p className="senses">
        <select
          aria-label="Function"
          className="small-input"
          value={chosen}
          onChange={(e) => setChosen(e.target.value)}
        >
          {i.checkable.map((f) => (
            <option key={f} value={f}>
              {f.replace('_', ' ')}
            </option>
          ))}
        </select>
        <input
          className="small-input"
          aria-label="The standard gives"
          placeholder="the standard gives"
          inputMode="decimal"
          value={standard}
          onChange={(e) => setStandard(e.target.value)}
        />
        <input
          className="small-input"
          aria-label="It reads"
          placeholder="it reads"
          inputMode="decimal"
          value={read}
          onChange={(e) => setRead(e.target.value)}
        />
        <button type="submit" className="chip set" disabled={!fits}>
          Check it
        </button>
      </p>
      {i.checks.length > 0 && <Trend checks={i.checks} />}
    </form>
  )
}

function Trend({ checks }: { checks: Schemas['CheckOut'][] }) {
  const shown = [...checks].reverse()
  const most = Math.max(0.1, ...shown.map((c) => Math.abs(c.percent)))
  const x = (n: number) => (shown.length === 1 ? 150 : 10 + (280 * n) / (shown.length - 1))
  const y = (percent: number) => 32 - (24 * percent) / most
  const last = checks[0]
  return (
    <p className="trend">
      <svg
        width="300"
        height="64"
        role="img"
        aria-label={`Trend of ${checks.length} checks, newest ${last?.percent.toFixed(2) ?? ''} %`}
      >
        <line x1="0" x2="300" y1="32" y2="32" stroke="var(--hair)" />
        <polyline
          points={shown.map((c, n) => `${x(n)},${y(c.percent)}`).join(' ')}
          fill="none"
          stroke="var(--petrol)"
          strokeWidth="2"
        />
        {shown.map((c, n) => (
          <circle key={c.at} cx={x(n)} cy={y(c.percent)} r="4" fill={c.outside ? 'var(--outside)' : 'var(--petrol)'} />
        ))}
      </svg>
      {last !== undefined && (
        <span>
          {dayOf(last.at)}: {last.percent >= 0 ? '+' : '−'}
          {Math.abs(last.percent).toFixed(2)} %{' '}
          <small className={last.outside ? 'stale' : 'quiet'}>
            {last.outside ? 'outside its accuracy' : 'within its accuracy'}, {last.by}
          </small>
        </span>
      )}
    </p>
  )
}
