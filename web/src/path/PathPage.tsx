// The bench drawn from the unit to the instruments: what reaches each part for the most that can come out, and what cures it.
import { useQuery } from '@tanstack/react-query'
import { useState, type CSSProperties } from 'react'
import { useParams } from 'react-router'
import { slipOptions } from '../api/queries'
import { BackToSlip } from '../desk'
import { KeyWord } from '../live'
import { Glyph } from './Glyph'
import { Guarded } from './Guarded'
import { PartDetails } from './PartDetails'
import { changed, outletsOf, putIn, rowsOf, takeOut, type Part, type Path, type Row } from './tree'
import { usePath, type PathNow } from './usePath'

const OUTLET_WORDS = { to: 'behind it', through: 'behind it, on the main line', coupled: 'at its sample' } as const
const STATE_WORDS = {
  ok: 'Everything stands it',
  too_low: 'Fit to key, but too little reaches an instrument',
  over_range: 'Fit to key, but too much to be read',
  too_high: 'Not yet: something would see more than it stands',
  no_load: 'Not yet: the line ends in nothing',
} as const
const MARKS = {
  ok: 'stands it',
  too_low: 'too low',
  over_range: 'off its scale',
  too_high: 'TOO MUCH',
  no_load: 'NO LOAD',
} as const

const watts = (w: number) =>
  w >= 1000
    ? `${(w / 1000).toPrecision(3)} kW`
    : w >= 0.1
      ? `${Number(w.toPrecision(3))} W`
      : `${Number((w * 1000).toPrecision(3))} mW`
/** A level as a hand reads it there: watts where there is heat, dBm at an instrument. */
const level = (dbm: number) => (dbm >= 27 ? watts(10 ** (dbm / 10 - 3)) : `${dbm.toFixed(1).replace('-', '−')} dBm`)
const volts = (v: number) => (v >= 1 ? `${v.toPrecision(3)} V` : `${(v * 1000).toPrecision(3)} mV`)

/** The path drawn, filling the screen. */
export function PathPage() {
  const { job = '' } = useParams()
  const { data: slip } = useQuery(slipOptions(job, null))
  if (slip === undefined)
    return (
      <p role="status" className="page">
        Laying the bench out
      </p>
    )
  return (
    <div className="page">
      <p className="facts">
        <BackToSlip job={job} title={slip.title} />
      </p>
      <PathView job={job} readOnly={slip.handed_back_at !== null} keyed />
    </div>
  )
}

/** The path drawn, from the unit to the instruments; `keyed` where the word for the hand stands nowhere else. */
export function PathView({ job, readOnly, keyed = false }: { job: string; readOnly: boolean; keyed?: boolean }) {
  const path = usePath(job)
  const { now } = path
  const [chosen, setChosen] = useState<string | null>(null)
  const [name, setName] = useState('')
  if (now === undefined)
    return <p role={path.asking === null ? 'status' : 'alert'}>{path.asking?.message ?? 'Laying the bench out'}</p>
  const put = (next: Path | null) => path.use.mutate({ path: next, name: now.name })
  return (
    <div className="path">
      <p className="facts">
        <span className="quiet">Benches:</span>
        {now.benches.map((b) => (
          <button
            key={b.id}
            type="button"
            className="chip"
            aria-pressed={b.name === now.name}
            disabled={readOnly}
            onClick={() => path.use.mutate({ path: b.path, name: b.name })}
          >
            {b.name}
          </button>
        ))}
        {now.path !== null && !readOnly && (
          <button type="button" className="link" onClick={() => path.use.mutate({ path: null, name: '' })}>
            Take the path off
          </button>
        )}
      </p>
      {keyed && <KeyWord />}
      {path.problem !== null && (
        <p role="alert" className="ask-line">
          {path.problem.message}
        </p>
      )}
      <div className="path-columns">
        <div>
          <h1 data-state={now.state ?? 'none'}>
            {now.path === null
              ? 'What hangs on the unit?'
              : now.state === null
                ? 'How much could come out?'
                : STATE_WORDS[now.state]}
          </h1>
          <Guarded now={now} path={path} />
          <Drawing now={now} chosen={chosen} onChoose={setChosen} />
          {now.path === null && !readOnly && <Begin now={now} onPut={put} />}
          {now.path !== null && !readOnly && (
            <form
              className="save-bench"
              onSubmit={(e) => {
                e.preventDefault()
                if (now.path !== null && name.trim() !== '')
                  path.save.mutate({ name, path: now.path }, { onSuccess: () => setName('') })
              }}
            >
              <input
                className="small-input"
                aria-label="Keep this bench as"
                placeholder="keep this bench as …"
                maxLength={60}
                value={name}
                onChange={(e) => setName(e.target.value)}
              />
              {path.save.isSuccess && name === '' && <small role="status">kept</small>}
            </form>
          )}
        </div>
        <aside aria-label="The part">
          {now.path === null ? null : (
            <Chosen
              key={chosen}
              now={{ ...now, path: now.path }}
              chosen={chosen}
              readOnly={readOnly}
              onPut={(next, id) => {
                put(next)
                setChosen(id)
              }}
              onMost={(most_w) => path.use.mutate({ path: now.path, name: now.name, most_w })}
            />
          )}
        </aside>
      </div>
    </div>
  )
}

