// The sound card on the bench side: what it hears with its figures, a beat for the field, and what it gives.
import { useEffect, useState } from 'react'
import { useStore } from '../store'
import { Calibration } from './Calibration'
import { listen, stopListening, useEar, type Heard } from './ear'
import { begin, chooseLevel, chooseTone, end, silentUnseen, TONES, useSource, type Tone } from './source'
import { told, voltsOf } from './told'

interface SoundCardProps {
  writes: boolean
  /** Take one figure of the stretch on screen onto the slip. */
  onTake: (quantity: string) => void
  /** Put words into the field. */
  onWords: (words: string) => void
}

/** The sound card as an instrument and as a source. */
export function SoundCard({ writes, onTake, onWords }: SoundCardProps) {
  useEffect(() => silentUnseen(), [])
  useEffect(() => stopListening, [])
  return (
    <>
      <Ear writes={writes} onTake={onTake} onWords={onWords} />
      <Source />
    </>
  )
}

function Ear({ writes, onTake, onWords }: SoundCardProps) {
  const { listening, peak, heard, problem } = useEar()
  return (
    <section className="card soundcard" aria-label="What the sound card hears">
      <h2>Sound card, in</h2>
      <p className="senses">
        <button type="button" className="chip" aria-pressed={listening} onClick={listening ? stopListening : listen}>
          {listening ? 'Stop listening' : 'Listen'}
        </button>
        {listening && <meter min={0} max={1} low={0.02} high={0.95} value={peak} aria-label="What comes in now" />}
        {listening && heard === null && <span role="status">Listening</span>}
        {!listening && <span className="quiet">The browser asks first. Nothing is kept that you do not take.</span>}
      </p>
      {problem !== null && <p role="alert">{problem}</p>}
      {heard?.clipped === true && <p className="caution">Clipped: turn the input down, no figure counts.</p>}
      {listening && heard !== null && (
        <>
          <Figures heard={heard} writes={writes} onTake={onTake} />
          <Level heard={heard} onWords={onWords} />
          <Beat heard={heard} onWords={onWords} />
          <Calibration heard={heard} />
        </>
      )}
    </section>
  )
}

function Figures({ heard, writes, onTake }: { heard: Heard; writes: boolean; onTake: (quantity: string) => void }) {
  const shown = heard.readings.filter((r) => r.measured.value !== null)
  const none = heard.readings.find((r) => r.measured.value === null)
  return (
    <>
      <ol className="figures" aria-label="Figures of the sound">
        {shown.map((r) => (
          <li key={r.quantity}>
            <span>{r.name}</span>
            <b>{r.figure}</b>
            {writes && !heard.clipped && (
              <button
                type="button"
                className="chip take-it"
                aria-label={`Take ${r.name}`}
                onClick={() => onTake(r.quantity)}
              >
                Take
              </button>
            )}
          </li>
        ))}
      </ol>
      {none !== undefined && (
        <p className="quiet">
          {none.name}: {none.measured.remarks.join('; ')}
        </p>
      )}
      {heard.remarks.map((r) => (
        <p key={r} className="quiet">
          {r}
        </p>
      ))}
    </>
  )
}

function Level({ heard, onWords }: { heard: Heard; onWords: (words: string) => void }) {
  const now = useStore(told, (kept) => kept)
  if (heard.level_db === null) return <p className="quiet">Nothing at all comes in.</p>
  const level = Math.round(10 * (heard.level_db - (now.referenceDb ?? 0))) / 10 || 0
  return (
    <p className="senses">
      <span>Level</span>
      <b>
        {`${level < 0 ? '−' : ''}${Math.abs(level).toFixed(1)}`} dB ± {Math.max(heard.level_within_db, 0.05).toFixed(1)}
      </b>
      <span className="quiet">{now.referenceDb === null ? 'under full scale' : 'against the level you set'}</span>
      <button type="button" className="chip" onClick={() => told.set({ ...now, referenceDb: heard.level_db })}>
        This is 0 dB
      </button>
      {now.referenceDb !== null && (
        <button type="button" className="link" onClick={() => told.set({ ...now, referenceDb: null })}>
          full scale again
        </button>
      )}
      {now.fullScaleV !== null && (
        <>
          <b>{voltsShown(voltsOf(heard.level_db, now.fullScaleV))}</b>
          <button
            type="button"
            className="chip"
            aria-label="Its volts into the field"
            disabled={heard.clipped}
            onClick={() =>
              onWords(`audio ${(1000 * voltsOf(heard.level_db ?? 0, now.fullScaleV ?? 0)).toPrecision(3)}mv`)
            }
          >
            Into the field
          </button>
        </>
      )}
    </p>
  )
}

