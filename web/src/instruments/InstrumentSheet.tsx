// What is known of one instrument, on one sheet and changed in place: how sure by function, calibration, its line, its checks.
import { useMutation, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, dataOf, type Schemas } from '../api/client'
import { instrumentsOptions } from '../api/queries'
import { dayOf } from '../ui/words'
import { Accuracy } from './Accuracy'
import { QuickCheck } from './QuickCheck'
import { TryLine } from './TryLine'

const DETECTORS = {
  unknown: 'not said',
  peak: 'peak',
  true_mean: 'true mean',
  average_envelope: 'average of the envelope',
  average: 'average, as its switch says',
} as const

interface InstrumentSheetProps {
  instrument: Schemas['BenchInstrument']
  definitions: Record<string, string>
  values: Record<string, string>
  onKeep: (body: Schemas['InstrumentIn']) => void
  onCheck: (body: Schemas['QuickCheckIn']) => void
}

/** The sheet of an instrument. */
export function InstrumentSheet({ instrument: i, definitions, values, onKeep, onCheck }: InstrumentSheetProps) {
  const [trying, setTrying] = useState(false)
  const isMeterOfPower = i.functions.some((f) => f.name === 'power')
  return (
    <div className="about">
      <dl className="pairs">
        {i.identity !== '' && (
          <>
            <dt>says it is</dt>
            <dd>{i.identity}</dd>
          </>
        )}
        <Words name="serial" of={i} value={i.serial} most={60} onKept={(serial) => onKeep({ serial })} />
        <Words
          name="address"
          of={i}
          value={i.address}
          most={120}
          placeholder="none: typed by hand"
          onKept={(address) =>
            onKeep({ address, ...(i.definition === '' ? { definition: Object.keys(definitions)[0] ?? '' } : {}) })
          }
        />
        <dt>asked by</dt>
        <dd>
          <select
            aria-label={`Definition of ${i.name}`}
            className="small-input"
            value={i.definition}
            onChange={(e) => onKeep({ definition: e.target.value })}
          >
            <option value="">no file</option>
            {Object.entries(definitions).map(([id, title]) => (
              <option key={id} value={id}>
                {title}
              </option>
            ))}
          </select>{' '}
          {i.address !== '' && (
            <button type="button" className="link" aria-expanded={trying} onClick={() => setTrying(!trying)}>
              Try it: send, and name what it answers
            </button>
          )}
        </dd>
        {isMeterOfPower && (
          <>
            <dt>detector</dt>
            <dd>
              <select
                aria-label={`Detector of ${i.name}`}
                className="small-input"
                value={i.detector}
                onChange={(e) => onKeep({ detector: e.target.value as keyof typeof DETECTORS })}
              >
                {Object.entries(DETECTORS).map(([id, words]) => (
                  <option key={id} value={id}>
                    {words}
                  </option>
                ))}
              </select>
            </dd>
            <Words
              name="elements, W"
              of={i}
              value={i.elements_w.join(', ')}
              most={120}
              placeholder="5, 50, 500"
              onKept={(words) =>
                onKeep({ elements_w: words.split(/[\s,;]+/).flatMap((w) => (Number(w) > 0 ? [Number(w)] : [])) })
              }
            />
          </>
        )}
        <Words name="remark" of={i} value={i.remark} most={300} onKept={(remark) => onKeep({ remark })} />
      </dl>
      <div>
        <Accuracy instrument={i} onKeep={onKeep} />
        <Calibration instrument={i} onKeep={onKeep} />
      </div>
      {trying && <TryLine instrument={i} values={values} />}
      <QuickCheck instrument={i} onCheck={onCheck} />
    </div>
  )
}

interface WordsProps {
  name: string
  of: Schemas['BenchInstrument']
  value: string
  most: number
  placeholder?: string
  onKept: (words: string) => void
}

function Words({ name, of, value, most, placeholder = '', onKept }: WordsProps) {
  const label = `${name.slice(0, 1).toUpperCase()}${name.slice(1)} of ${of.name}`
  return (
    <>
      <dt>{name}</dt>
      <dd>
        <input
          aria-label={label}
          className="small-input"
          defaultValue={value}
          key={value}
          placeholder={placeholder}
          maxLength={most}
          onBlur={(e) => e.target.value !== value && onKept(e.target.value)}
          onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
        />
      </dd>
    </>
  )
}

/** When it was calibrated, until when that holds, and the certificates as pictures. */
function Calibration({ instrument: i, onKeep }: Pick<InstrumentSheetProps, 'instrument' | 'onKeep'>) {
  const queries = useQueryClient()
  const add = useMutation({
    mutationFn: (file: File) => {
      const form = new FormData()
      form.append('file', file)
      form.append('id', crypto.randomUUID())
      return dataOf(
        api.POST('/api/bench/instruments/{instrument_id}/certificates', {
          params: { path: { instrument_id: i.id } },
          body: form as never,
          bodySerializer: (body) => body as unknown as FormData,
        }),
      )
    },
    onSuccess: (next) => queries.setQueryData(instrumentsOptions.queryKey, next),
  })
  const [newest, ...older] = i.certificates
  return (
    <section aria-label={`Calibration of ${i.name}`}>
      <h2>Calibration</h2>
      <p className="senses">
        <Day words="done" of={i} value={i.calibrated_on} onKept={(calibrated_on) => onKeep({ calibrated_on })} />
        <Day words="due" of={i} value={i.calibration_due} onKept={(calibration_due) => onKeep({ calibration_due })} />
        <label className="chip">
          {newest === undefined ? 'Add its certificate' : 'A newer certificate'}
          <input
            type="file"
            className="hidden-file"
            accept="image/jpeg,image/png,image/webp"
            aria-label={`Certificate of ${i.name}`}
            onChange={(e) => {
              const file = e.target.files?.[0]
              if (file !== undefined) add.mutate(file)
              e.target.value = ''
            }}
          />
        </label>
      </p>
      {add.error !== null && (
        <p role="alert" className="ask-line">
          {add.error.message}
        </p>
      )}
      {newest !== undefined && (
        <a href={`/api/bench/certificates/${newest.id}`} target="_blank" rel="noreferrer">
          <img
            className="certificate"
            src={`/api/bench/certificates/${newest.id}`}
            alt={`Certificate of ${i.name}, kept ${dayOf(newest.at)}`}
          />
        </a>
      )}
      {older.map((c) => (
        <a key={c.id} className="older" href={`/api/bench/certificates/${c.id}`} target="_blank" rel="noreferrer">
          that of {dayOf(c.at)}
        </a>
      ))}
    </section>
  )
}

interface DayProps {
  words: string
  of: Schemas['BenchInstrument']
  value: string | null
  onKept: (day: string | null) => void
}

function Day({ words, of, value, onKept }: DayProps) {
  return (
    <label className="quiet">
      {words}{' '}
      <input
        className="small-input"
        type="date"
        aria-label={`Calibration of ${of.name} ${words}`}
        key={value}
        defaultValue={value ?? ''}
        onBlur={(e) => (e.target.value || null) !== value && onKept(e.target.value || null)}
      />
    </label>
  )
}