function Begin({ now, onPut }: { now: PathNow; onPut: (path: Path) => void }) {
  const typical = (id: string) => now.classes.find((c) => c.id === id)?.part as Part
  return (
    <div className="begin">
      <p>
        Take a bench from above, or begin with what the unit is plugged into. Ratings are typical ones until you say
        better.
      </p>
      <p className="senses">
        <button
          type="button"
          className="take"
          onClick={() =>
            onPut(putIn(putIn(null, null, typical('wattmeter')), { id: 'wattmeter', outlet: 'to' }, typical('load')))
          }
        >
          Wattmeter and load
        </button>
        {now.classes.map((c) => (
          <button key={c.id} type="button" className="chip" onClick={() => onPut(putIn(null, null, c.part))}>
            {c.part.name}
          </button>
        ))}
      </p>
    </div>
  )
}

function Drawing({
  now,
  chosen,
  onChoose,
}: {
  now: PathNow
  chosen: string | null
  onChoose: (id: string | null) => void
}) {
  if (now.path === null) return null
  const nodes = new Map(now.nodes.map((n) => [n.part, n]))
  const rows = rowsOf(now.path)
  return (
    <div className="drawn">
      <p className="heads" aria-hidden="true">
        <span />
        <span />
        <span>reaches it, mean</span>
        <span>stands</span>
      </p>
      <ol aria-label="From the unit to the instruments">
        <li className="unit" style={DEPTH(0)}>
          <button type="button" className="plain node" aria-pressed={chosen === null} onClick={() => onChoose(null)}>
            <span className="glyph unit" />
            <span>
              <b>{now.path.begins.name}</b>
              <small>
                {now.mean_w === null || now.crest_w === null
                  ? 'not known: tap, and state the most'
                  : `at most ${watts(now.mean_w)} mean, ${watts(now.crest_w)} PEP, at ${(now.at_hz / 1e6).toPrecision(4)} MHz`}
              </small>
            </span>
          </button>
        </li>
        {rows.map((row, n) => (
          <Station
            key={row.part.id}
            row={row}
            mainGoesOn={rows.slice(n).some((r) => r.depth === 0)}
            node={nodes.get(row.part.id)}
            pressed={chosen === row.part.id}
            onChoose={onChoose}
          />
        ))}
      </ol>
    </div>
  )
}

/** How deep a row stands, for the lines that are drawn to it. */
const DEPTH = (depth: number) => ({ '--depth': depth }) as CSSProperties

function Station({
  row,
  mainGoesOn,
  node,
  pressed,
  onChoose,
}: {
  row: Row
  mainGoesOn: boolean
  node: PathNow['nodes'][number] | undefined
  pressed: boolean
  onChoose: (id: string) => void
}) {
  const { part } = row
  const takes =
    'coupling_db' in part ? `sample ${shownLoss(part.coupling_db)}` : 'loss_db' in part ? shownLoss(part.loss_db) : null
  return (
    <li
      style={DEPTH(row.depth)}
      data-branch={row.behind?.outlet === 'coupled' || undefined}
      data-main={(row.depth > 0 && mainGoesOn) || undefined}
      data-ends={outletsOf(part).length === 0 || undefined}
    >
      <button
        type="button"
        className="plain node"
        style={{ paddingLeft: 20 + 40 * row.depth }}
        data-state={node?.state ?? 'none'}
        aria-pressed={pressed}
        onClick={() => onChoose(part.id)}
      >
        <span className="glyph">
          <Glyph kind={part.kind} />
        </span>
        <span>
          <b>{part.name || part.id}</b>
          <small>{[takes, part.typical ? 'typical' : null].filter(Boolean).join(' · ')}</small>
        </span>
        {node !== undefined && (
          <>
            <span className="level">
              {level(node.mean_dbm)}
              <small>
                {node.pep_dbm - node.mean_dbm > 0.05 ? `PEP ${level(node.pep_dbm)} · ` : ''}
                {volts(node.peak_v)} peak
              </small>
            </span>
            <span className="stands">
              {node.rating_dbm !== null ? level(node.rating_dbm) : ''}
              <small>{MARKS[node.state]}</small>
            </span>
          </>
        )}
      </button>
      {node !== undefined && (node.state === 'too_low' || node.state === 'over_range') && (
        <p className="advice">{node.advice}</p>
      )}
    </li>
  )
}

