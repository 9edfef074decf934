// The definition as far as it is made: who answers, what is sent at first, each question with what it gives.
import { useState } from 'react'
import { Link } from 'react-router'
import type { Schemas } from '../api/client'
import { nameOf, valueWords } from './definition'

interface MadeDefinitionProps {
  instrument: string
  identity: string
  setup: string[]
  asks: Schemas['Ask'][]
  busy: boolean
  kept: boolean
  problem: string | null
  onDrop: (command: string) => void
  onKeep: (name: string, title: string) => void
}

/** What would be kept, what it still wants, and the key that keeps it. */
export function MadeDefinition({
  instrument,
  identity,
  setup,
  asks,
  busy,
  kept,
  problem,
  onDrop,
  onKeep,
}: MadeDefinitionProps) {
  const [title, setTitle] = useState('')
  const wanted = [
    ...(identity === '' ? ['who it is: send *IDN?'] : []),
    ...(asks.length === 0 ? ['a question whose answer gives a value'] : []),
  ]
  return (
    <div className="made">
      <h2>Its definition so far</h2>
      <dl className="pairs">
        {identity !== '' && (
          <>
            <dt>answers *IDN? with</dt>
            <dd className="answer">{identity}</dd>
          </>
        )}
        {setup.map((s) => (
          <Kept key={s} what="sent at first" words={s} onDrop={() => onDrop(s)} />
        ))}
        {asks.map((a) => (
          <Kept
            key={a.command}
            what={a.gives.map((g) => valueWords(g.value)).join(', ')}
            words={a.command}
            onDrop={() => onDrop(a.command)}
          />
        ))}
      </dl>
      {wanted.length > 0 && <p className="quiet">Still wanted: {wanted.join('; ')}.</p>}
      {wanted.length === 0 && (
        <form
          className="senses"
          onSubmit={(e) => {
            e.preventDefault()
            onKeep(nameOf(title), title.trim())
          }}
        >
          <input
            className="small-input asked"
            aria-label="Name of the definition"
            placeholder={`its name, as of ${instrument}`}
            maxLength={80}
            value={title}
            onChange={(e) => setTitle(e.target.value)}
          />
          <button type="submit" className="chip set" disabled={nameOf(title) === '' || busy}>
            Keep it, and ask by it
          </button>
        </form>
      )}
      {problem !== null && (
        <p role="alert" className="ask-line">
          {problem}
        </p>
      )}
      {kept && (
        <p role="status">
          Kept. It is asked by it from now on;{' '}
          <Link to={`/library?room=definitions&of=${nameOf(title)}`}>as text in the library</Link>, where noise and
          floor can be corrected.
        </p>
      )}
    </div>
  )
}

function Kept({ what, words, onDrop }: { what: string; words: string; onDrop: () => void }) {
  return (
    <>
      <dt>{what}</dt>
      <dd className="answer">
        {words}{' '}
        <button type="button" className="link" onClick={onDrop}>
          not this
        </button>
      </dd>
    </>
  )
}
