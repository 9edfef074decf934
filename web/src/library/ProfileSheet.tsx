// A limit profile: each limit with its clause, source and how sure; edited as this shop's copy.
import { useState } from 'react'
import type { Schemas } from '../api/client'
import { ProfileEditor } from './ProfileEditor'

interface ProfileSheetProps {
  found: Schemas['ProfileOut']
  notice: string
  writes: boolean
}

/** A limit profile on its sheet. */
export function ProfileSheet({ found, notice, writes }: ProfileSheetProps) {
  const { id, profile, limits, ours } = found
  const [editing, setEditing] = useState(false)
  return (
    <>
      <h2>
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
      </h2>
      <p className="quiet">{notice}</p>
      {found.not_understood !== '' && (
        <p className="caution">This shop’s copy is not understood, the shipped one judges: {found.not_understood}</p>
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
