// Who is of the shop, and which browsers are trusted: for its keeper.
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { Schemas } from '../api/client'
import { peopleOptions } from '../api/queries'
import { dayOf, timeOf } from '../ui/words'
import { useKeepingPeople } from './peopleMutations'

type Kept = Schemas['KeptPerson']
type Change = Schemas['PersonChange']

/** Everybody of the shop and every trusted browser, each changed in place. */
export function PeoplePage() {
  const query = useQuery(peopleOptions)
  const { add, change, signOut, withdraw } = useKeepingPeople()
  const problem = add.error ?? change.error ?? signOut.error ?? withdraw.error
  if (query.data === undefined)
    return (
      <p role={query.isError ? 'alert' : 'status'} className="page">
        {query.error?.message ?? 'Asking who is of the shop'}
      </p>
    )
  return (
    <div className="page people">
      <h1>People</h1>
      {problem !== null && (
        <p role="alert" className="ask-line">
          {problem.message}
        </p>
      )}
      <ol className="lines">
        {query.data.people.map((p) => (
          <One
            key={p.id}
            person={p}
            onChange={(body) => change.mutate({ id: p.id, body })}
            onSignOut={() => signOut.mutate(p.id)}
          />
        ))}
      </ol>
      <Add onAdd={(body, onSuccess) => add.mutate(body, { onSuccess })} />
      <h2>Trusted browsers</h2>
      <p className="quiet">On these, names can be tapped without a password. Withdraw one that you do not know.</p>
      <ol className="lines">
        {query.data.browsers.map((b) => (
          <li key={b.id} className="row">
            <span>
              <b>{b.is_this ? 'This browser' : `Browser ${b.id}`}</b>{' '}
              <small className="quiet">
                trusted by {b.trusted_by} on {dayOf(b.trusted_at)}, offers {b.offers}
              </small>
              <small className="quiet">
                last seen {dayOf(b.seen_at)} {timeOf(b.seen_at)} from {b.seen_from || 'nowhere yet'}
                {systemOf(b.calls_itself)}
              </small>
            </span>
            <button type="button" className="link" onClick={() => withdraw.mutate(b.id)}>
              Withdraw
            </button>
          </li>
        ))}
      </ol>
    </div>
  )
}

/** The machine that a browser says it runs on, which tells a tablet from the bench. */
function systemOf(callsItself: string): string {
  const system = /\(([^)]+)\)/.exec(callsItself)?.[1]
  return system === undefined ? '' : `, on ${system}`
}

function standing(p: Kept): string {
  const told = [p.role]
  if (p.is_keeper) told.push('keeper')
  if (!p.has_password) told.push('no password')
  told.push(p.has_pin ? 'has a PIN' : 'no PIN')
  if (!p.is_active) told.push('not let in')
  return told.join(', ')
}

function One({
  person: p,
  onChange,
  onSignOut,
}: {
  person: Kept
  onChange: (c: Change) => void
  onSignOut: () => void
}) {
  const [open, setOpen] = useState(false)
  return (
    <li data-person={p.name}>
      <button type="button" className="plain row" aria-expanded={open} onClick={() => setOpen(!open)}>
        <span>
          <b>{p.name}</b> <small className={p.is_active ? 'quiet' : 'wrong'}>{standing(p)}</small>
        </span>
        <span className="quiet">{p.last_in === null ? 'never in' : `last in ${dayOf(p.last_in)}`}</span>
      </button>
      {open && <About person={p} onChange={onChange} onSignOut={onSignOut} />}
    </li>
  )
}

function About({
  person: p,
  onChange,
  onSignOut,
}: {
  person: Kept
  onChange: (c: Change) => void
  onSignOut: () => void
}) {
  const other = p.role === 'technician' ? 'reader' : 'technician'
  return (
    <div className="about">
      <dl className="pairs unit">
        <dt>name</dt>
        <dd>
          <input
            aria-label={`Name of ${p.name}`}
            defaultValue={p.name}
            maxLength={60}
            onBlur={(e) => e.target.value !== p.name && onChange({ name: e.target.value })}
          />
        </dd>
        <Secret words="new password" of={p.name} onKeep={(password) => onChange({ password })} />
        <Secret words="new PIN" of={p.name} onKeep={(pin) => onChange({ pin })} />
      </dl>
      <p className="senses">
        {p.has_password && (
          <button type="button" className="chip" onClick={() => onChange({ password: '' })}>
            No password: only a tap
          </button>
        )}
        {p.has_pin && (
          <button type="button" className="chip" onClick={() => onChange({ pin: '' })}>
            No PIN
          </button>
        )}
        <button type="button" className="chip" onClick={() => onChange({ role: other })}>
          Make a {other}
        </button>
        <button
          type="button"
          className="chip"
          aria-pressed={p.is_keeper}
          onClick={() => onChange({ is_keeper: !p.is_keeper })}
        >
          keeps the shop
        </button>
        <button type="button" className="chip" onClick={onSignOut}>
          Sign out everywhere
        </button>
        <button type="button" className="chip" onClick={() => onChange({ is_active: !p.is_active })}>
          {p.is_active ? 'Let in no more' : 'Let in again'}
        </button>
      </p>
    </div>
  )
}

function Secret({ words, of, onKeep }: { words: string; of: string; onKeep: (secret: string) => void }) {
  const [text, setText] = useState('')
  return (
    <>
      <dt>{words}</dt>
      <dd>
        <form
          onSubmit={(e) => {
            e.preventDefault()
            if (text !== '') onKeep(text)
            setText('')
          }}
        >
          <input
            aria-label={`${words} of ${of}`}
            type="password"
            autoComplete="new-password"
            maxLength={200}
            value={text}
            onChange={(e) => setText(e.target.value)}
          />{' '}
          <button type="submit" className="link" disabled={text === ''}>
            Keep it
          </button>
        </form>
      </dd>
    </>
  )
}

function Add({ onAdd }: { onAdd: (body: Schemas['NewPerson'], onSuccess: () => void) => void }) {
  const [name, setName] = useState('')
  const [password, setPassword] = useState('')
  const [role, setRole] = useState<'technician' | 'reader'>('technician')
  return (
    <form
      className="entry"
      onSubmit={(e) => {
        e.preventDefault()
        onAdd({ name, role, password, is_keeper: false, pin: '' }, () => {
          setName('')
          setPassword('')
        })
      }}
    >
      <input
        className="small-input"
        aria-label="Name of somebody new"
        placeholder="somebody new"
        maxLength={60}
        value={name}
        onChange={(e) => setName(e.target.value)}
      />
      <input
        className="small-input"
        type="password"
        aria-label="Password of somebody new"
        placeholder="password, ten signs or more"
        autoComplete="new-password"
        maxLength={200}
        value={password}
        onChange={(e) => setPassword(e.target.value)}
      />
      {(['technician', 'reader'] as const).map((r) => (
        <button key={r} type="button" className="chip" aria-pressed={r === role} onClick={() => setRole(r)}>
          {r}
        </button>
      ))}
      <button type="submit" className="link" disabled={name.trim() === ''}>
        Add
      </button>
    </form>
  )
}
