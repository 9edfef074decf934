// Watching what comes and goes: hours of log, each drop with what the hands did just before.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useParams } from 'react-router'
import { lazy, Suspense, useEffect, useState } from 'react'
import { api, dataOf, type Schemas } from '../api/client'
import { slipOptions, watchesOptions, watchOptions } from '../api/queries'
import { KeyWord, useBenchNow, useLiveBench } from '../live'
import { BackToSlip, isTyping } from '../desk'
import { dayOf, timeOf } from '../ui/words'

type Watch = Schemas['WatchOut']
const WatchPlot = lazy(() => import('./WatchPlot'))
const HANDS = ['tapped', 'flexed', 'warmed', 'cooled', 'keyed'] as const

function span(seconds: number): string {
  const whole = Math.round(seconds)
  return whole < 60
    ? `${whole} s`
    : whole < 3600
      ? `${Math.floor(whole / 60)} min ${whole % 60} s`
      : `${Math.floor(whole / 3600)} h ${Math.floor((whole % 3600) / 60)} min`
}

/** A watch, filling the screen. */
export function WatchPage() {
  const { job = '' } = useParams()
  const { data: slip, error } = useQuery(slipOptions(job, null))
  if (slip === undefined)
    return (
      <p role={error === null ? 'status' : 'alert'} className="page">
        {error?.message ?? 'Unrolling the slip'}
      </p>
    )
  return (
    <div className="page">
      <p className="facts">
        <BackToSlip job={job} title={slip.title} />
      </p>
      <WatchView job={job} readOnly={slip.handed_back_at !== null} keyed />
    </div>
  )
}

/** A watch: its plot, its drops, what the hands did; `keyed` where the word for the hand stands nowhere else. */
export function WatchView({ job, readOnly, keyed = false }: { job: string; readOnly: boolean; keyed?: boolean }) {
  const bench = useLiveBench()
  const [chosen, setChosen] = useState<string | null>(null)
  const { data: watches } = useQuery(watchesOptions(job))
  const running = watches?.find((w) => w.ended_at === null) ?? null
  const shown = chosen ?? running?.id ?? watches?.[0]?.id ?? null
  const { data: watch } = useQuery({ ...watchOptions(shown ?? ''), enabled: shown !== null })
  const queries = useQueryClient()
  const begin = useMutation({
    mutationFn: () => dataOf(api.POST('/api/bench/watches', { body: { id: crypto.randomUUID(), job } })),
    onSuccess: (made) => {
      queries.setQueryData(watchOptions(made.id).queryKey, made)
      setChosen(made.id)
      void queries.invalidateQueries({ queryKey: ['watches'] })
    },
  })
  return (
    <div className="watch">
      <p className="facts">
        {(watches ?? []).map((w) => (
          <button
            key={w.id}
            type="button"
            className="chip"
            aria-pressed={w.id === shown}
            onClick={() => setChosen(w.id)}
          >
            {dayOf(w.began_at)} {timeOf(w.began_at)}, {w.drops} drops
          </button>
        ))}
      </p>
      {keyed && <KeyWord />}
      {begin.error !== null && (
        <p role="alert" className="ask-line">
          {begin.error.message}
        </p>
      )}
      {running === null && (
        <p className="begin-watch">
          <button
            type="button"
            className="take"
            disabled={readOnly || bench?.talking === 0}
            onClick={() => begin.mutate()}
          >
            Watch it
          </button>{' '}
          <span className="quiet">
            {bench?.talking === 0
              ? 'No instrument that talks: there is nothing to watch with.'
              : 'Power, current and frequency are logged for as long as you like; ten seconds around each drop are kept whole.'}
          </span>
        </p>
      )}
      {watch !== undefined && <WatchWork key={watch.id} watch={watch} />}
    </div>
  )
}

