// Who is at the bench; a tap changes it.
import Button from '@mui/material/Button'
import Dialog from '@mui/material/Dialog'
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import TextField from '@mui/material/TextField'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import type { Schemas } from '../api/client'
import { usePeople } from './peopleMutations'

/** Who is at the bench, and the way to another. */
export function WhoMenu({ person }: { person: Schemas['PersonOut'] }) {
  const { signOut, setPin } = usePeople()
  const navigate = useNavigate()
  const [anchor, setAnchor] = useState<HTMLElement | null>(null)
  const [pin, setPinText] = useState<string | null>(null)
  return (
    <>
      <button type="button" className="link" aria-haspopup="menu" onClick={(e) => setAnchor(e.currentTarget)}>
        {person.name}
      </button>
      <Menu anchorEl={anchor} open={anchor !== null} onClose={() => setAnchor(null)}>
        <MenuItem disabled>{person.role}</MenuItem>
        <MenuItem onClick={() => signOut.mutate()}>Someone else at the bench</MenuItem>
        <MenuItem
          onClick={() => {
            setAnchor(null)
            setPinText('')
          }}
        >
          My PIN
        </MenuItem>
        {person.is_keeper && (
          <MenuItem
            onClick={() => {
              setAnchor(null)
              void navigate('/people')
            }}
          >
            People and browsers
          </MenuItem>
        )}
      </Menu>
      <Dialog open={pin !== null} onClose={() => setPinText(null)} aria-labelledby="pin-title">
        <form
          className="sums"
          onSubmit={(e) => {
            e.preventDefault()
            setPin.mutate(pin ?? '', { onSuccess: () => setPinText(null) })
          }}
        >
          <h2 id="pin-title">A PIN for your name</h2>
          <p>Four to eight digits; empty takes it away.</p>
          {setPin.error !== null && <p role="alert">{setPin.error.message}</p>}
          <TextField
            label="New PIN"
            type="password"
            margin="dense"
            value={pin ?? ''}
            onChange={(e) => setPinText(e.target.value)}
            slotProps={{ htmlInput: { inputMode: 'numeric', maxLength: 8 } }}
          />
          <div>
            <Button type="submit">Keep it</Button>
          </div>
        </form>
      </Dialog>
    </>
  )
}
