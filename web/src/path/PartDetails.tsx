// One part of the path: its loss as a figure or from a file, what it stands, which instrument it is.
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { libraryOptions } from '../api/queries'
import type { Part } from './tree'
import { lossFrom } from './usePath'

const FIELDS = {
  loss_db: 'loss, dB',
  coupling_db: 'sample below the line, dB',
  directivity_db: 'directivity, dB',
  rating_w: 'stands, W',
  rating_s: 'for, s',
  cool_off_s: 'then rests, s',
  safe_dbm: 'survives, dBm',
  safe_dc_v: 'survives, V DC',
} as const
type Field = keyof typeof FIELDS
const FIELDS_OF: Record<string, Field[]> = {
  coupler: ['coupling_db', 'loss_db', 'directivity_db', 'rating_w'],
  load: ['rating_w', 'rating_s', 'cool_off_s'],
  aerial: ['rating_w'],
  other: ['rating_w'],
  instrument: ['safe_dbm', 'safe_dc_v'],
  generator: ['safe_dbm', 'safe_dc_v'],
  probe: ['safe_dc_v'],
}
const PASSES: Field[] = ['loss_db', 'rating_w', 'rating_s', 'cool_off_s']
const KINDS = [
  ['wattmeter', 'a wattmeter'],
  ['scope', 'a scope'],
  ['analyser', 'an analyser'],
  ['counter', 'a counter'],
  ['modulation_meter', 'a modulation meter'],
] as const
const READS = new Set(['wattmeter', 'load', 'instrument', 'probe'])

type OnChange = (changes: Record<string, unknown>) => void

interface PartDetailsProps {
  part: Part
  readOnly: boolean
  onChange: OnChange
  onOut: () => void
}

/** The card of one part of the path, changed in place. */
export function PartDetails({ part, readOnly, onChange, onOut }: PartDetailsProps) {
  const [problem, setProblem] = useState('')
  const fields = FIELDS_OF[part.kind] ?? PASSES
  const values = part as unknown as Record<Field, unknown>
  const lossField: Field = part.kind === 'coupler' ? 'coupling_db' : 'loss_db'
  const keep = (field: Field, text: string) => {
    const value = text.trim() === '' ? null : Number(text)
    if (
      value === (values[field] ?? null) ||
      Number.isNaN(value) ||
      (value === null && !field.startsWith('rating') && field !== 'cool_off_s')
    )
      return
    onChange({ [field]: value })
  }
  const onFile = (file: File | undefined) => {
    if (file === undefined) return
    setProblem('')
    lossFrom(file).then(
      (table) => onChange({ [lossField]: table, measured: true }),
      (refused: Error) => setProblem(refused.message),
    )
  }
  return (
    <section className="card">
      <h2 className="big">{part.name || part.id}</h2>
      <dl className="pairs unit">
        <dt>called</dt>
        <dd>
          <input
            aria-label="Called"
            readOnly={readOnly}
            defaultValue={part.name}
            maxLength={60}
            onBlur={(e) => e.target.value !== part.name && onChange({ name: e.target.value, typical: part.typical })}
          />
        </dd>
        {fields.map((field) =>
          Array.isArray(values[field]) ? (
            <Table
              key={field}
              words={FIELDS[field]}
              rows={values[field] as number[][]}
              onFigure={readOnly ? null : () => onChange({ [field]: 0, measured: false })}
            />
          ) : (
            <div key={`${field}${String(values[field])}`} style={{ display: 'contents' }}>
              <dt>{FIELDS[field]}</dt>
              <dd>
                <input
                  aria-label={FIELDS[field]}
                  type="number"
                  step="any"
                  readOnly={readOnly}
                  defaultValue={(values[field] as number | null | undefined) ?? ''}
                  onBlur={(e) => keep(field, e.target.value)}
                />
              </dd>
            </div>
          ),
        )}
        {READS.has(part.kind) && <WhichInstrument part={part} readOnly={readOnly} onChange={onChange} />}
      </dl>
      {'measured' in part && !readOnly && <HowLossIsKnown part={part} onChange={onChange} onFile={onFile} />}
      {problem !== '' && (
        <p role="alert" className="ask-line">
          {problem}
        </p>
      )}
      {!readOnly && (
        <p>
          <button type="button" className="link" onClick={onOut}>
            Take it out
          </button>
        </p>
      )}
    </section>
  )
}

function Table({ words, rows, onFigure }: { words: string; rows: number[][]; onFigure: (() => void) | null }) {
  const [low, high] = [rows[0]?.[0] ?? 0, rows.at(-1)?.[0] ?? 0]
  return (
    <>
      <dt>{words}</dt>
      <dd>
        {rows.length} rows, {(low / 1e6).toPrecision(3)} to {(high / 1e6).toPrecision(3)} MHz{' '}
        {onFigure !== null && (
          <button type="button" className="link" onClick={onFigure}>
            a figure instead
          </button>
        )}
      </dd>
    </>
  )
}

function WhichInstrument({ part, readOnly, onChange }: Omit<PartDetailsProps, 'onOut'>) {
  const { data: library } = useQuery(libraryOptions)
  return (
    <>
      <dt>it is</dt>
      <dd>
        <select
          aria-label="Which instrument"
          disabled={readOnly}
          value={('instrument' in part ? part.instrument : null) ?? ''}
          onChange={(e) =>
            onChange({ instrument: e.target.value === '' ? null : e.target.value, typical: part.typical })
          }
        >
          <option value="">nothing that is read here</option>
          {library?.instruments.map((i) => (
            <option key={i.id} value={i.id}>
              {i.name}
            </option>
          ))}
          {KINDS.map(([id, words]) => (
            <option key={id} value={id}>
              {words}, not named
            </option>
          ))}
        </select>
      </dd>
    </>
  )
}

interface HowLossIsKnownProps {
  part: Extract<Part, { measured: boolean }>
  onChange: OnChange
  onFile: (file: File | undefined) => void
}

function HowLossIsKnown({ part, onChange, onFile }: HowLossIsKnownProps) {
  return (
    <p className="senses">
      <button
        type="button"
        className="chip"
        aria-pressed={part.measured}
        onClick={() => onChange({ measured: !part.measured })}
      >
        loss was measured
      </button>
      {'switchable' in part && part.kind === 'attenuator' && (
        <button
          type="button"
          className="chip"
          aria-pressed={part.switchable}
          onClick={() => onChange({ switchable: !part.switchable })}
        >
          can be switched to 0 dB
        </button>
      )}
      <label className="chip">
        loss from a file
        <input
          type="file"
          hidden
          accept=".s2p"
          aria-label="Loss from a Touchstone file"
          onChange={(e) => onFile(e.target.files?.[0])}
        />
      </label>
    </p>
  )
}
