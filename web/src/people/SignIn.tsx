// A browser is trusted once with a password; after that a tap on one's own name.
import Button from '@mui/material/Button'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import type { Schemas } from '../api/client'
import { usePeople } from './peopleMutations'

/** Who is there: a tap on a name, or a password. */
export function SignIn({ me }: { me: Schemas['Me'] }) {
  const { signIn, tap } = usePeople()
  const [name, setName] = useState('')
  const [password, setPassword] = useState('')
  const [withPin, setWithPin] = useState<Schemas['PersonOut'] | null>(null)
  const [pin, setPin] = useState('')
  const [byPassword, setByPassword] = useState(!me.trusted)
  const used = new URLSearchParams(location.search).has('used')
  const problem = signIn.error ?? tap.error
  return (
    <main className="signin">
      <h1>Young Spark</h1>
      {used && <p>That address was used or is too old. Start the program again for a new one, or sign in.</p>}
      {problem !== null && (
        <p role="alert" className="ask-line">
          {problem.message}
        </p>
      )}
      {!byPassword && withPin === null && (
        <div className="names">
          <p>Who is at the bench?</p>
          {me.people.map((p) => (
            <Button
              key={p.id}
              size="large"
              variant="outlined"
              onClick={() => (p.has_pin ? setWithPin(p) : tap.mutate({ person_id: p.id, pin: '' }))}
            >
              {p.name}
            </Button>
          ))}
          <button type="button" className="link" onClick={() => setByPassword(true)}>
            With name and password
          </button>
        </div>
      )}
      {withPin !== null && (
        <form
          onSubmit={(e) => {
            e.preventDefault()
            tap.mutate({ person_id: withPin.id, pin })
            setPin('')
          }}
        >
          <TextField
            label={`PIN of ${withPin.name}`}
            type="password"
            autoFocus
            value={pin}
            onChange={(e) => setPin(e.target.value)}
            slotProps={{ htmlInput: { inputMode: 'numeric', maxLength: 8 } }}
          />
          <Button type="submit" variant="contained">
            Go to the bench
          </Button>
          <button type="button" className="link" onClick={() => setWithPin(null)}>
            Someone else
          </button>
        </form>
      )}
      {byPassword && (
        <form
          onSubmit={(e) => {
            e.preventDefault()
            signIn.mutate({ name, password })
          }}
        >
          <p>This browser will be trusted from then on.</p>
          <TextField
            label="Name"
            autoFocus
            value={name}
            onChange={(e) => setName(e.target.value)}
            autoComplete="username"
          />
          <TextField
            label="Password"
            type="password"
            value={password}
            onChange={(e) => setPassword(e.target.value)}
            autoComplete="current-password"
          />
          <Button type="submit" variant="contained" disabled={signIn.isPending}>
            Sign in
          </Button>
        </form>
      )}
    </main>
  )
}
