// The sums done in the head, each with its working; a result can go into the field.
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { Schemas } from '../api/client'
import { sumAnswerOptions, sumsOptions } from '../api/queries'
import { useStored } from '../store'

interface SumsSheetProps {
  /** What is being looked for: only sums that go by it are offered, and none is open until a hand picks it. */
  find?: string
  onUse: (text: string) => void
}

/** Quick sums with their working; an answer goes into the field. */
export function SumsSheet({ find = '', onUse }: SumsSheetProps) {
  const { data: sums, error } = useQuery(sumsOptions)
  const [id, setId] = useStored('sum', 'dbm')
  const [picked, setPicked] = useState(false)
  const words = find.toLowerCase().split(/\s+/)
  const offered = sums?.filter((s) => words.every((w) => s.title.toLowerCase().includes(w))) ?? []
  const sum = offered.find((s) => s.id === id) ?? (find === '' ? offered[0] : undefined)
  return (
    <>
      {offered.length > 0 && <h3>{sum?.title ?? 'Sums'}</h3>}
      {error !== null && <p role="alert">{error.message}</p>}
      {sum !== undefined && <OneSum key={sum.id} sum={sum} picked={picked} onUse={onUse} />}
      <div className="senses" role="group" aria-label="Which sum">
        {offered.map((s) => (
          <button
            key={s.id}
            type="button"
            className="chip"
            aria-pressed={s.id === sum?.id}
            onClick={() => {
              setId(s.id)
              setPicked(true)
            }}
          >
            {s.title}
          </button>
        ))}
      </div>
    </>
  )
}

interface OneSumProps {
  sum: Schemas['SumOut']
  /** A hand chose it: its first figure is typed next. */
  picked: boolean
  onUse: (text: string) => void
}

function OneSum({ sum, picked, onUse }: OneSumProps) {
  const [typed, setTyped] = useState(() => sum.fields.map((f) => String(f.start)))
  const values = typed.map((t) => (t.trim() === '' ? NaN : Number(t.replace(',', '.').replace('−', '-'))))
  const plain = values.every(Number.isFinite)
  const { data, error, isPlaceholderData: ofBefore } = useQuery(sumAnswerOptions(sum.id, values))
  const answer = plain ? data : undefined
  return (
    <>
      <div className="inputs">
        {sum.fields.map((f, n) => (
          <label key={`${f.name}-${n}`}>
            {f.name}
            {f.unit === '' ? '' : `, ${f.unit}`}
            <input
              inputMode="decimal"
              autoFocus={picked && n === 0}
              value={typed[n]}
              onFocus={(e) => e.target.select()}
              onChange={(e) => setTyped(typed.map((t, m) => (m === n ? e.target.value : t)))}
            />
          </label>
        ))}
      </div>
      {!plain && <p className="ask-line">A plain figure in each place, please.</p>}
      {plain && error !== null && (
        <p className="ask-line" role="alert">
          {error.message}
        </p>
      )}
      {answer?.refused != null && (
        <p className="ask-line" role="status">
          {answer.refused}
        </p>
      )}
      {answer?.lines.map((line) => (
        <div className="answer" key={line.name} aria-busy={ofBefore}>
          <div>
            {line.name} <b>{line.figure}</b>
            <small>{line.working}</small>
          </div>
          {line.field_text !== null && (
            <button type="button" className="link" disabled={ofBefore} onClick={() => onUse(line.field_text ?? '')}>
              Into the field
            </button>
          )}
        </div>
      ))}
    </>
  )
}
