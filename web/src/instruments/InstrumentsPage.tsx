// The instruments and their lines: who answers, what it last said, what is wrong in words, and how it stood against the standard.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, dataOf, type Schemas } from '../api/client'
import { instrumentsOptions } from '../api/queries'
import { useBenchNow } from '../live'
import { dayOf } from '../ui/words'
import { TryLine } from './TryLine'

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
  const [trying, setTrying] = useState(false)
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
      {open && (
        <div className="about">
          <dl className="pairs">
            <dt>accuracy</dt>
            <dd>{i.accuracy.join('; ') || 'none stated'}</dd>
            {i.kind === 'wattmeter' && (
              <>
                <dt>detector</dt>
                <dd>{i.detector === 'unknown' ? 'not said' : i.detector}</dd>
              </>
            )}
            {i.identity !== '' && (
              <>
                <dt>says it is</dt>
                <dd>{i.identity}</dd>
              </>
            )}
            {i.remark !== '' && (
              <>
                <dt>remark</dt>
                <dd>{i.remark}</dd>
              </>
            )}
            <dt>address</dt>
            <dd>
              <input
                aria-label={`Address of ${i.name}`}
                className="small-input"
                defaultValue={i.address}
                key={i.address}
                placeholder="none: typed by hand"
                maxLength={120}
                onBlur={(e) =>
                  e.target.value !== i.address &&
                  onKeep({
                    address: e.target.value,
                    ...(i.definition === '' ? { definition: Object.keys(definitions)[0] ?? '' } : {}),
                  })
                }
              />
            </dd>
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
          </dl>
          {trying && <TryLine instrument={i} values={values} />}
          <QuickCheck instrument={i} onCheck={onCheck} />
        </div>
      )}
    </li>
  )
}

function QuickCheck({
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
