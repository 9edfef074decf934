// The records of a job on its bench side: the plot that the figures came from, each figure to take or to leave.
import { useQuery } from '@tanstack/react-query'
import { lazy, Suspense, useState, type KeyboardEvent } from 'react'
import type { Schemas } from '../api/client'
import { benchOptions, recordOptions, recordsOptions } from '../api/queries'
import type { Conditions } from '../entry'
import { Verdict } from '../ui/verdict'
import { timeOf } from '../ui/words'
import { isRecord, useRecords } from './useRecords'

export { isRecord, useRecords }

type Kept = Schemas['RecordOut']
type Found = Schemas['ReadingOut']
const RecordPlot = lazy(() => import('./RecordPlot'))
const MODES = ['am', 'fm', 'ssb', 'two-tone', 'cw'] as const

interface RecordShelfProps {
  job: string
  item: string | null
  row: string | null
  conditions: Conditions
  writes: boolean
  newest: string | null
}

/** The records of a job, each with its plot and figures. */
export function RecordShelf({ job, item, row, conditions, writes, newest }: RecordShelfProps) {
  const { data: rows } = useQuery(recordsOptions(job))
  const [chosen, setChosen] = useState<{ newest: string | null; id: string | null }>({ newest, id: newest })
  // what was handed in last comes up by itself; what a hand chose stays until the next one
  const shown = chosen.newest === newest ? chosen.id : newest
  const { data: record, error } = useQuery({ ...recordOptions(shown ?? ''), enabled: shown !== null })
  const { data: bench } = useQuery(benchOptions)
  const { tell, take, trace } = useRecords(job, item, row, conditions)
  const offers = writes && bench?.job === job ? bench.traces : []
  if (rows === undefined || (rows.length === 0 && offers.length === 0)) return null
  const problem = error ?? tell.error ?? take.error ?? trace.error
  return (
    <section className="card" aria-label="Records">
      <h2>{rows.length === 0 ? 'Traces of the bench' : 'Records of this job'}</h2>
      {offers.length > 0 && (
        <p className="senses" role="group" aria-label="Take a trace">
          <span className="quiet">{trace.isPending ? 'It is handing over' : 'Have now:'}</span>
          {offers.map((o) => (
            <button
              key={o.instrument + o.trace}
              type="button"
              className="chip"
              title={o.name}
              disabled={trace.isPending}
              onClick={() => trace.mutate(o, { onSuccess: (kept) => setChosen({ newest, id: kept.id }) })}
            >
              {o.trace}
            </button>
          ))}
        </p>
      )}
      <p className="senses">
        {rows.map((r) => (
          <button
            key={r.id}
            type="button"
            className="chip"
            aria-pressed={r.id === shown}
            onClick={() => setChosen({ newest, id: r.id === shown ? null : r.id })}
          >
            {r.name} {timeOf(r.at)}
          </button>
        ))}
      </p>
      {rows.map((r) => r.not_whole !== '' && <p key={r.id} className="caution">{`${r.not_whole}`}</p>)}
      {problem !== null && <p role="alert">{problem.message}</p>}
      {record !== undefined && shown !== null && (
        <>
          {record.lines.length > 0 && (
            <Suspense fallback={<p role="status">Drawing the record</p>}>
              <RecordPlot record={record} />
            </Suspense>
          )}
          {record.sound && (
            <audio
              controls
              preload="none"
              className="sound"
              src={soundOf(record)}
              aria-label={`How ${record.name} sounds`}
            />
          )}
          <Figures
            key={record.id}
            record={record}
            writes={writes}
            onTake={(quantity) => take.mutate({ id: record.id, quantity })}
          />
          {record.remarks.map((r) => (
            <p key={r} className="quiet">
              {r}
            </p>
          ))}
          {writes && (
            <ToldForm
              key={`${record.id} told`}
              record={record}
              others={rows.filter((r) => r.id !== record.id)}
              onTell={(told) => tell.mutate({ id: record.id, told })}
            />
          )}
        </>
      )}
    </section>
  )
}

