// One card: where to put the probe, what to expect, the answers as big buttons, and why this one.
import { useEffect, useState } from 'react'
import { isTyping } from '../desk'
import type { Schemas } from '../api/client'
import { useStored } from '../store'
import { Spot } from './Boards'
import type { Trace, useTraces } from './useTraces'

type Probe = Schemas['ProbeOut']
const RISKS: Record<string, string> = { medium: 'RF', high: 'careful', lethal: 'LETHAL' }
/** An answer of a probe in words. */
export const inWords = (probe: Probe, answer: string) => probe.says[answer] ?? answer.replaceAll('_', ' ')

interface ProbeCardProps {
  job: string
  trace: Trace
  look: ReturnType<typeof useTraces>['look']
  /** Number keys answer where nothing else wants them. */
  numbered: boolean
  /** The probe that a hand chose instead of the advised one. */
  elsewhere: string | null
  onElsewhere: (probe: string | null) => void
}

/** The probe that a card shows: the one that was chosen, or the one that is advised. */
export const probeShown = (trace: Trace, elsewhere: string | null) =>
  [...trace.next, ...trace.others].find((p) => p.probe === elsewhere) ?? trace.next[0] ?? null

/** What was said of a probe before it was made, and what it then showed. */
interface Foretold {
  probe: Probe
  said: string
  was: string | null
}

/** After a repair or another change: what the unit did before counts no more, and is looked at again. */
export function Again({ trace, onProbe }: { trace: Trace; onProbe: (probe: string) => void }) {
  const probes = trace.again.flatMap((id) => [...trace.next, ...trace.others].filter((p) => p.probe === id))
  if (probes.length === 0) return null
  return (
    <p className="senses again" role="group" aria-label="Changed since, look again">
      <span className="ask-line">Changed since, look again:</span>
      {probes.map((p) => (
        <button key={p.probe} type="button" className="chip" onClick={() => onProbe(p.probe)}>
          {p.what}
        </button>
      ))}
    </p>
  )
}

export function ProbeCard({ job, trace, look, numbered, elsewhere, onElsewhere }: ProbeCardProps) {
  const [confirmed, setConfirmed] = useState<string | null>(null)
  const [foretells, setForetells] = useStored('foretell', false)
  const [foretold, setForetold] = useState<Foretold | null>(null)
  const probe = probeShown(trace, elsewhere)
  const barred = probe !== null && probe.confirm && confirmed !== probe.probe
  const foretelling = probe !== null && foretells && foretold?.probe.probe !== probe.probe
  const choose = (seen: string, remark = '') => {
    // an answer that is on its way holds up no key for the next probe, which may stand here already
    if (probe === null || (look.isPending && look.variables.probe === probe.probe)) return
    if (foretelling && probe.answers.includes(seen)) {
      setForetold({ probe, said: seen, was: null })
      return
    }
    look.mutate({
      trace: trace.id,
      id: crypto.randomUUID(),
      probe: probe.probe,
      seen,
      remark,
      hazard_known: probe.confirm && !barred,
    })
    if (foretold?.probe.probe === probe.probe) setForetold({ ...foretold, was: seen })
    onElsewhere(null)
    setConfirmed(null)
  }
  useNumberKeys(numbered && probe !== null && !barred ? probe.answers : null, choose)
  if (probe === null)
    return <p>No probe that is listed tells anything more. {trace.swap ?? 'Look at the part, or swap it.'}</p>
  return (
    <div className="probe" data-probe={probe.probe}>
      {foretold !== null && foretold.was !== null && (
        <p role="status">
          Foretold {inWords(foretold.probe, foretold.said)}, and it was <b>{inWords(foretold.probe, foretold.was)}</b>.
        </p>
      )}
      <h3>{probe.what}</h3>
      <p>
        {probe.where !== '' && <>{probe.where} · </>}
        <span className="quiet">
          {probe.minutes} min{probe.covers ? ', covers off' : ''}
          {RISKS[probe.risk] === undefined ? '' : ` · ${RISKS[probe.risk]}`}
        </span>
      </p>
      <Spot job={job} probe={probe.probe} />
      {probe.caution !== '' && <p className="caution">{probe.caution}</p>}
      {barred ? (
        <Confirm onlyDangerLeft={trace.next[0]?.confirm === true} onConfirm={() => setConfirmed(probe.probe)} />
      ) : (
        <>
          {probe.expect !== '' && !foretelling && (
            <p>
              <span className="quiet">healthy:</span> <b>{probe.expect}</b>
            </p>
          )}
          <Answers
            probe={probe}
            numbered={numbered}
            busy={look.isPending}
            asks={foretelling ? 'What will it show?' : 'What did it show?'}
            onAnswer={choose}
          />
        </>
      )}
      <div className="senses">
        {probe.unit !== null && !barred && !foretelling && (
          <FigureRead key={probe.probe} probe={probe} unit={probe.unit} onFigure={choose} />
        )}
        <button type="button" className="chip" disabled={look.isPending} onClick={() => choose('unknown')}>
          cannot tell
        </button>
        {!barred && !foretelling && (
          <Other key={`other ${probe.probe}`} onSeen={(remark) => choose('unknown', remark)} />
        )}
        <Elsewhere trace={trace} probe={probe} onProbe={onElsewhere} />
        <button type="button" className="chip" aria-pressed={foretells} onClick={() => setForetells(!foretells)}>
          foretell first
        </button>
      </div>
      {probe.why !== '' && !foretelling && <p className="quiet why">{probe.why}</p>}
      {trace.swap !== null && <p className="ask-line">{trace.swap}</p>}
      <p className={trace.worth.stop ? 'caution' : 'quiet'}>{trace.worth.words}</p>
    </div>
  )
}

