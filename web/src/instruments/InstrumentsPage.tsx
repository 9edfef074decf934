// The instruments and their lines: who answers, what it last said, what is wrong in words, and how it stood against the standard.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, dataOf, type Schemas } from '../api/client'
import { instrumentsOptions } from '../api/queries'
import { useBenchNow } from '../live'
import { dayOf } from '../ui/words'
import { InstrumentSheet } from './InstrumentSheet'

type Instruments = Schemas['InstrumentsOut']
type Instrument = Schemas['BenchInstrument']

/** Every instrument of the shop, its line and its checks. */
export function InstrumentsPage() {
  const query = useQuery(instrumentsOptions)
  const queries = useQueryClient()
  const onSuccess = (next: Instruments) => queries.setQueryData(instrumentsOptions.queryKey, next)
  const keep = useMutation({
    mutationFn: ({ id, body }: { id: string; body: Schemas['InstrumentIn'] }) =>
      dataOf(api.PUT('/api/bench/instruments/{instrument_id}', { params: { path: { instrument_id: id } }, body })),
    onSuccess,
  })
  const check = useMutation({
    mutationFn: ({ id, body }: { id: string; body: Schemas['QuickCheckIn'] }) =>
      dataOf(
        api.POST('/api/bench/instruments/{instrument_id}/checks', { params: { path: { instrument_id: id } }, body }),
      ),
    onSuccess,
  })
  const page = query.data
  if (page === undefined)
    return (
      <p role={query.isError ? 'alert' : 'status'} className="page">
        {query.error?.message ?? 'Asking the lines'}
      </p>
    )
  const problem = keep.error ?? check.error
  return (
    <div className="page instruments">
      <h1>Instruments</h1>
      {!page.present && (
        <p className="ask-line" role="status">
          The bench process is not there yet; it is being started. Typing works without it.
        </p>
      )}
      {page.simulated_hands !== null && (
        <p>
          A simulated bench runs here. What hands do to its unit:{' '}
          <a href={page.simulated_hands} target="_blank" rel="noreferrer">
            key, whistle, tap, pull a plug
          </a>
          .
        </p>
      )}
      {problem !== null && (
        <p role="alert" className="ask-line">
          {problem.message}
        </p>
      )}
      <Keeping page={page} />
      <ol className="lines">
        {page.instruments.map((i) => (
          <One
            key={i.id}
            instrument={i}
            definitions={page.definitions}
            values={page.values}
            onKeep={(body) => keep.mutate({ id: i.id, body })}
            onCheck={(body) => check.mutate({ id: i.id, body })}
          />
        ))}
      </ol>
      <Add page={page} onKeep={(id, body) => keep.mutate({ id, body })} />
    </div>
  )
}

/** How what is kept stands: what waits to be stored, the last check of everything, and who follows. */
function Keeping({ page }: { page: Instruments }) {
  const check = page.last_check
  return (
    <>
      {page.held > 0 && (
        <p className="caution" role="status">
          {page.held === 1 ? 'One reading is' : `${page.held} readings are`} held at the bench until the data file can
          be written: make room on the disk. Nothing is lost.
        </p>
      )}
      {check !== null && check.problems.length > 0 && (
        <details className="caution">
          <summary>
            {check.words} Checked {dayOf(check.at)}; a backup may have it.
          </summary>
          {check.problems.map((p) => (
            <p key={p}>{p}</p>
          ))}
        </details>
      )}
      <p className="quiet">
        {check === null
          ? 'What is kept was not checked yet; that goes on by itself when nobody works.'
          : check.problems.length === 0 && `Checked ${dayOf(check.at)}: ${check.words}`}
        {page.followers !== null && ` Tabs that follow: ${page.followers}.`}
      </p>
    </>
  )
}

function stateOf(i: Instrument): { mark: string; words: string; className: string } {
  if (i.address === '') return { mark: '–', words: 'typed by hand', className: 'quiet' }
  if (i.connected)
    return {
      mark: '●',
      words: i.error === '' ? 'answers' : `answers, and says: ${i.error}`,
      className: i.error === '' ? 'fine' : 'stale',
    }
  return { mark: '◇', words: i.sentence || 'not asked yet', className: 'wrong' }
}

