// The library as rooms: a list with find-as-you-type at the left, the sheet at the right, everything with its source.
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import type { Schemas } from '../api/client'
import { libraryOptions, meOptions } from '../api/queries'
import { Chains } from './Chains'
import { GearSheet } from './GearSheet'
import { Channels, Definitions, Words } from './OwnTexts'
import { ProfileSheet } from './ProfileSheet'
import { ReadGear } from './ReadGear'

const ROOMS = {
  models: 'Models',
  kinds: 'Kinds',
  limits: 'Limits',
  chains: 'Chains',
  channels: 'Channels',
  definitions: 'How asked',
  words: 'Words',
} as const
type Room = keyof typeof ROOMS

interface Entry {
  id: string
  title: string
  about: string
}

/** Models, kinds, limits and chains, each room a list and a sheet. */
export function LibraryPage() {
  const query = useQuery(libraryOptions)
  const { data: me } = useQuery(meOptions)
  const [place, setPlace] = useSearchParams()
  const library = query.data
  if (library === undefined) {
    return query.isError ? (
      <p role="alert" className="page">
        {query.error.message}
      </p>
    ) : (
      <p role="status" className="page">
        Opening the library
      </p>
    )
  }
  const asked = place.get('room') ?? ''
  const room: Room = asked in ROOMS ? (asked as Room) : library.models.some((m) => !m.generic) ? 'models' : 'kinds'
  const writes = me?.person?.role === 'technician'
  const open = (to: Room, of: string) => setPlace(of === '' ? { room: to } : { room: to, of })
  return (
    <div className="page library">
      <nav className="side-words" aria-label="Rooms">
        {(Object.keys(ROOMS) as Room[]).map((r) => (
          <button key={r} type="button" aria-pressed={r === room} onClick={() => open(r, '')}>
            {ROOMS[r]}
          </button>
        ))}
        <Link to="/instruments">Instruments</Link>
      </nav>
      {room === 'chains' && <Chains writes={writes} />}
      {room === 'channels' && <Channels writes={writes} />}
      {room === 'definitions' && <Definitions writes={writes} of={place.get('of')} />}
      {room === 'words' && <Words writes={writes} />}
      {(room === 'models' || room === 'kinds' || room === 'limits') && (
        <RoomOf
          key={room}
          room={room}
          library={library}
          of={place.get('of')}
          writes={writes}
          onOpen={(id) => open(room, id)}
          onMade={(id) => open('models', id)}
        />
      )}
    </div>
  )
}

function entriesOf(room: Room, library: Schemas['Library']): Entry[] {
  if (room === 'limits')
    return library.profiles.map((p) => ({
      id: p.id,
      title: p.profile.title,
      about: p.ours ? 'of this shop' : p.profile.kind,
    }))
  return library.models
    .filter((m) => m.generic === (room === 'kinds'))
    .map((m) => ({
      id: m.id,
      title: m.title,
      about:
        room === 'kinds' ? m.modes.map((mode) => mode.toUpperCase()).join(', ') : [m.kind, ...m.goes_by].join(', '),
    }))
}

interface RoomOfProps {
  room: Room
  library: Schemas['Library']
  of: string | null
  writes: boolean
  onOpen: (id: string) => void
  onMade: (id: string) => void
}

function RoomOf({ room, library, of, writes, onOpen, onMade }: RoomOfProps) {
  const [find, setFind] = useState('')
  const words = find.toLowerCase().split(/\s+/)
  const entries = entriesOf(room, library)
  const found = entries.filter((e) => words.every((w) => `${e.title} ${e.about}`.toLowerCase().includes(w)))
  const shown = of ?? found[0]?.id ?? null
  const profile = library.profiles.find((p) => p.id === shown)
  return (
    <div className="room">
      <div>
        <input
          className="small-input"
          type="search"
          aria-label={`Find in ${ROOMS[room].toLowerCase()}`}
          placeholder={`find in ${ROOMS[room].toLowerCase()}`}
          value={find}
          onChange={(e) => setFind(e.target.value)}
        />
        <ul className="room-list" aria-label={ROOMS[room]}>
          {found.map((e) => (
            <li key={e.id}>
              <button type="button" className="plain" aria-pressed={e.id === shown} onClick={() => onOpen(e.id)}>
                {e.title} <small className="quiet">{e.about}</small>
              </button>
            </li>
          ))}
        </ul>
        {entries.length === 0 && (
          <p className="quiet">
            An empty shelf. Repair a unit of any kind, then <b>Keep as a model</b> on its slip; or copy a kind; or read
            an open file.
          </p>
        )}
        {entries.length > 0 && found.length === 0 && <p className="quiet">Nothing here goes by that.</p>}
        {room === 'models' && writes && <ReadGear onKept={onMade} />}
      </div>
      <div>
        {room === 'limits' && profile !== undefined && (
          <ProfileSheet key={profile.id} found={profile} notice={library.notice} writes={writes} />
        )}
        {room !== 'limits' && shown !== null && <GearSheet key={shown} id={shown} writes={writes} onOpen={onMade} />}
      </div>
    </div>
  )
}