const voltsShown = (volts: number) => (volts < 1 ? `${(1000 * volts).toPrecision(3)} mV` : `${volts.toPrecision(3)} V`)

/** The note of a receiver that stands beside the carrier says where the carrier is: no counter is needed. */
function Beat({ heard, onWords }: { heard: Heard; onWords: (words: string) => void }) {
  const now = useStore(told, (kept) => kept)
  const tone = heard.readings.find((r) => r.quantity === 'audio_frequency')?.measured.value ?? null
  const dial = Number(now.dial.replace(',', '.'))
  const ready = tone !== null && dial > 0
  return (
    <p className="senses">
      <label>
        Beat: receiver at{' '}
        <input
          className="small-input"
          inputMode="decimal"
          placeholder="27.184"
          maxLength={12}
          aria-label="Dial of the receiver, MHz"
          value={now.dial}
          onChange={(e) => told.set({ ...now, dial: e.target.value })}
        />{' '}
        MHz
      </label>
      {(['usb', 'lsb'] as const).map((sideband) => (
        <button
          key={sideband}
          type="button"
          className="chip"
          aria-pressed={now.sideband === sideband}
          onClick={() => told.set({ ...now, sideband })}
        >
          {sideband.toUpperCase()}
        </button>
      ))}
      <button
        type="button"
        className="chip"
        disabled={!ready}
        onClick={() =>
          tone !== null && onWords(`beat ${now.dial.replace(',', '.')}/${tone.toFixed(1)} ${now.sideband}`)
        }
      >
        Into the field
      </button>
    </p>
  )
}

function Source() {
  const { tone, levelDb, sounds } = useSource()
  const kept = useStore(told, (now) => now)
  const [subtone, setSubtone] = useState(kept.subtone)
  const pick = (next: Tone) => chooseTone(next)
  return (
    <section className="card soundcard" aria-label="What the sound card gives">
      <h2>Sound card, out</h2>
      <p className="senses" role="group" aria-label="What it gives">
        {(Object.keys(TONES) as (keyof typeof TONES)[]).map((name) => (
          <button key={name} type="button" className="chip" aria-pressed={tone === name} onClick={() => pick(name)}>
            {name}
          </button>
        ))}
        <button
          type="button"
          className="chip"
          aria-pressed={typeof tone === 'number'}
          onClick={() => Number(subtone) > 0 && pick(Number(subtone))}
        >
          other
        </button>
        <label>
          <input
            className="small-input"
            inputMode="decimal"
            maxLength={7}
            aria-label="Another tone or subtone, Hz"
            value={subtone}
            onChange={(e) => setSubtone(e.target.value)}
            onBlur={() => told.set({ ...kept, subtone })}
          />{' '}
          Hz
        </label>
      </p>
      <p className="senses">
        <label>
          level{' '}
          <input
            type="range"
            min="-60"
            max="0"
            step="1"
            value={levelDb}
            aria-label="Level of its peaks, dB under full scale"
            onChange={(e) => chooseLevel(Number(e.target.value))}
          />{' '}
          {levelDb} dB
        </label>
        <button type="button" className="chip" aria-pressed={sounds} onClick={sounds ? end : begin}>
          {sounds ? 'Silence' : 'Sound it'}
        </button>
      </p>
      <p className="quiet">Peaks under full scale. Silent until you ask, and again as soon as nobody looks.</p>
    </section>
  )
}
