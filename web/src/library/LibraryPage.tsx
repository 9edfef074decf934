// What the shop measures with and judges by, each with its source.
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { Schemas } from '../api/client'
import { libraryOptions, meOptions } from '../api/queries'
import { Chains } from './Chains'
import { ProfileEditor } from './ProfileEditor'

/** Models, chains and limits with their sources. */
export function LibraryPage() {
  const query = useQuery(libraryOptions)
  const { data: me } = useQuery(meOptions)
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
  return (
    <div className="page library">
      <h2>Instruments</h2>
      <div className="scroll" tabIndex={0} role="region" aria-label="Instruments">
        <table>
          <thead>
            <tr>
              <th scope="col">Name</th>
              <th scope="col">Kind</th>
              <th scope="col">Accuracy</th>
              <th scope="col">Detector</th>
              <th scope="col">Calibration due</th>
              <th scope="col">Remark</th>
            </tr>
          </thead>
          <tbody>
            {library.instruments.map((i) => (
              <tr key={i.id}>
                <td>
                  {i.name} <div className="quiet">{i.serial}</div>
                </td>
                <td>{i.kind_name}</td>
                <td>
                  {i.accuracy.map((a) => (
                    <div key={a}>{a}</div>
                  ))}
                </td>
                <td>{i.kind !== 'wattmeter' ? '' : i.detector === 'unknown' ? 'not said' : i.detector}</td>
                <td className={i.overdue ? 'stale' : ''}>
                  {i.calibration_due ?? 'not said'} {i.overdue ? '(overdue)' : ''}
                </td>
                <td>{i.remark}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <h2>Models</h2>
      <div className="scroll" tabIndex={0} role="region" aria-label="Models">
        <table>
          <tbody>
            {library.models.map((m) => (
              <tr key={m.id}>
                <td>{m.title}</td>
                <td>{m.kind}</td>
                <td>{m.modes.map((mode) => mode.toUpperCase()).join(', ')}</td>
                <td>{m.stages.length} stages</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Chains writes={me?.person?.role === 'technician'} />
      <h2>Limits</h2>
      <p className="quiet">{library.notice}</p>
      {library.profiles.map((p) => (
        <Profile
          key={p.id}
          id={p.id}
          profile={p.profile}
          limits={p.limits}
          ours={p.ours}
          notUnderstood={p.not_understood}
          writes={me?.person?.role === 'technician'}
        />
      ))}
    </div>
  )
}

interface ProfileProps {
  id: string
  profile: Schemas['Profile']
  limits: Record<string, string>
  ours: boolean
  notUnderstood: string
  writes: boolean
}

function Profile({ id, profile, limits, ours, notUnderstood, writes }: ProfileProps) {
  const [editing, setEditing] = useState(false)
  return (
    <>
      <h3>
        {profile.title}{' '}
        <span className="quiet">
          {profile.kind}, version {profile.version}, {profile.source}
        </span>{' '}
        {writes && !editing && (
          <button
            type="button"
            className="link"
            aria-label={`${ours ? "Edit this shop's copy of" : 'Copy and edit'} ${profile.title}`}
            onClick={() => setEditing(true)}
          >
            {ours ? "Edit this shop's copy" : 'Copy and edit'}
          </button>
        )}
      </h3>
      {notUnderstood !== '' && (
        <p className="caution">This shop’s copy is not understood, the shipped one judges: {notUnderstood}</p>
      )}
      {editing && <ProfileEditor id={id} onDone={() => setEditing(false)} />}
      {profile.notes?.map((note) => (
        <p key={note}>{note}</p>
      ))}
      <div className="scroll" tabIndex={0} role="region" aria-label={profile.title}>
        <table>
          <tbody>
            {profile.rows.map((row) => (
              <tr key={row.id}>
                <td>{row.words || row.quantity}</td>
                <td>{limits[row.id]}</td>
                <td>{row.applies?.mode?.map((m) => m.toUpperCase()).join(', ')}</td>
                <td className="quiet">
                  {[row.source, row.clause].filter((w) => w !== '').join(' ')}, {row.date}
                </td>
                <td className="quiet">{row.confidence === 'check' ? 'to be checked' : ''}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  )
}