function WatchWork({ watch }: { watch: Watch }) {
  const queries = useQueryClient()
  const live = useBenchNow((known) => known.live)
  const onSuccess = (next: Watch) => {
    queries.setQueryData(watchOptions(next.id).queryKey, next)
    void queries.invalidateQueries({ queryKey: ['watches'] })
  }
  const path = { watch_id: watch.id }
  const mark = useMutation({
    mutationFn: (what: string) =>
      dataOf(
        api.POST('/api/bench/watches/{watch_id}/mark', { params: { path }, body: { id: crypto.randomUUID(), what } }),
      ),
    onSuccess,
  })
  const end = useMutation({
    mutationFn: () =>
      dataOf(api.POST('/api/bench/watches/{watch_id}/end', { params: { path }, body: { line: crypto.randomUUID() } })),
    onSuccess,
  })
  const runs = watch.ended_at === null
  const { mutate } = mark
  useEffect(() => {
    if (!runs) return
    const listen = (event: KeyboardEvent) => {
      const what = HANDS[Number(event.key) - 1]
      if (what !== undefined && !isTyping(event.target) && !event.ctrlKey && !event.altKey && !event.metaKey)
        mutate(what)
    }
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  }, [runs, mutate])
  const problem = mark.error ?? end.error
  return (
    <>
      <p className="watched" role="status">
        <b>
          {watch.drops.length === 0
            ? runs
              ? 'Watching'
              : 'Nothing dropped'
            : watch.summary.replace(/^watched [^:]*: /, '')}
        </b>{' '}
        {span(watch.seconds)}
        {runs && (
          <span className="now-values">
            {(['power', 'amps', 'frequency'] as const).map((name) => (
              <span key={name}>{live.values[name]?.shown ?? ''}</span>
            ))}
          </span>
        )}
      </p>
      {problem !== null && (
        <p role="alert" className="ask-line">
          {problem.message}
        </p>
      )}
      {runs && (
        <p className="hands" role="group" aria-label="What did the hands do?">
          {HANDS.map((what, n) => (
            <button key={what} type="button" className="chip" onClick={() => mark.mutate(what)}>
              {n + 1} {what}
            </button>
          ))}
          <button type="button" className="link" onClick={() => end.mutate()}>
            End the watch
          </button>
        </p>
      )}
      <Suspense fallback={<p role="status">Drawing the log</p>}>
        <WatchPlot watch={watch} />
      </Suspense>
      <Events watch={watch} />
    </>
  )
}

const KIND_WORDS: Record<string, string> = { drop: 'fell', gone: 'was gone', jump: 'jumped' }

const SHOWN_FIRST = 60

function Events({ watch }: { watch: Watch }) {
  const [all, setAll] = useState(false)
  const rows = [
    ...watch.drops.map((d) => ({
      at: d.at,
      what: `${d.name} ${KIND_WORDS[d.kind] ?? d.kind}: ${d.usual} → ${d.reached}${d.lasted == null ? '' : `, for ${d.lasted.toFixed(1)} s`}`,
      after: d.after,
    })),
    ...watch.marks.map((m) => ({ at: m.at, what: `hands: ${m.what}`, after: '' })),
  ].sort((a, b) => b.at - a.at)
  if (rows.length === 0)
    return (
      <p className="quiet">
        Key it, then tap, flex, warm and cool: say so with 1 to 5, so that a drop knows what came before it.
      </p>
    )
  return (
    <>
      <table className="events" aria-label="What happened">
        <tbody>
          {rows.slice(0, all ? rows.length : SHOWN_FIRST).map((r) => (
            <tr key={`${r.at}-${r.what}`} className={r.what.startsWith('hands') ? 'quiet' : ''}>
              <td>{span(r.at)}</td>
              <td>{r.what}</td>
              <td>{r.after !== '' && <b>just after it was {r.after}</b>}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {!all && rows.length > SHOWN_FIRST && (
        <button type="button" className="link" onClick={() => setAll(true)}>
          All {rows.length}
        </button>
      )}
    </>
  )
}
