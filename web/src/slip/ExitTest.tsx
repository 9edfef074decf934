// An exit test counted by one key each: so many keyed, tapped or flexed, and the field says what that rules out.
import { useState, type MouseEvent } from 'react'

const WAYS = ['keyed', 'tapped', 'flexed'] as const

/** Counts tries; each writes the text of the test so far into the field, which a hand takes when it is enough. */
export function ExitTest({ onWords }: { onWords: (words: string) => void }) {
  const [way, setWay] = useState<(typeof WAYS)[number]>('keyed')
  const [held, setHeld] = useState(0)
  const count = (event: MouseEvent<HTMLButtonElement>) => {
    const button = event.currentTarget
    setHeld(held + 1)
    onWords(`${way} ${held + 1} times ok`)
    // by the keyboard the next try is the next press; a tap gives the hand back to the field
    if (event.detail === 0) setTimeout(() => button.focus(), 0)
  }
  const failed = () => {
    onWords(`found: ${way} ${held + 1} times, it failed at the last`)
    setHeld(0)
  }
  return (
    <section className="card exit-test" aria-label="Exit test">
      <h2>Exit test</h2>
      <p className="senses">
        {WAYS.map((name) => (
          <button
            key={name}
            type="button"
            className="chip"
            aria-pressed={name === way}
            onClick={() => {
              setWay(name)
              setHeld(0)
            }}
          >
            {name}
          </button>
        ))}
      </p>
      <p className="senses">
        <button type="button" className="take" onClick={count}>
          It held
        </button>
        <span role="status">{held === 0 ? 'no try yet' : `${held} held`}</span>
        <button type="button" className="link" onClick={failed}>
          it failed
        </button>
      </p>
    </section>
  )
}
