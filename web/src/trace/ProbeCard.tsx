// One card: where to put the probe, what to expect, the answers as big buttons, and why this one.
import { useEffect, useState } from 'react'
import { isTyping } from '../app/desk'
import type { Schemas } from '../api/client'
import type { Trace, useTraces } from './useTraces'

type Probe = Schemas['ProbeOut']
const RISKS: Record<string, string> = { medium: 'RF', high: 'careful', lethal: 'LETHAL' }
const WORDS: Record<string, string> = { nothing: 'nothing wrong seen', seen: 'seen: something wrong', no_rise: 'does not rise' }
export const inWords = (answer: string) => WORDS[answer] ?? answer.replaceAll('_', ' ')

interface ProbeCardProps {
  trace: Trace
  look: ReturnType<typeof useTraces>['look']
  /** Number keys answer where nothing else wants them. */
  numbered: boolean
}

export function ProbeCard({ trace, look, numbered }: ProbeCardProps) {
  const [elsewhere, setElsewhere] = useState<string | null>(null)
  const [figure, setFigure] = useState('')
  const probe = [...trace.next, ...trace.others].find((p) => p.probe === elsewhere) ?? trace.next[0] ?? null
  const shown = probe?.probe
  const answers = probe?.answers
  useEffect(() => {
    if (!numbered || shown === undefined || answers === undefined) return
    const listen = (event: KeyboardEvent) => {
      const seen = answers[Number(event.key) - 1]
      if (seen === undefined || isTyping(event.target) || event.ctrlKey || event.altKey || event.metaKey || look.isPending) return
      look.mutate({ trace: trace.id, id: crypto.randomUUID(), probe: shown, seen })
      setElsewhere(null)
    }
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  }, [numbered, shown, answers, look, trace.id])
  if (probe === null) return <p>No probe that is listed tells anything more. {trace.swap ?? 'Look at the part, or swap it.'}</p>
  const answer = (seen: string) => {
    look.mutate({ trace: trace.id, id: crypto.randomUUID(), probe: probe.probe, seen })
    setElsewhere(null)
    setFigure('')
  }
  return (
    <div className="probe" data-probe={probe.probe}>
      <h3>{probe.what}</h3>
      <p>
        {probe.where !== '' && <>{probe.where} · </>}
        <span className="quiet">
          {probe.minutes} min{probe.covers ? ', covers off' : ''}
          {RISKS[probe.risk] === undefined ? '' : ` · ${RISKS[probe.risk]}`}
        </span>
      </p>
      {probe.caution !== '' && <p className="caution">{probe.caution}</p>}
      {probe.expect !== '' && (
        <p>
          <span className="quiet">healthy:</span> <b>{inWords(probe.expect)}</b>
        </p>
      )}
      <p className="answers" role="group" aria-label="What did it show?">
        {probe.answers.map((a, n) => (
          <button key={a} type="button" className="answer" disabled={look.isPending} onClick={() => answer(a)} aria-keyshortcuts={numbered ? String(n + 1) : undefined}>
            {numbered && <small>{n + 1}</small>} {inWords(a)}
          </button>
        ))}
      </p>
      <div className="senses">
        {probe.unit !== null && (
          <form
            onSubmit={(e) => {
              e.preventDefault()
              if (figure.trim() !== '') answer(/[a-zΩ%°]\s*$/i.test(figure) ? figure : `${figure}${probe.unit ?? ''}`)
            }}
          >
            <input className="small-input figure" aria-label={`Figure read, ${probe.unit}`} placeholder={`or the figure, ${probe.unit}`} value={figure} maxLength={30} onChange={(e) => setFigure(e.target.value)} />
          </form>
        )}
        <button type="button" className="chip" disabled={look.isPending} onClick={() => answer('unknown')}>
          cannot tell
        </button>
        <Elsewhere trace={trace} probe={probe} onProbe={setElsewhere} />
      </div>
      {probe.why !== '' && <p className="quiet why">{probe.why}</p>}
      {trace.swap !== null && <p className="ask-line">{trace.swap}</p>}
      <p className={trace.worth.stop ? 'caution' : 'quiet'}>{trace.worth.words}</p>
    </div>
  )
}

function Elsewhere({ trace, probe, onProbe }: { trace: Trace; probe: Probe; onProbe: (probe: string) => void }) {
  return (
    <select className="chip" aria-label="I probed elsewhere" value={probe.probe === trace.next[0]?.probe ? '' : probe.probe} onChange={(e) => onProbe(e.target.value)}>
      <option value="">I probed elsewhere …</option>
      {[...trace.next.slice(1), ...trace.others].map((p) => (
        <option key={p.probe} value={p.probe}>
          {p.what}
        </option>
      ))}
    </select>
  )
}
