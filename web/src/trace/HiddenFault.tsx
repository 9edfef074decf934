// A fault that hides in a chain: looked for at the bench's prices, and at the end what it was and what the best way cost.
import { useQuery } from '@tanstack/react-query'
import { useState, type FormEvent } from 'react'
import type { Schemas } from '../api/client'
import { chainsOptions, hiddenFaultOptions } from '../api/queries'
import { useStored } from '../store'

type Asked = Schemas['HiddenIn']
type Hides = Schemas['HiddenOut']

const RARITIES: Record<Asked['rarity'], string> = {
  often: 'often met',
  sometimes: 'now and then',
  rarely: 'rarely met',
}
const DRAWS = 1 << 30
const FIRST_CHAIN = 'cb-am-mobile'

const fresh = (chain: string, rarity: Asked['rarity']): Asked => ({
  chain,
  rarity,
  draw: Math.floor(Math.random() * DRAWS),
  looks: [],
  hints: 0,
  wants_hint: false,
  said: null,
})

/** Practice on a fault that hides: it stays where it was over a reload. */
export function HiddenFault() {
  const [asked, setAsked] = useStored<Asked | null>('hidden-fault', null)
  const [chain, setChain] = useState(asked?.chain ?? FIRST_CHAIN)
  const { data: chains } = useQuery(chainsOptions)
  return (
    <section aria-label="A hidden fault">
      <h2>A hidden fault</h2>
      <p className="senses">
        <select className="chip" aria-label="In which set" value={chain} onChange={(e) => setChain(e.target.value)}>
          {chains
            ?.filter((c) => c.not_understood === '')
            .map((c) => (
              <option key={c.id} value={c.id}>
                {c.title}
              </option>
            ))}
        </select>
        {(Object.keys(RARITIES) as Asked['rarity'][]).map((rarity) => (
          <button key={rarity} type="button" className="chip" onClick={() => setAsked(fresh(chain, rarity))}>
            Hide one {RARITIES[rarity]}
          </button>
        ))}
      </p>
      {asked !== null && <Search key={asked.draw} asked={asked} onAsk={setAsked} />}
    </section>
  )
}

interface SearchProps {
  asked: Asked
  onAsk: (asked: Asked) => void
}

function Search({ asked, onAsk }: SearchProps) {
  const { data: now, error } = useQuery(hiddenFaultOptions(asked))
  if (error !== null) return <p role="alert">{error.message}</p>
  if (now === undefined) return <p role="status">Hiding it</p>
  return (
    <div className="trace-columns">
      <section className="card" aria-label="What is known">
        <h2>{now.title}</h2>
        <Seen looks={now.told} title="At check-in" />
        <Seen looks={now.looks} title="Looked at" />
        <p>
          So far <b>{Math.round(now.minutes)} min</b>
          {asked.hints > 0 && (
            <span className="quiet">
              , with {asked.hints} {asked.hints === 1 ? 'hint' : 'hints'}
            </span>
          )}
        </p>
      </section>
      <section className="card" aria-label="What now?">
        {now.end === null ? <Next now={now} asked={asked} onAsk={onAsk} /> : <End end={now.end} />}
      </section>
    </div>
  )
}

function Seen({ looks, title }: { looks: Hides['looks']; title: string }) {
  if (looks.length === 0) return null
  return (
    <>
      <h3>{title}</h3>
      <ol className="shown" aria-label={title}>
        {looks.map((l) => (
          <li key={l.probe}>
            <span>
              {l.what.endsWith('?') ? l.what : `${l.what}:`} <b>{l.words}</b>
            </span>
          </li>
        ))}
      </ol>
    </>
  )
}

function Next({ now, asked, onAsk }: SearchProps & { now: Hides }) {
  const [probe, setProbe] = useState('')
  const [stage, setStage] = useState('')
  const look = (next: string) => onAsk({ ...asked, looks: [...asked.looks, next], wants_hint: false })
  const onLook = (event: FormEvent) => {
    event.preventDefault()
    if (probe !== '') look(probe)
    setProbe('')
  }
  const onSay = (event: FormEvent) => {
    event.preventDefault()
    if (stage !== '') onAsk({ ...asked, wants_hint: false, said: stage })
  }
  return (
    <div className="probe hidden">
      <form onSubmit={onLook}>
        <label>
          Where would you look now?
          <select value={probe} onChange={(e) => setProbe(e.target.value)}>
            <option value="">choose</option>
            {now.open.map((p) => (
              <option key={p.probe} value={p.probe}>
                {p.what}, {p.minutes} min{p.covers ? ', covers off' : ''}
              </option>
            ))}
          </select>
        </label>
        <button type="submit" className="answer" disabled={probe === ''}>
          Look
        </button>
      </form>
      <p className="senses">
        <button
          type="button"
          className="chip"
          disabled={asked.wants_hint}
          onClick={() => onAsk({ ...asked, wants_hint: true, hints: asked.hints + 1 })}
        >
          A hint, 3 min
        </button>
        {asked.wants_hint && now.hint === null && <span role="status">Nothing tells more: say what it is.</span>}
        {now.hint !== null && (
          <button type="button" className="chip" onClick={() => now.hint !== null && look(now.hint.probe)}>
            {now.hint.what}
          </button>
        )}
      </p>
      {now.hint !== null && <p className="quiet">{now.hint.why}</p>}
      <form onSubmit={onSay}>
        <label>
          It sits in
          <select value={stage} onChange={(e) => setStage(e.target.value)}>
            <option value="">choose</option>
            {now.stages.map((s) => (
              <option key={s.id} value={s.id}>
                {s.name}
              </option>
            ))}
          </select>
        </label>
        <button type="submit" className="answer" disabled={stage === ''}>
          Say so
        </button>
      </form>
    </div>
  )
}

function End({ end }: { end: NonNullable<Hides['end']> }) {
  return (
    <>
      <h2 className="big">
        {end.right ? 'Yes' : 'No'}: {end.cause}
      </h2>
      <p>It sits in: {end.stage}.</p>
      <p role="status">
        You paid <b>{Math.round(end.minutes)} min</b>, this program pays <b>{Math.round(end.best_minutes)} min</b>.
      </p>
      <Seen looks={end.best} title="Its way" />
    </>
  )
}
