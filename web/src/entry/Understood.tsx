// What was understood of the text, before Enter: the figure, its sum, its bar and its word; or one question.
import type { ReactNode } from 'react'
import type { Schemas } from '../api/client'
import { LimitBar, marksOf } from '../ui/LimitBar'
import { Verdict } from '../ui/verdict'
import { KIND_NAMES } from '../ui/words'

type Understanding = Schemas['UnderstoodOut']

interface UnderstoodProps {
  /** What is due at the current line, shown while nothing is typed. */
  due: string | null
  /** What an instrument shows now, in its place. */
  live?: ReactNode
  understood: Understanding | undefined
  sense: number | null
  /** Enter was pressed while the question is open: a second one keeps the text as words. */
  noteAsked?: boolean
  onSense: (sense: number) => void
  onAppend: (words: string) => void
  /** An answer to the question, by its number from 1. */
  onAnswer?: (number: number) => void
}

export function Understood(props: UnderstoodProps) {
  const { due, live = null, understood, sense, noteAsked = false, onSense, onAppend, onAnswer } = props
  if (understood === undefined || understood.text.trim() === '') {
    if (live !== null) return live
    return (
      <div className="reading due" aria-live="polite">
        {due !== null && (
          <div>
            <div className="big">about {due}</div>
            <p className="sum">is what a healthy one gives here</p>
          </div>
        )}
      </div>
    )
  }
  const chosen = sense ?? understood.chosen
  const meaning = chosen === null ? undefined : understood.meanings[chosen]
  return (
    <div aria-live="polite">
      {meaning !== undefined && <Figure meaning={meaning} />}
      {understood.story !== null && understood.question === null && (
        <Story story={understood.story} warning={understood.warning ?? null} onAppend={onAppend} />
      )}
      {understood.sets !== null && <Moved sets={understood.sets} />}
      {understood.question !== null && meaning === undefined && (
        <p className="ask-line" role="status">
          {understood.question}
          {noteAsked && understood.as_note != null && (
            <small>
              {' '}
              {understood.choices.length > 0 && 'A number takes that answer. '}
              Enter again keeps it as it is, as a line of words ({KIND_NAMES[understood.as_note.kind]}).
            </small>
          )}
        </p>
      )}
      {understood.choices.length > 0 && (
        <div className="senses">
          {understood.choices.map((c, n) => (
            <button
              key={c.label}
              type="button"
              className="chip"
              aria-pressed={c.sense !== null && c.sense === chosen}
              onClick={() => onAnswer?.(n + 1)}
            >
              <b>{n + 1}</b> {c.label}
            </button>
          ))}
          <small className="quiet">{noteAsked ? 'press its number' : 'Enter, then its number'}</small>
        </div>
      )}
      {understood.meanings.length > 1 && understood.choices.length === 0 && (
        <div className="senses">
          {understood.meanings.map((m, n) => (
            <button key={m.title} type="button" className="chip" aria-pressed={n === chosen} onClick={() => onSense(n)}>
              {m.title}: {m.readings[0]?.figure}
            </button>
          ))}
          <small className="quiet">Tab walks through</small>
        </div>
      )}
      {understood.answers != null && <p className="quiet">answers {understood.answers}</p>}
      {understood.guards.map((g) => (
        <p key={g.code} className="ask-line" role="status" data-guard={g.code}>
          {g.text}
        </p>
      ))}
    </div>
  )
}

const PLACE_WORDS: Partial<Record<keyof Schemas['Conditions'], (value: string) => string>> = {
  channel: (v) => `channel ${v}`,
  frequency_hz: (v) => `${Number(v) / 1e6} MHz`,
  mode: (v) => v.toUpperCase(),
  supply_v: (v) => `supply ${v} V`,
  covers: (v) => `covers ${v}`,
  power_setting: (v) => `${v} power`,
}

