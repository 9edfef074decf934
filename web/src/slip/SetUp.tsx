// A sequence of adjustments, step by step: what stands right, what comes again, which screw is next and which way.
import type { Schemas } from '../api/client'

type Slip = Schemas['SlipOut']
type Standing = Schemas['SetUpStanding']
type Step = Schemas['StepStanding']
type TurnedFor = Schemas['TurnedFor']
type Act = Omit<Schemas['SetUpIn'], 'id' | 'item'>

const STATE_WORDS: Record<Step['state'], string> = {
  open: 'to do',
  out: 'turn',
  in: 'right',
  again: 'again',
  'left out': 'left',
}

interface SetUpProps {
  slip: Slip
  writes: boolean
  onAct: (act: Act) => void
  /** Begins a text in the field. */
  onBegin: (words: string) => void
  /** Turns an adjuster with a live figure in sight; absent where no instrument talks. */
  onTurn?: ((turned: TurnedFor) => void) | undefined
  /** The quantities that an instrument shows while something is turned. */
  turnable: readonly string[]
}

/** The sequences that a unit has, or the one that is followed. */
export function SetUp({ slip, writes, onAct, onBegin, onTurn, turnable }: SetUpProps) {
  if (slip.set_up !== null)
    return <Followed standing={slip.set_up} next={slip.next_row} {...{ writes, onAct, onBegin, onTurn, turnable }} />
  return (
    <section className="card" aria-label="Set up">
      <h2>Set up</h2>
      <p className="quiet">
        Find the fault first: nothing is turned to hide one. What is turned is logged as found and as left.
      </p>
      <ul className="set-ups">
        {slip.sequences.map((s) => (
          <li key={s.id}>
            <button
              type="button"
              className="take"
              disabled={!writes}
              onClick={() => onAct({ sequence: s.id, act: 'begin' })}
            >
              Begin: {s.title}
            </button>{' '}
            <span className="quiet">
              {s.steps} steps, {s.source}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}

interface FollowedProps {
  standing: Standing
  /** The line of the slip that is read next. */
  next: string | null
  writes: boolean
  onAct: (act: Act) => void
  onBegin: (words: string) => void
  onTurn: SetUpProps['onTurn']
  turnable: readonly string[]
}

function Followed({ standing, next, writes, onAct, onBegin, onTurn, turnable }: FollowedProps) {
  const waits = standing.current !== null && standing.steps.find((s) => s.id === standing.current)?.row !== next
  const act = (name: Act['act'], step?: string) => onAct({ sequence: standing.id, act: name, step: step ?? null })
  return (
    <section className="card set-up" aria-label="Set up">
      <h2>{standing.title}</h2>
      <p role="status">{standing.says}</p>
      {waits && <p className="stale">No step yet: what the slip asks for first comes before any of them.</p>}
      <ol>
        {standing.steps.map((step) => (
          <li key={step.id} data-state={step.state} aria-current={step.id === standing.current ? 'step' : undefined}>
            <OneStep
              step={step}
              isCurrent={step.id === standing.current}
              writes={writes}
              onBegin={onBegin}
              onTurn={!waits && turnable.includes(step.turned_for?.quantity ?? '') ? onTurn : undefined}
              onLeave={(left) => act(left ? 'leave out' : 'take up', step.id)}
            />
          </li>
        ))}
      </ol>
      {writes && (
        <button type="button" className={standing.current === null ? 'take' : 'link'} onClick={() => act('end')}>
          {standing.current === null ? 'End it: all stand right' : 'End it here'}
        </button>
      )}
    </section>
  )
}

interface OneStepProps {
  step: Step
  isCurrent: boolean
  writes: boolean
  onBegin: (words: string) => void
  onTurn: SetUpProps['onTurn']
  onLeave: (left: boolean) => void
}

function OneStep({ step, isCurrent, writes, onBegin, onTurn, onLeave }: OneStepProps) {
  const isLeft = step.state === 'left out'
  const turned = step.turned_for
  return (
    <>
      <p className="step">
        <strong>{step.adjuster}</strong> <span className="state">{STATE_WORDS[step.state]}</span>
        {step.times > 1 && <span className="quiet"> round {step.times}</span>}
      </p>
      {isCurrent && (
        <>
          {step.how !== '' && <p>{step.how}.</p>}
          {step.where !== '' && <p className="quiet">{step.where}</p>}
          <p>
            {step.reads}: <strong>{step.aim}</strong>
          </p>
        </>
      )}
      {step.figures.length > 0 && (
        <p className="quiet">
          {step.found !== '' && step.found !== step.figures[0] && `found ${step.found}, `}
          {step.figures.slice(-4).join(' · ')}
        </p>
      )}
      {isCurrent && step.says !== '' && <p className="says">{step.says}</p>}
      {writes && (isCurrent || isLeft) && (
        <p className="acts">
          {isCurrent && onTurn !== undefined && turned !== null && (
            <button type="button" className="link" onClick={() => onTurn(turned)}>
              turn it by ear
            </button>
          )}
          {isCurrent && step.begins !== '' && (
            <button type="button" className="link" onClick={() => onBegin(step.begins)}>
              type {step.begins.trim()}
            </button>
          )}
          <button type="button" className="link" onClick={() => onLeave(!isLeft)}>
            {isLeft ? 'take it up again' : 'leave it as it is'}
          </button>
        </p>
      )}
    </>
  )
}