const shownLoss = (loss: number | readonly (readonly number[])[]) =>
  typeof loss === 'number'
    ? `${loss} dB`
    : `${Math.min(...loss.map((r) => r[1] ?? 0)).toFixed(2)}–${Math.max(...loss.map((r) => r[1] ?? 0)).toFixed(2)} dB, from a table`

interface ChosenProps {
  now: PathNow & { path: Path }
  chosen: string | null
  readOnly: boolean
  onPut: (path: Path | null, chosen: string | null) => void
  onMost: (most: number | null) => void
}

function Chosen({ now, chosen, readOnly, onPut, onMost }: ChosenProps) {
  const part = now.path.parts.find((p) => p.id === chosen)
  const spots = part === undefined ? [null] : outletsOf(part).map((outlet) => ({ id: part.id, outlet }))
  return (
    <>
      {part === undefined ? (
        <StartDetails
          now={now}
          readOnly={readOnly}
          onBegins={(begins) => onPut({ ...now.path, begins }, null)}
          onMost={onMost}
        />
      ) : (
        <PartDetails
          key={part.id}
          part={part}
          readOnly={readOnly}
          onChange={(changes) => onPut(changed(now.path, part.id, changes), part.id)}
          onOut={() => onPut(takeOut(now.path, part.id), null)}
        />
      )}
      {!readOnly &&
        spots.map((spot) => (
          <section className="card" key={spot?.outlet ?? 'start'}>
            <h2>Put in {spot === null ? 'at the socket' : OUTLET_WORDS[spot.outlet]}</h2>
            <p className="senses">
              {now.classes.map((c) => (
                <button
                  key={c.id}
                  type="button"
                  className="chip"
                  onClick={() => {
                    const next = putIn(now.path, spot, c.part)
                    onPut(next, next.parts.at(-1)?.id ?? null)
                  }}
                >
                  {c.part.name}
                </button>
              ))}
            </p>
          </section>
        ))}
    </>
  )
}

interface StartProps {
  now: PathNow & { path: Path }
  readOnly: boolean
  onBegins: (begins: Path['begins']) => void
  onMost: (most: number | null) => void
}

function StartDetails({ now, readOnly, onBegins, onMost }: StartProps) {
  const { begins } = now.path
  const inner = begins.kind === 'inner'
  const number = (text: string) => (text.trim() === '' || !(Number(text) > 0) ? null : Number(text))
  return (
    <section className="card">
      <h2 className="big">Where the path begins</h2>
      <dl className="pairs unit">
        <dt>start</dt>
        <dd>
          <select
            aria-label="Start"
            disabled={readOnly}
            value={begins.kind}
            onChange={(e) =>
              onBegins(
                e.target.value === 'inner'
                  ? { kind: 'inner', name: 'plug inside', most_w: 1, dc_v: 0 }
                  : { kind: 'aerial_socket', name: 'aerial socket', most_w: null, dc_v: 0 },
              )
            }
          >
            <option value="aerial_socket">aerial socket of the unit</option>
            <option value="inner">a point inside</option>
          </select>
        </dd>
        {inner && (
          <>
            <dt>which point</dt>
            <dd>
              <input
                aria-label="Which point"
                readOnly={readOnly}
                defaultValue={begins.name}
                maxLength={60}
                onBlur={(e) =>
                  e.target.value.trim() !== '' &&
                  e.target.value !== begins.name &&
                  onBegins({ ...begins, name: e.target.value.trim() })
                }
              />
            </dd>
          </>
        )}
        <dt>{inner ? 'the most it gives, W' : 'more than the library says, W'}</dt>
        <dd>
          <input
            aria-label="The most that can come out, W"
            type="number"
            min="0"
            step="any"
            readOnly={readOnly}
            defaultValue={(inner ? begins.most_w : now.most_w) ?? ''}
            onBlur={(e) => {
              const most = number(e.target.value)
              if (!inner && most !== now.most_w) onMost(most)
              else if (inner && most !== null && most !== begins.most_w) onBegins({ ...begins, most_w: most })
            }}
          />
        </dd>
        {inner && (
          <>
            <dt>DC on it, V</dt>
            <dd>
              <input
                aria-label="DC on it, V"
                type="number"
                step="any"
                readOnly={readOnly}
                defaultValue={begins.dc_v}
                onBlur={(e) =>
                  Number(e.target.value) !== begins.dc_v && onBegins({ ...begins, dc_v: Number(e.target.value) || 0 })
                }
              />
            </dd>
          </>
        )}
      </dl>
      <p className="quiet">
        The most is the largest of every unit on the job, an amplifier among them, and of what you state. A scope’s clip
        is mains earth: never together with an isolating transformer under the unit.
      </p>
    </section>
  )
}
