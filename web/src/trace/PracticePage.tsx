// Practice: a job that ended well, gone through again. First where one would look, then what it will show; only then the answer.
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useParams } from 'react-router'
import type { Schemas } from '../api/client'
import { practiceOptions, replayOptions } from '../api/queries'
import { HiddenFault } from './HiddenFault'
import { inWords } from './ProbeCard'
import { suspected } from './TraceCard'

/** Closed traces, gone through again. */
export function PracticePage() {
  const { trace } = useParams()
  const { data: exercises, error } = useQuery(practiceOptions)
  return (
    <div className="page trace practice">
      <h1>Practice</h1>
      {trace === undefined && <HiddenFault />}
      <h2>Jobs that ended well</h2>
      {error !== null && <p role="alert">{error.message}</p>}
      {exercises?.length === 0 && <p>No job was traced to a proven cause yet: the first one will be here.</p>}
      <p className="senses" role="group" aria-label="Exercises">
        {exercises?.map((e) => (
          <Link
            key={e.trace}
            className="chip"
            to={`/practice/${e.trace}`}
            aria-current={e.trace === trace ? 'page' : undefined}
          >
            {e.unit}: {e.symptom}, {e.looks} looks
          </Link>
        ))}
      </p>
      {trace !== undefined && <Exercise key={trace} trace={trace} />}
    </div>
  )
}

interface Said {
  probe: string | null
  answer: string | null
}
const NOTHING: Said = { probe: null, answer: null }

function Exercise({ trace }: { trace: string }) {
  const [seen, setSeen] = useState(0)
  const [said, setSaid] = useState(NOTHING)
  const [right, setRight] = useState({ places: 0, answers: 0 })
  const query = useQuery(replayOptions(trace, seen))
  const shown = query.data
  if (shown === undefined)
    return (
      <p role={query.isError ? 'alert' : 'status'}>{query.isError ? query.error.message : 'Opening the exercise'}</p>
    )
  const onward = () => {
    setSaid(NOTHING)
    setSeen(seen + 1)
  }
  return (
    <div className="trace-columns">
      <section className="card">
        <h2>{shown.title}</h2>
        <p>
          {shown.unit}: <b>{shown.symptom}</b>
        </p>
        <ol className="seen" aria-label="What was seen">
          {shown.seen.map((l) => (
            <li key={l.what}>
              <span>
                {l.what.endsWith('?') ? l.what : `${l.what}:`} <b>{l.words}</b> <small>{l.did}</small>
              </span>
            </li>
          ))}
        </ol>
        <p className="quiet">
          {suspected(shown)
            .slice(0, 4)
            .map((s) => `${s.name.toLowerCase()} ${s.words}`)
            .join(', ')}
        </p>
      </section>
      <section className="card">
        {shown.asked === null ? (
          <>
            <h2 className="big">It was: {shown.cause}</h2>
            <p>
              You looked where the bench or this program did {right.places} times of {shown.looks}, and foretold{' '}
              {right.answers} answers of {shown.looks}.
            </p>
          </>
        ) : said.probe === null ? (
          <Where
            shown={shown}
            onSay={(probe) => {
              setSaid({ probe, answer: null })
              if (probe === shown.asked?.probe || probe === shown.advised?.probe)
                setRight({ ...right, places: right.places + 1 })
            }}
          />
        ) : (
          <What
            shown={shown}
            asked={shown.asked}
            said={said}
            trace={trace}
            seen={seen}
            onSay={(answer, hit) => {
              setSaid({ ...said, answer })
              if (hit) setRight({ ...right, answers: right.answers + 1 })
            }}
            onward={onward}
          />
        )}
      </section>
    </div>
  )
}

type Replay = Schemas['ReplayOut']

function Where({ shown, onSay }: { shown: Replay; onSay: (probe: string) => void }) {
  return (
    <>
      <h2>Where would you look now?</h2>
      <ul className="choices" aria-label="Where would you look now?">
        {shown.choices.map((p) => (
          <li key={p.probe}>
            <button type="button" className="chip" onClick={() => onSay(p.probe)}>
              {p.what}
            </button>{' '}
            <span className="quiet">
              {p.minutes} min{p.covers ? ', covers off' : ''}
            </span>
          </li>
        ))}
      </ul>
    </>
  )
}

interface WhatProps {
  shown: Replay
  asked: Schemas['ProbeOut']
  said: Said
  trace: string
  seen: number
  onSay: (answer: string, hit: boolean) => void
  onward: () => void
}

function What({ shown, asked, said, trace, seen, onSay, onward }: WhatProps) {
  const next = useQuery(replayOptions(trace, seen + 1)).data
  const truth = next?.seen.at(-1)?.answer
  const same = said.probe === asked.probe
  return (
    <div className="probe">
      <p>
        The bench looked at <b>{asked.what.toLowerCase()}</b>
        {same ? ', as you would.' : '.'}{' '}
        {shown.advised !== null && shown.advised.probe !== asked.probe && (
          <>This program would have said: {shown.advised.what.toLowerCase()}. </>
        )}
        {shown.advised !== null && <span className="quiet">{shown.advised.why}</span>}
      </p>
      <h2>What will it show?</h2>
      <p className="answers" role="group" aria-label="What will it show?">
        {asked.answers.map((a) => (
          <button
            key={a}
            type="button"
            className="answer"
            disabled={said.answer !== null || truth === undefined}
            aria-pressed={said.answer === a}
            onClick={() => onSay(a, a === truth)}
          >
            {inWords(asked, a)}
          </button>
        ))}
      </p>
      {said.answer !== null && truth !== undefined && (
        <>
          <p role="status">
            {said.answer === truth ? 'Yes: ' : 'No: '}
            <b>{inWords(asked, truth)}</b>, which {next?.seen.at(-1)?.did}.
          </p>
          <button type="button" className="chip" autoFocus onClick={onward}>
            On
          </button>
        </>
      )}
    </div>
  )
}