function Figures({ record, writes, onTake }: { record: Kept; writes: boolean; onTake: (quantity: string) => void }) {
  const [left, setLeft] = useState<readonly string[]>([])
  const shown = record.readings.filter((r) => r.measured.value !== null && !left.includes(r.quantity))
  const none = record.readings.filter((r) => r.measured.value === null)
  const shared = sharedRemarks(shown)
  const onward = (button: HTMLElement) => {
    const all = [...(button.closest('ol')?.querySelectorAll<HTMLElement>('button.take-it') ?? [])]
    all[all.indexOf(button) + 1]?.focus()
  }
  const onKey = (event: KeyboardEvent<HTMLButtonElement>, quantity: string) => {
    if (event.key !== 'Delete' && event.key !== 'Backspace') return
    event.preventDefault()
    event.stopPropagation()
    onward(event.currentTarget)
    setLeft([...left, quantity])
  }
  return (
    <>
      <ol className="figures" aria-label="Figures of the record">
        {shown.map((r) => (
          <li key={r.quantity}>
            <span>{r.name}</span>
            <b>{r.figure}</b>
            <span>{r.verdict !== null && <Verdict verdict={r.verdict} words={r.verdict_words} />}</span>
            {record.taken.includes(r.quantity) ? (
              <span className="quiet">on the slip</span>
            ) : (
              writes && (
                <button
                  type="button"
                  className="chip take-it"
                  aria-label={`Take ${r.name}`}
                  onKeyDown={(e) => onKey(e, r.quantity)}
                  onClick={(e) => {
                    onward(e.currentTarget)
                    onTake(r.quantity)
                  }}
                >
                  Take
                </button>
              )
            )}
            <small>
              {[
                r.sentence,
                ...r.measured.remarks.filter((m) => !shared.includes(m) && r.sentence?.includes(m) !== true),
              ]
                .filter((s) => s != null)
                .reduce((said, next) => (said === '' ? next : `${said}${/[.!?]$/.test(said) ? '' : ';'} ${next}`), '')}
            </small>
          </li>
        ))}
      </ol>
      {writes && shown.some((r) => !record.taken.includes(r.quantity)) && (
        <p className="quiet">Enter takes a figure, Delete leaves it.</p>
      )}
      {shared.map((m) => (
        <p key={m} className="quiet">
          {m[0]?.toUpperCase()}
          {m.slice(1)}.
        </p>
      ))}
      {left.length > 0 && (
        <button type="button" className="link" onClick={() => setLeft([])}>
          Show the {left.length} left
        </button>
      )}
      {none.length > 0 && <NoFigures none={none} />}
    </>
  )
}

/** Told otherwise, a record sounds otherwise: another address, or the browser plays what it has. */
const soundOf = ({ id, told }: Kept) =>
  `/api/records/${id}/sound.wav?as=${[told.mode, told.nominal_hz, told.lower_sideband].join()}`

/** What is remarked of more than one figure is said once, beneath them. */
function sharedRemarks(readings: Found[]): string[] {
  const all = readings.flatMap((r) => r.measured.remarks)
  return [...new Set(all.filter((m, n) => all.indexOf(m) !== n))]
}

function NoFigures({ none }: { none: Found[] }) {
  return (
    <details>
      <summary className="quiet">Not in this record: {none.map((r) => r.name.toLowerCase()).join(', ')}</summary>
      <ul>
        {none.map((r) => (
          <li key={r.quantity}>
            {r.name}: {r.measured.remarks.join('; ')}
          </li>
        ))}
      </ul>
    </details>
  )
}

const TOLD = [
  ['nominal_hz', 'assigned frequency, Hz'],
  ['full_scale_dbm', 'full scale, dBm'],
  ['path_loss_db', 'path loss, dB'],
  ['tone_hz', 'tone, Hz'],
  ['hz_per_unit', 'deviation at amplitude 1, Hz'],
  ['rbw_hz', 'resolution bandwidth, Hz'],
  ['reference_ppm', 'reference, ppm'],
  ['level_uncertainty_db', 'level known to, dB'],
] as const

function ToldForm({
  record,
  others,
  onTell,
}: {
  record: Kept
  others: Schemas['RecordRow'][]
  onTell: (told: Schemas['RecordTold']) => void
}) {
  const told = record.told
  const set = (name: (typeof TOLD)[number][0], text: string) => {
    const value = text.trim() === '' ? null : Number(text)
    if (value !== (told[name] ?? null) && !Number.isNaN(value)) onTell({ ...told, [name]: value })
  }
  return (
    <details className="told" open={record.readings.length === 0}>
      <summary>What is told of this record</summary>
      {record.kind === 'baseband' && (
        <p className="senses" role="group" aria-label="Mode">
          {MODES.map((mode) => (
            <button
              key={mode}
              type="button"
              className="chip"
              aria-pressed={told.mode === mode}
              onClick={() => onTell({ ...told, mode })}
            >
              {mode.toUpperCase()}
            </button>
          ))}
          {told.mode === 'ssb' && (
            <button
              type="button"
              className="chip"
              aria-pressed={told.lower_sideband}
              onClick={() => onTell({ ...told, lower_sideband: !told.lower_sideband })}
            >
              lower sideband
            </button>
          )}
        </p>
      )}
      {record.kind === 'spectrum' && others.length > 0 && (
        <p>
          <label>
            the same with {told.attenuated_db ?? 10} dB more before the analyser{' '}
            <select
              aria-label="The same with more before the analyser"
              value={told.attenuated ?? ''}
              onChange={(e) => onTell({ ...told, attenuated: e.target.value === '' ? null : e.target.value })}
            >
              <option value="">not taken</option>
              {others.map((r) => (
                <option key={r.id} value={r.id}>
                  {r.name} {timeOf(r.at)}
                </option>
              ))}
            </select>
          </label>
        </p>
      )}
      <dl className="pairs">
        {TOLD.map(([name, words]) => (
          <div key={name} style={{ display: 'contents' }}>
            <dt>{words}</dt>
            <dd>
              <input
                aria-label={words}
                inputMode="decimal"
                defaultValue={told[name] ?? ''}
                onBlur={(e) => set(name, e.target.value)}
                onKeyDown={(e) => e.key === 'Enter' && set(name, e.currentTarget.value)}
              />
            </dd>
          </div>
        ))}
      </dl>
    </details>
  )
}
