// Where next, in full: the chain as the signal goes, supply and key lines beneath, suspicion as weight of ink and in words.
import { useQuery } from '@tanstack/react-query'
import { useState, type CSSProperties } from 'react'
import { useParams } from 'react-router'
import { BackToSlip } from '../desk'
import { slipOptions } from '../api/queries'
import type { Schemas } from '../api/client'
import { Begin } from './Begin'
import { Boards } from './Boards'
import { Again, ProbeCard, probeShown } from './ProbeCard'
import { open, useTraces, type Trace } from './useTraces'

const ORDERS = {
  'best-value': 'most for its price',
  'half-split': 'split in half',
  'walk-back': 'from the aerial back',
  'walk-forward': 'from the source on',
} as const
const BENEATH = new Set(['rail', 'key', 'control', 'reference'])
const QUIET = new Set(['cleared', 'hardly'])

/** The whole chain, suspicion as weight of ink. */
export function TracePage() {
  const { job = '' } = useParams()
  const { data: slip } = useQuery(slipOptions(job, null))
  const traces = useTraces(job)
  const [chosen, setChosen] = useState<string | null>(null)
  const [another, setAnother] = useState(false)
  if (traces.now === undefined || slip === undefined)
    return (
      <p role={traces.asking === null ? 'status' : 'alert'} className="page">
        {traces.asking?.message ?? 'Laying the chain out'}
      </p>
    )
  const all = traces.now.traces
  const trace = all.find((t) => t.id === chosen) ?? open(all)[0] ?? all.at(-1) ?? null
  const writes = slip.handed_back_at === null
  return (
    <div className="page trace">
      <p className="facts">
        <BackToSlip job={job} title={slip.title} />
        {all.map((t) => (
          <button
            key={t.id}
            type="button"
            className="chip"
            aria-pressed={t.id === trace?.id}
            onClick={() => setChosen(t.id)}
          >
            {t.symptom}
            {t.closed_at === null ? '' : ', closed'}
          </button>
        ))}
        {writes && (
          <button type="button" className="link" onClick={() => setAnother(!another)}>
            Another symptom
          </button>
        )}
      </p>
      {traces.problem !== null && (
        <p role="alert" className="ask-line">
          {traces.problem.message}
        </p>
      )}
      {(another || trace === null) && writes && <Begin traces={traces} item={slip.item} symptom="" />}
      {trace !== null && (
        <One
          key={trace.id}
          job={job}
          trace={trace}
          traces={traces}
          pictures={slip.lines.filter((l) => l.picture !== null && l.withdrawn === null)}
          writes={writes && trace.closed_at === null}
        />
      )}
    </div>
  )
}

interface OneProps {
  job: string
  trace: Trace
  traces: ReturnType<typeof useTraces>
  pictures: Schemas['LineOut'][]
  writes: boolean
}

function One({ job, trace, traces, pictures, writes }: OneProps) {
  const { look, change } = traces
  const [elsewhere, setElsewhere] = useState<string | null>(null)
  return (
    <div className="trace-columns">
      <Chain trace={trace} />
      <div>
        {trace.contradictions.map((c) => (
          <p key={c.why} className="caution">
            {c.why}.
          </p>
        ))}
        {trace.settled !== null && <Settled trace={trace} traces={traces} writes={writes} />}
        {writes && <Again trace={trace} onProbe={setElsewhere} />}
        {writes && (
          <ProbeCard job={job} trace={trace} look={look} numbered elsewhere={elsewhere} onElsewhere={setElsewhere} />
        )}
        {trace.closed_at !== null && (
          <p>Closed{trace.proven === '' ? '' : `: ${trace.proven.replaceAll('_', ' ')} was the cause`}.</p>
        )}
        <Boards job={job} probe={probeShown(trace, elsewhere)} pictures={pictures} writes={writes} />
        <Seen trace={trace} traces={traces} writes={writes} />
        {writes && (
          <p className="senses">
            <label>
              Order{' '}
              <select
                className="chip"
                value={trace.strategy}
                onChange={(e) => change.mutate({ trace: trace.id, strategy: e.target.value })}
              >
                {Object.entries(ORDERS).map(([id, words]) => (
                  <option key={id} value={id}>
                    {words}
                  </option>
                ))}
              </select>
            </label>
            <button type="button" className="link" onClick={() => change.mutate({ trace: trace.id, closed: true })}>
              Close it, no cause proven
            </button>
          </p>
        )}
      </div>
    </div>
  )
}

