// Where next, on the bench side: the probe of each open trace, and what is suspected most.
import { useState } from 'react'
import { Begin } from './Begin'
import { Again, ProbeCard } from './ProbeCard'
import { open, useTraces, type Trace } from './useTraces'

export const suspected = (trace: Pick<Trace, 'stages'>) =>
  trace.stages.filter((s) => s.share >= 0.07).sort((a, b) => b.share - a.share)

/** Where next, on the bench side. */
export function TraceCard({
  job,
  item,
  symptom,
  writes,
}: {
  job: string
  item: string | null
  symptom: string
  writes: boolean
}) {
  const traces = useTraces(job)
  if (traces.now === undefined) return null
  const running = open(traces.now.traces)
  return (
    <section className="card" aria-label="Where next">
      {running.length === 0 && (
        <p className="quiet">
          Say what is wrong, and it says which probe tells most for its time: answer by a tap, and it narrows down.
        </p>
      )}
      {traces.problem !== null && (
        <p role="alert" className="ask-line">
          {traces.problem.message}
        </p>
      )}
      {running.map((t) => (
        <Running key={t.id} job={job} trace={t} look={traces.look} writes={writes} />
      ))}
      {running.length === 0 && writes && <Begin traces={traces} item={item} symptom={symptom} />}
    </section>
  )
}

interface RunningProps {
  job: string
  trace: Trace
  look: ReturnType<typeof useTraces>['look']
  writes: boolean
}

function Running({ job, trace, look, writes }: RunningProps) {
  const [elsewhere, setElsewhere] = useState<string | null>(null)
  return (
    <div className="one-trace">
      <p>
        <b>{trace.symptom}</b>{' '}
        <span className="quiet">
          {trace.settled !== null ? 'settled: ' : ''}
          {suspected(trace)
            .slice(0, 3)
            .map((s) => `${s.name.toLowerCase()} ${s.words}`)
            .join(', ')}
        </span>
      </p>
      {writes && <Again trace={trace} onProbe={setElsewhere} />}
      {writes && (
        <ProbeCard
          job={job}
          trace={trace}
          look={look}
          numbered={false}
          elsewhere={elsewhere}
          onElsewhere={setElsewhere}
        />
      )}
    </div>
  )
}
