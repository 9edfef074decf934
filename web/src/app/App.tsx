// The frame: who is here, the top strip, the views, sums and keys.
import Dialog from '@mui/material/Dialog'
import Drawer from '@mui/material/Drawer'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Navigate, NavLink, Route, Routes, useLocation, useMatch, useNavigate } from 'react-router'
import type { Schemas } from '../api/client'
import { meOptions, shelfOptions } from '../api/queries'
import { BenchPage } from '../bench'
import { outbox, useReached, type FieldHandle } from '../entry'
import { HandBackPage } from '../handback'
import { LibraryPage } from '../library'
import { PeoplePage, SignIn, WhoMenu } from '../people'
import { ShelfPage } from '../shelf'
import { SlipPage } from '../slip'
import { LookUp } from '../sums'
import { deskAction, DeskContext, useSingleKeys, type Desk } from '../desk'
import { Keys } from '../keys'
import { InstrumentsPage } from '../instruments'
import { Sounds, useEvents } from '../live'
import { TracePage } from '../trace'
import { PracticePage } from '../trace'
import { PathPage } from '../path'
import { TurnPage } from '../turn'
import { WatchPage } from '../watch'

export function App() {
  const me = useQuery(meOptions)
  const field = useRef<FieldHandle | null>(null)
  const find = useRef<HTMLInputElement | null>(null)
  const [sums, setSums] = useState(false)
  const [keys, setKeys] = useState(false)
  const desk = useMemo<Desk>(() => ({ field, find, openSums: () => setSums(true), openKeys: () => setKeys(true) }), [])
  const job = useMatch('/job/:job/*')?.params.job ?? ''
  const person = me.data?.person ?? null
  const signedIn = person !== null
  useEffect(() => {
    if (signedIn) outbox.resume()
  }, [signedIn])
  useSingleKeys((action) => deskAction(desk, action))
  if (me.data === undefined) {
    return me.isError ? (
      <p role="alert" className="page">
        {me.error.message}
      </p>
    ) : (
      <p role="status" className="page">
        Opening the bench
      </p>
    )
  }
  if (person === null) return <SignIn me={me.data} />
  return (
    <DeskContext value={desk}>
      <Events />
      <div className="app">
        <TopStrip desk={desk} person={person} />
        <main className="body">
          <Routes>
            <Route path="/" element={<BenchPage />} />
            <Route path="/shelf" element={<ShelfPage />} />
            <Route path="/job/:job" element={<SlipPage />} />
            <Route path="/job/:job/turn" element={<TurnPage />} />
            <Route path="/job/:job/trace" element={<TracePage />} />
            <Route path="/job/:job/path" element={<PathPage />} />
            <Route path="/job/:job/watch" element={<WatchPage />} />
            <Route path="/instruments" element={<InstrumentsPage />} />
            <Route path="/people" element={<PeoplePage />} />
            <Route path="/job/:job/hand-back" element={<HandBackPage />} />
            <Route path="/library" element={<LibraryPage />} />
            <Route path="/practice" element={<PracticePage />} />
            <Route path="/practice/:trace" element={<PracticePage />} />
            <Route path="*" element={<Navigate to="/" replace />} />
          </Routes>
        </main>
        <Drawer
          anchor="right"
          open={sums}
          onClose={() => setSums(false)}
          slotProps={{ paper: { 'aria-label': 'Look up', role: 'dialog' } }}
        >
          <LookUp
            job={job}
            onClose={() => setSums(false)}
            onUse={(text) => {
              setSums(false)
              // the drawer gives focus back when it closes; the field takes it after that
              setTimeout(() => field.current?.begin(text), 250)
            }}
          />
        </Drawer>
        <Dialog open={keys} onClose={() => setKeys(false)} aria-labelledby="keys-title">
          <Keys />
          <Sounds />
        </Dialog>
      </div>
    </DeskContext>
  )
}

/** Events are followed while somebody is signed in. */
function Events() {
  useEvents()
  return null
}

function TopStrip({ desk, person }: { desk: Desk; person: Schemas['PersonOut'] }) {
  const navigate = useNavigate()
  const queries = useQueryClient()
  const place = useLocation()
  const reached = useReached()
  const asked = place.pathname === '/shelf' ? (new URLSearchParams(place.search).get('find') ?? '') : ''
  const [held, setHeld] = useState({ asked, typed: asked })
  // the address follows the hand, not the other way round, unless it changed by itself
  if (held.asked !== asked) setHeld({ asked, typed: asked !== '' && held.typed.startsWith(asked) ? held.typed : asked })
  return (
    <header className="strip">
      <NavLink to="/" className="mark">
        <img src="/static/spark.svg" alt="" />
        <span>Young Spark</span>
      </NavLink>
      <nav aria-label="Views">
        <NavLink to="/" end>
          Bench
        </NavLink>
        <NavLink to="/shelf">Shelf</NavLink>
        <NavLink to="/library">Library</NavLink>
        <NavLink to="/practice">Practice</NavLink>
        <NavLink to="/instruments">Instruments</NavLink>
      </nav>
      {!reached && (
        <span role="status" className="stale">
          not reached, keeping lines here
        </span>
      )}
      <input
        ref={desk.find}
        className="find"
        type="search"
        aria-label="Find a job"
        placeholder="Find a job  /"
        value={held.typed}
        onChange={(e) => {
          void queries.prefetchQuery(shelfOptions(e.target.value)) // asked with the key, not after the list was drawn anew
          setHeld({ ...held, typed: e.target.value })
          void navigate(`/shelf?find=${encodeURIComponent(e.target.value)}`, { replace: place.pathname === '/shelf' })
        }}
      />
      <button type="button" className="link" onClick={desk.openSums}>
        Look up
      </button>
      <button type="button" className="link" aria-label="Keys" onClick={desk.openKeys}>
        ?
      </button>
      <WhoMenu person={person} />
    </header>
  )
}
