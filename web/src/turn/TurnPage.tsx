// Turning an adjuster with the eyes on the core: one figure, an arrow, the best so far, the target; by ear too.
import { useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { useNavigate, useParams } from 'react-router'
import type { Schemas } from '../api/client'
import { slipOptions } from '../api/queries'
import { BackToSlip, useDesk, deskAction, useSingleKeys } from '../desk'
import { keyName, useKeySettings } from '../keys'
import { KeyWord, stopTurning, turnTo, useBenchActs, useBenchNow, useLiveBench, useSeat } from '../live'
import { domainOf } from '../ui/scale'
import { LimitBar } from '../ui/LimitBar'

type Turn = Schemas['TurnOut']
const FIGURES = {
  carrier_power: 'carrier power',
  frequency_error: 'frequency error',
  am_depth: 'modulation depth',
  fm_deviation: 'deviation',
  supply_current: 'supply current',
  plate_current: 'plate current',
  grid_current: 'grid current',
} as const
/** Figures of valves, shown where an instrument gives one or the line wants it. */
const OF_VALVES: Partial<Record<keyof typeof FIGURES, string>> = {
  plate_current: 'plate_amps',
  grid_current: 'grid_amps',
}
const UNITS: Record<keyof typeof FIGURES, string> = {
  carrier_power: 'W',
  frequency_error: 'Hz',
  am_depth: '%',
  fm_deviation: 'Hz',
  supply_current: 'A',
  plate_current: 'A',
  grid_current: 'A',
}
const AIMS = { peak: 'the most', dip: 'the least', target: 'a target' } as const
const ARROWS: Record<string, { path: string; words: string }> = {
  on: { path: 'M10 45h50V25l32 25-32 25V55H10z', words: 'Better: go on' },
  back: { path: 'M90 45H40V25L8 50l32 25V55h50z', words: 'You passed it: go back' },
  up: { path: 'M45 90V40H25L50 8l25 32H55v50z', words: 'Too low: more' },
  down: { path: 'M45 10v50H25l25 32 25-32H55V10z', words: 'Too high: less' },
  stop: { path: 'M50 15a35 35 0 1 0 .1 0z', words: 'There: leave it' },
  none: { path: 'M20 45h60v10H20z', words: 'Turn slowly' },
}

/** Turning, filling the screen: it keeps the seat, and one key leaves the adjuster where it is. */
export function TurnPage() {
  const { job = '' } = useParams()
  const { data: slip, error } = useQuery(slipOptions(job, null))
  if (slip === undefined)
    return (
      <p role={error === null ? 'status' : 'alert'} className="page">
        {error?.message ?? 'Unrolling the slip'}
      </p>
    )
  return <TurnAlone slip={slip} />
}

function TurnAlone({ slip }: { slip: Schemas['SlipOut'] }) {
  const { leave } = useBenchActs()
  const desk = useDesk()
  const navigate = useNavigate()
  const bench = useLiveBench()
  const mine = bench?.job === slip.id
  const turns = bench?.turn != null
  const current = slip.open_lines[0] ?? null
  useSeat(
    slip.handed_back_at === null && slip.item !== null
      ? {
          job: slip.id,
          item: slip.item,
          row: current?.row ?? null,
          conditions: (current?.conditions ?? {}) as Schemas['Conditions'],
        }
      : null,
    mine,
  )
  const back = () => void navigate(`/job/${slip.id}`)
  useSingleKeys((action) => {
    if (action === 'take' && turns) leave.mutate(true, { onSuccess: back })
    else return deskAction(desk, action)
    return true
  })
  return (
    <div className="page">
      <p className="facts">
        <BackToSlip job={slip.id} title={slip.title} />
      </p>
      <KeyWord />
      <TurnView slip={slip} current={current} onLeft={back} />
    </div>
  )
}

interface TurnViewProps {
  slip: Schemas['SlipOut']
  current: Schemas['OpenLineOut'] | null
  onLeft: () => void
}

/** One figure, an arrow, the best so far. */
export function TurnView({ slip, current, onLeft }: TurnViewProps) {
  const acts = useBenchActs()
  const keys = useKeySettings().keys
  const bench = useLiveBench()
  const now = useBenchNow((known) => known.turn)
  const turn = bench?.turn == null ? null : (now ?? bench.turn)
  const leave = (keep: boolean) => acts.leave.mutate(keep, { onSuccess: onLeft })
  useEffect(() => stopTurning, [])
  useEffect(() => {
    if (turn !== null && turn.live) turnTo(turn.pitch_hz, turn.note ?? null)
    else stopTurning()
  }, [turn])
  return (
    <div className="turn">
      {slip.warning !== null && <p className="ask-line">{slip.warning}</p>}
      {acts.problem !== null && (
        <p role="alert" className="ask-line">
          {acts.problem.message}
        </p>
      )}
      {turn === null ? (
        <Begin current={current} talking={bench?.talking ?? 0} onTurn={(body) => acts.turn.mutate(body)} />
      ) : (
        <Turning turn={turn} takeKey={keyName(keys.take)} onLeave={leave} />
      )}
    </div>
  )
}

function Begin({
  current,
  talking,
  onTurn,
}: {
  current: Schemas['OpenLineOut'] | null
  talking: number
  onTurn: (body: Schemas['TurnIn']) => void
}) {
  const live = useBenchNow((known) => known.live.values)
  const wanted = (
    current !== null && current.quantity in FIGURES ? current.quantity : 'carrier_power'
  ) as keyof typeof FIGURES
  const figures = (Object.keys(FIGURES) as (keyof typeof FIGURES)[]).filter((name) => {
    const value = OF_VALVES[name]
    return value === undefined || name === wanted || live[value]?.value != null
  })
  const [adjuster, setAdjuster] = useState('')
  const [quantity, setQuantity] = useState<keyof typeof FIGURES>(wanted)
  const [aim, setAim] = useState<keyof typeof AIMS>(wanted === 'carrier_power' ? 'peak' : 'target')
  const [target, setTarget] = useState(
    current?.quantity === wanted && current.expected_value !== null ? String(current.expected_value) : '0',
  )
  return (
    <form
      className="begin"
      onSubmit={(e) => {
        e.preventDefault()
        onTurn({ adjuster, quantity, aim, target: aim === 'target' ? Number(target) : null })
      }}
    >
      <h1>What will you turn?</h1>
      {talking === 0 && (
        <p className="ask-line">
          No instrument that talks: turn it, and type what was found and left ('turned L14 2.9w -&gt; 3.8w').
        </p>
      )}
      <input
        className="wide-input"
        aria-label="Adjuster"
        placeholder="L14, VR3, the trimmer beside the crystal"
        value={adjuster}
        maxLength={60}
        required
        autoFocus
        onChange={(e) => setAdjuster(e.target.value)}
      />
      <p className="senses" role="group" aria-label="The figure">
        {figures.map((name) => (
          <button
            key={name}
            type="button"
            className="chip"
            aria-pressed={quantity === name}
            onClick={() => setQuantity(name)}
          >
            {FIGURES[name]}
          </button>
        ))}
      </p>
      <p className="senses" role="group" aria-label="What for">
        {(Object.keys(AIMS) as (keyof typeof AIMS)[]).map((name) => (
          <button key={name} type="button" className="chip" aria-pressed={aim === name} onClick={() => setAim(name)}>
            {AIMS[name]}
          </button>
        ))}
        {aim === 'target' && (
          <input
            className="small-input"
            type="number"
            step="any"
            aria-label="Target"
            value={target}
            onChange={(e) => setTarget(e.target.value)}
          />
        )}
        {aim === 'target' && <span className="quiet">in {UNITS[quantity]}</span>}
      </p>
      <button type="submit" className="take" disabled={adjuster.trim() === ''}>
        Turn it
      </button>
    </form>
  )
}

function Turning({ turn, takeKey, onLeave }: { turn: Turn; takeKey: string; onLeave: (keep: boolean) => void }) {
  const arrow = ARROWS[turn.arrow] ?? { path: '', words: '' }
  const figures = [turn.now, turn.best, turn.found, turn.target].filter((v) => v != null)
  const words = turn.words
  return (
    <>
      <p className="what">
        {turn.adjuster}: {turn.name.toLowerCase()}, {AIMS[turn.aim as keyof typeof AIMS]}
      </p>
      <div className="now-figure">
        <b data-testid="turn-now">{turn.live ? words.now : 'no carrier'}</b>
        <figure data-arrow={turn.arrow}>
          <svg viewBox="0 0 100 100" aria-hidden="true">
            <path d={arrow.path} fill="currentColor" />
          </svg>
          <figcaption role="status">{turn.live ? arrow.words : 'Key it'}</figcaption>
        </figure>
      </div>
      {figures.length > 0 && (
        <LimitBar
          height={48}
          label={`now ${words.now ?? ''}, best ${words.best ?? ''}, found ${words.found ?? ''}`}
          domain={domainOf([{ low: null, high: null, value: turn.now, below: 0, above: 0 }], figures)}
          ghost={turn.best}
          before={turn.found}
          marks={{ low: turn.target ?? null, high: turn.target ?? null, value: turn.now, below: 0, above: 0 }}
        />
      )}
      <dl className="turn-facts">
        <div>
          <dt>found (dashes)</dt>
          <dd>{words.found}</dd>
        </div>
        <div>
          <dt>best so far (ring)</dt>
          <dd>{words.best}</dd>
        </div>
        {turn.target != null && (
          <div>
            <dt>target</dt>
            <dd>{words.target}</dd>
          </div>
        )}
      </dl>
      <p className="acts">
        <button type="button" className="take" disabled={turn.found == null} onClick={() => onLeave(true)}>
          Leave it here ({takeKey})
        </button>{' '}
        <button type="button" className="link" onClick={() => onLeave(false)}>
          Stop, write nothing down
        </button>
      </p>
    </>
  )
}
