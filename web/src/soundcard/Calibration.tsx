// The sound card held once against a known level and a known tone; kept in this browser, which has that card.
import { useState } from 'react'
import { useStore } from '../store'
import type { Heard } from './ear'
import { fullScaleOf, heldRate, RATE, told } from './told'

/** What comes in now is said to be so many volts, or so many hertz. */
export function Calibration({ heard }: { heard: Heard }) {
  const now = useStore(told, (kept) => kept)
  const [refused, setRefused] = useState(false)
  const tone = heard.readings.find((r) => r.quantity === 'audio_frequency')?.measured.value ?? null
  const level = heard.clipped ? null : heard.level_db
  const holdTone = (known: number) => {
    const rateHz = tone === null ? null : heldRate(now, known, tone)
    setRefused(rateHz === null)
    if (rateHz !== null) told.set({ ...now, rateHz })
  }
  return (
    <details>
      <summary>
        {now.fullScaleV === null && now.rateHz === null ? 'Hold it against what is known' : calibrated(now)}
      </summary>
      <Known
        words="What comes in now is"
        unit="V RMS"
        label="Known level, V"
        disabled={level === null}
        onKnown={(volts) => level !== null && told.set({ ...now, fullScaleV: fullScaleOf(level, volts) })}
      />
      <Known words="This tone is" unit="Hz" label="Known tone, Hz" disabled={tone === null} onKnown={holdTone} />
      {refused && (
        <p role="alert" className="ask-line">
          No clock is so far off: is it that tone?
        </p>
      )}
      {(now.fullScaleV !== null || now.rateHz !== null) && (
        <button type="button" className="link" onClick={() => told.set({ ...now, fullScaleV: null, rateHz: null })}>
          Forget both
        </button>
      )}
    </details>
  )
}

function calibrated({ fullScaleV, rateHz }: { fullScaleV: number | null; rateHz: number | null }): string {
  const level = fullScaleV === null ? [] : [`fills at ${fullScaleV.toPrecision(3)} V`]
  const ppm = rateHz === null ? [] : [`clock ${(1e6 * (rateHz / RATE - 1)).toFixed(0).replace('-', '−')} ppm`]
  return `Held against what is known: ${[...level, ...ppm].join(', ')}`
}

interface KnownProps {
  words: string
  unit: string
  label: string
  disabled: boolean
  onKnown: (value: number) => void
}

function Known({ words, unit, label, disabled, onKnown }: KnownProps) {
  const [typed, setTyped] = useState('')
  const value = Number(typed.replace(',', '.'))
  return (
    <form
      className="senses"
      onSubmit={(e) => {
        e.preventDefault()
        onKnown(value)
        setTyped('')
      }}
    >
      <label>
        {words}{' '}
        <input
          className="small-input"
          inputMode="decimal"
          maxLength={12}
          aria-label={label}
          value={typed}
          onChange={(e) => setTyped(e.target.value)}
        />{' '}
        {unit}
      </label>
      <button type="submit" className="chip" disabled={disabled || !(value > 0)}>
        Hold it
      </button>
    </form>
  )
}