/** Keys 1, 2, 3 … stand for the answers; none where `answers` is null. */
function useNumberKeys(answers: string[] | null, onAnswer: (answer: string) => void) {
  useEffect(() => {
    if (answers === null) return
    const listen = (event: KeyboardEvent) => {
      const seen = answers[Number(event.key) - 1]
      if (
        seen === undefined ||
        isTyping(event.target) ||
        event.ctrlKey ||
        event.altKey ||
        event.metaKey ||
        event.repeat
      )
        return
      onAnswer(seen)
    }
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  })
}

/** Before a measurement at a lethal point: the hazard by name, and the order of the hands. Nothing can be answered before. */
function Confirm({ onlyDangerLeft, onConfirm }: { onlyDangerLeft: boolean; onConfirm: () => void }) {
  return (
    <div className="confirm">
      <p>
        {onlyDangerLeft
          ? 'No safe probe tells anything more.'
          : 'A safe probe still tells something: make that one first.'}{' '}
        Would the cold test or the unit’s own meter do? If it must be live:
      </p>
      <ol>
        <li>Off, mains plug pulled, wait, bleed, short. Check that it is dead.</li>
        <li>Clip on a probe that is rated for it; its cold lead to the chassis.</li>
        <li>Hands off, one person near who knows. Then power.</li>
      </ol>
      <button type="button" className="answer" onClick={onConfirm}>
        High voltage that kills is here. It is clipped on, hands are off.
      </button>
    </div>
  )
}

interface AnswersProps {
  probe: Probe
  numbered: boolean
  busy: boolean
  asks: string
  onAnswer: (answer: string) => void
}

function Answers({ probe, numbered, busy, asks, onAnswer }: AnswersProps) {
  return (
    <>
      {asks === 'What will it show?' && <p className="ask-line">{asks}</p>}
      <p className="answers" role="group" aria-label={asks}>
        {probe.answers.map((a, n) => (
          <button
            key={a}
            type="button"
            className="answer"
            disabled={busy}
            onClick={() => onAnswer(a)}
            aria-keyshortcuts={numbered ? String(n + 1) : undefined}
          >
            {numbered && <small>{n + 1}</small>} {inWords(probe, a)}
          </button>
        ))}
      </p>
    </>
  )
}

/** The figure itself instead of an answer; the ghost in the field is what is due there. */
function FigureRead({ probe, unit, onFigure }: { probe: Probe; unit: string; onFigure: (figure: string) => void }) {
  const [figure, setFigure] = useState('')
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault()
        if (figure.trim() !== '') onFigure(/[a-zΩ%°]\s*$/i.test(figure) ? figure : `${figure}${unit}`)
      }}
    >
      <input
        className="small-input figure"
        aria-label={`Figure read, ${unit}`}
        placeholder={probe.expect.endsWith(unit) ? probe.expect : `figure, ${unit}`}
        value={figure}
        maxLength={30}
        onChange={(e) => setFigure(e.target.value)}
      />
    </form>
  )
}

/** None of the answers: what was seen, in words. It stands on the slip, and moves no suspicion. */
function Other({ onSeen }: { onSeen: (remark: string) => void }) {
  const [words, setWords] = useState<string | null>(null)
  if (words === null)
    return (
      <button type="button" className="chip" onClick={() => setWords('')}>
        other …
      </button>
    )
  return (
    <form
      onSubmit={(e) => {
        e.preventDefault()
        if (words.trim() !== '') onSeen(words.trim())
      }}
    >
      <input
        className="small-input"
        aria-label="What was seen instead"
        placeholder="what was it?"
        autoFocus
        value={words}
        maxLength={120}
        onChange={(e) => setWords(e.target.value)}
        onKeyDown={(e) => e.key === 'Escape' && setWords(null)}
      />
    </form>
  )
}

function Elsewhere({ trace, probe, onProbe }: { trace: Trace; probe: Probe; onProbe: (probe: string) => void }) {
  return (
    <select
      className="chip"
      aria-label="I probed elsewhere"
      value={probe.probe === trace.next[0]?.probe ? '' : probe.probe}
      onChange={(e) => onProbe(e.target.value)}
    >
      <option value="">I probed elsewhere …</option>
      {[...trace.next.slice(1), ...trace.others].map((p) => (
        <option key={p.probe} value={p.probe}>
          {p.what}
        </option>
      ))}
    </select>
  )
}