/** Where the hand is now: no line, but the place of the next. */
function Moved({ sets }: { sets: Schemas['Conditions'] }) {
  const said = Object.entries(sets).filter(
    ([, value]) => value !== null && value !== undefined && value !== 1 && value !== 0,
  )
  return (
    <div className="reading">
      <p className="say">
        Now at{' '}
        {said
          .map(([name, value]) => PLACE_WORDS[name as keyof typeof PLACE_WORDS]?.(String(value)) ?? String(value))
          .join(' · ')}
      </p>
      <p className="sum">No line: what is typed next stands there.</p>
    </div>
  )
}

/** One sense as its figure, bar and word; a live one is not read out at each change. */
export function Figure({ meaning, live = false }: { meaning: Schemas['MeaningOut']; live?: boolean }) {
  const [first, ...others] = meaning.readings
  if (first === undefined) return null
  const [figure, spread] = first.figure.split(' ± ')
  const line = first.verdicts[0]
  return (
    <div className={live ? 'reading live' : 'reading'} data-testid={live ? 'live-figure' : 'understood'}>
      <div>
        <div className={`big${(figure ?? '').length > 14 ? ' long' : ''}`}>
          {figure}
          {spread !== undefined && <span className="spread"> ± {spread}</span>}
        </div>
        <p className="sum">{first.measured.working}</p>
        {first.where !== '' && <p className="where">{first.where}</p>}
        {(meaning.remark ?? '') !== '' && <p className="remark">remark: {meaning.remark}</p>}
      </div>
      <div>
        <Verdict verdict={first.verdict} size={24} words={first.verdict_words} />
        {line !== undefined && (line.low !== null || line.high !== null) && (
          <LimitBar marks={marksOf(first.measured, line.low, line.high)} label={`${first.figure}, ${line.words}`} />
        )}
        {line !== undefined && <small className="quiet">{first.sentence ?? line.words}</small>}
        {line === undefined && <small className="quiet">no limit is held against it yet</small>}
      </div>
      {others.length > 0 && (
        <p className="also">
          {others.map((r, n) => (
            <span key={`${r.quantity}${n}`}>
              {r.name} {r.figure}
              {r.where !== '' && <small className="quiet"> {r.where}</small>}
            </span>
          ))}
        </p>
      )}
      <p className="also quiet">{first.measured.remarks.filter((r) => !r.startsWith('remark: ')).join(' · ')}</p>
    </div>
  )
}

const REASONS = ['bad', 'suspect', 'precaution', "owner's wish", 'company damage'] as const

function Story({
  story,
  warning,
  onAppend,
}: {
  story: Schemas['StoryLine']
  warning: string | null
  onAppend: (words: string) => void
}) {
  const told = [
    story.part_out !== null && story.part_out !== undefined ? `out ${story.part_out}, in ${story.part_in ?? ''}` : null,
    story.reason?.replace('_', ' ') ?? null,
    story.cost != null ? `cost ${story.cost.toFixed(2)}` : null,
    story.minutes != null ? `${story.minutes} min` : null,
    story.area != null ? `touches ${story.area.replace('_', ' ')}` : null,
    story.adjuster != null
      ? `${story.adjuster}: found ${story.value_found ?? ''}, left ${story.value_left ?? ''}`
      : null,
    story.stage != null ? `${story.stage}: ${story.state ?? ''}` : null,
    story.condition != null ? `${story.condition.replace('_v', '')} ${story.condition_value ?? ''}` : null,
  ].filter((t) => t !== null)
  return (
    <div className="reading">
      <p className="say">{story.words}</p>
      {told.length > 0 && <p className="also">{told.join(' · ')}</p>}
      {story.kind === 'did' && story.reason == null && (
        <div className="senses">
          <span className="quiet">Why?</span>
          {REASONS.map((r) => (
            <button key={r} type="button" className="chip" onClick={() => onAppend(`, ${r}`)}>
              {r}
            </button>
          ))}
        </div>
      )}
      {story.kind === 'did' && story.area == null && (
        <p className="also quiet">No stage named: every figure of before will be wanted again.</p>
      )}
      {warning !== null && <p className="ask-line">{warning}</p>}
    </div>
  )
}