function Seen({ trace, traces, writes }: { trace: Trace; traces: ReturnType<typeof useTraces>; writes: boolean }) {
  const doubt = (e: Trace['evidence'][number]) => {
    if (e.from_slip) traces.doubt.mutate({ trace: trace.id, line: e.line, doubted: !e.doubted })
    else traces.back.mutate(e.line)
  }
  return (
    <section className="card">
      <h2>What was seen, and what it did</h2>
      {trace.evidence.length === 0 && (
        <p className="quiet">Nothing yet. What stands on the slip counts here by itself.</p>
      )}
      <ol className="seen">
        {trace.evidence.map((e) => (
          <li key={`${e.line} ${e.words}`} className={e.stale === '' && !e.doubted ? '' : 'quiet'}>
            <span>
              {e.words} <small>{whatItDid(e)}</small>
            </span>
            <span>
              {e.from_slip && <small>from the slip </small>}
              {writes && (
                <button
                  type="button"
                  className="link"
                  aria-label={`${e.doubted ? 'count it again' : 'doubt it'}: ${e.words}`}
                  onClick={() => doubt(e)}
                >
                  {e.doubted ? 'count it again' : 'doubt it'}
                </button>
              )}
            </span>
          </li>
        ))}
      </ol>
    </section>
  )
}

function whatItDid(e: Trace['evidence'][number]) {
  if (e.doubted) return 'doubted here: counts no more'
  return e.stale === '' ? e.did : `counts no more: ${e.stale}`
}

function Chain({ trace }: { trace: Trace }) {
  const along = trace.stages.filter((s) => s.kind === 'signal')
  const speech = trace.stages.filter((s) => s.kind === 'audio')
  const beneath = trace.stages.filter((s) => BENEATH.has(s.kind))
  return (
    <div className="whole-chain">
      <h2>{trace.title}</h2>
      {trace.known.map((words) => (
        <p key={words} className="quiet">
          {words}
        </p>
      ))}
      <ol className="stage-line" aria-label="As the signal goes">
        <StageRows stages={along} />
      </ol>
      {speech.length > 0 && (
        <>
          <h3>Speech</h3>
          <ol className="stage-line" aria-label="Speech">
            <StageRows stages={speech} />
          </ol>
        </>
      )}
      <h3>Supply, key and control</h3>
      <ol aria-label="Supply, key and control">
        <StageRows stages={beneath} />
      </ol>
      <p className="quiet">Not listed here: {Math.round(100 * trace.not_listed)} %</p>
    </div>
  )
}

type Stage = Trace['stages'][number]

/** Stages in order; neighbours that are cleared share one row, so that a whole chain stands on one screen. */
function StageRows({ stages }: { stages: Stage[] }) {
  return runs(stages).map((run) => {
    const [first] = run
    return run.length === 1 && first !== undefined ? (
      <StageRow key={first.id} stage={first} />
    ) : (
      <li key={run.map((s) => s.id).join()} className="cleared-run" data-words="cleared">
        <small>{run.map((s) => s.name).join(' · ')}</small>
        <span>cleared</span>
      </li>
    )
  })
}

function runs(stages: Stage[]): Stage[][] {
  const found: Stage[][] = []
  for (const stage of stages) {
    const last = found.at(-1)
    if (stage.words === 'cleared' && last?.[0]?.words === 'cleared') last.push(stage)
    else found.push([stage])
  }
  return found
}

function StageRow({ stage }: { stage: Stage }) {
  const ink = {
    '--ink-weight': Math.round(350 + 450 * Math.min(1, 2 * stage.share)),
    '--ink-share': `${Math.round(100 * Math.min(1, stage.share))}%`,
  } as CSSProperties
  return (
    <li style={ink} data-words={stage.words}>
      <span>
        {stage.name}
        {stage.level !== '' && !QUIET.has(stage.words) && <small>{stage.level}</small>}
      </span>
      <span className="share" aria-hidden="true" />
      <span>{stage.words}</span>
    </li>
  )
}

function Settled({ trace, traces, writes }: { trace: Trace; traces: ReturnType<typeof useTraces>; writes: boolean }) {
  const stage = trace.stages.find((s) => s.id === trace.settled)
  const clear = [...new Set(trace.guilty.flatMap((g) => g.clear))]
  const company = [...new Set(trace.guilty.flatMap((g) => [...g.takes, ...g.killed_by]))]
  return (
    <section className="settled">
      <h2 className="big">It is the {stage?.name.toLowerCase()}</h2>
      <ul>
        {trace.guilty.map((g) => (
          <li key={g.fault}>
            {g.name} <span className="quiet">{g.words}</span>{' '}
            {writes && (
              <button
                type="button"
                className="chip"
                onClick={() => traces.change.mutate({ trace: trace.id, proven: g.fault, closed: true })}
              >
                it was this
              </button>
            )}
          </li>
        ))}
      </ul>
      {company.length > 0 && <p>Damage comes in company: look at {company.join(', ')}.</p>}
      {clear.length > 0 && (
        <>
          <p>Before power comes back, each a line of Fix to tick off once the cause is named:</p>
          <ul className="clear">
            {clear.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
        </>
      )}
    </section>
  )
}