interface OneProps {
  instrument: Instrument
  definitions: Record<string, string>
  values: Record<string, string>
  onKeep: (body: Schemas['InstrumentIn']) => void
  onCheck: (body: Schemas['QuickCheckIn']) => void
}

function One({ instrument: i, definitions, values, onKeep, onCheck }: OneProps) {
  const [open, setOpen] = useState(false)
  const state = stateOf(i)
  return (
    <li data-instrument={i.id}>
      <button type="button" className="plain row" aria-expanded={open} onClick={() => setOpen(!open)}>
        <span className={`mark ${state.className}`} aria-hidden="true">
          {state.mark}
        </span>
        <span>
          <b>{i.name}</b>{' '}
          <small className="quiet">
            {i.kind_name.toLowerCase()} {i.serial}
          </small>
          <small className={state.className}>{state.words}</small>
        </span>
        <span className="last">{i.connected ? i.last : ''}</span>
        <span className={i.overdue ? 'stale' : 'quiet'}>
          {i.calibration_due === null
            ? 'calibration not said'
            : `calibration ${i.overdue ? 'was ' : ''}due ${dayOf(i.calibration_due)}`}
        </span>
      </button>
      {(i.drifted || open) && i.drifted && (
        <p className="caution">Outside its accuracy at the last quick check: its readings say so.</p>
      )}
      {open && <InstrumentSheet {...{ instrument: i, definitions, values, onKeep, onCheck }} />}
    </li>
  )
}

function Add({ page, onKeep }: { page: Instruments; onKeep: (id: string, body: Schemas['InstrumentIn']) => void }) {
  const found = useBenchNow((known) => known.found)
  const search = useMutation({
    mutationFn: () =>
      dataOf(
        api.POST('/api/bench/find').then((answer) => ({ ...answer, data: answer.response.ok ? true : undefined })),
      ),
  })
  const [name, setName] = useState('')
  const [kind, setKind] = useState('wattmeter')
  const [address, setAddress] = useState('')
  const [definition, setDefinition] = useState('')
  const known = new Set(page.instruments.map((i) => i.address))
  return (
    <section className="add">
      <h2>Another instrument</h2>
      <form
        className="senses"
        onSubmit={(e) => {
          e.preventDefault()
          onKeep(
            name
              .trim()
              .toLowerCase()
              .replace(/[^a-z0-9]+/g, '-')
              .slice(0, 50),
            { name: name.trim(), kind, address, definition },
          )
          setName('')
          setAddress('')
        }}
      >
        <input
          className="small-input"
          aria-label="Name of the instrument"
          placeholder="its name on the bench"
          value={name}
          maxLength={100}
          onChange={(e) => setName(e.target.value)}
        />
        <select
          className="small-input"
          aria-label="Kind of instrument"
          value={kind}
          onChange={(e) => setKind(e.target.value)}
        >
          {Object.entries(page.kinds).map(([id, title]) => (
            <option key={id} value={id}>
              {title}
            </option>
          ))}
        </select>
        <input
          className="small-input"
          aria-label="Address, if it talks"
          placeholder="address, if it talks"
          value={address}
          maxLength={120}
          onChange={(e) => setAddress(e.target.value)}
        />
        <select
          className="small-input"
          aria-label="How it is asked"
          value={definition}
          onChange={(e) => setDefinition(e.target.value)}
        >
          <option value="">asked by no file</option>
          {Object.entries(page.definitions).map(([id, title]) => (
            <option key={id} value={id}>
              {title}
            </option>
          ))}
        </select>
        <button type="submit" className="chip set" disabled={name.trim() === ''}>
          Add it
        </button>
        <button type="button" className="link" onClick={() => search.mutate()}>
          Search the lines
        </button>
      </form>
      {search.error !== null && (
        <p role="alert" className="ask-line">
          {search.error.message}
        </p>
      )}
      {found !== null && (
        <ul aria-label="Found on the lines">
          {found.map((f) => (
            <li key={f.address + f.words}>
              {f.address === '' ? (
                f.words
              ) : (
                <button type="button" className="link" onClick={() => setAddress(f.address)}>
                  {f.address}
                </button>
              )}{' '}
              <span className="quiet">{known.has(f.address) ? 'in use already' : f.address === '' ? '' : f.words}</span>
            </li>
          ))}
          {found.length === 0 && <li>Nothing was found.</li>}
        </ul>
      )}
    </section>
  )
}
