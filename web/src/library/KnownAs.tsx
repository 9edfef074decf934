// The names that a model goes by, and its revisions with their serial numbers; corrected in place.
import { useRef, useState } from 'react'
import type { Schemas } from '../api/client'

type Sheet = Schemas['GearSheet']
export type KnownAsBody = Schemas['GearKnownAs']
type Revision = Schemas['Revision']

const NEW: Revision = { name: '', first: '', last: '', differs: '' }
const COLUMNS = [
  { field: 'name', words: 'revision', most: 40 },
  { field: 'first', words: 'serial from', most: 60 },
  { field: 'last', words: 'to', most: 60 },
  { field: 'differs', words: 'what is other in it', most: 300 },
] as const

interface KnownAsProps {
  sheet: Sheet
  edits: boolean
  onKnownAs: (body: KnownAsBody) => void
}

/** Names and revisions, read or corrected. */
export function KnownAs({ sheet, edits, onKnownAs }: KnownAsProps) {
  if (!edits && sheet.goes_by.length === 0 && sheet.revisions.length === 0) return null
  return (
    <>
      <h3>Goes by</h3>
      {edits ? (
        <Names names={sheet.goes_by} onNames={(goes_by) => onKnownAs({ goes_by, revisions: sheet.revisions })} />
      ) : (
        <p>{sheet.goes_by.join(', ') || <span className="quiet">its maker and name only</span>}</p>
      )}
      {(edits || sheet.revisions.length > 0) && (
        <Revisions
          key={JSON.stringify(sheet.revisions)}
          revisions={sheet.revisions}
          edits={edits}
          onRevisions={(revisions) => onKnownAs({ goes_by: sheet.goes_by, revisions })}
        />
      )}
    </>
  )
}

function Names({ names, onNames }: { names: string[]; onNames: (names: string[]) => void }) {
  const written = names.join(', ')
  return (
    <input
      key={written}
      className="small-input wide"
      aria-label="Other names that it goes by"
      placeholder="other names on the panel or in the trade, with commas between them"
      maxLength={600}
      defaultValue={written}
      onBlur={(e) => {
        const told = e.target.value.split(',').map((name) => name.trim())
        if (e.target.value.trim() !== written) onNames(told.filter((name) => name !== ''))
      }}
      onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
    />
  )
}

interface RevisionsProps {
  revisions: Revision[]
  edits: boolean
  onRevisions: (revisions: Revision[]) => void
}

function Revisions({ revisions, edits, onRevisions }: RevisionsProps) {
  const put = (n: number, row: Revision) => {
    const others = revisions.flatMap((was, m) => (m !== n ? [was] : row.name === '' ? [] : [row]))
    onRevisions(n === revisions.length ? [...revisions, row] : others)
  }
  return (
    <div className="scroll revisions" tabIndex={0} role="region" aria-label="Revisions">
      <table>
        <thead>
          <tr>
            {COLUMNS.map((column) => (
              <th key={column.field} scope="col">
                {column.words}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {edits
            ? [...revisions, NEW].map((row, n) => (
                <Edited key={row.name || n} row={row} isNew={n === revisions.length} onRow={(now) => put(n, now)} />
              ))
            : revisions.map((row) => (
                <tr key={row.name}>
                  {COLUMNS.map(({ field }) => (
                    <td key={field}>{row[field]}</td>
                  ))}
                </tr>
              ))}
        </tbody>
      </table>
    </div>
  )
}

interface EditedProps {
  row: Revision
  isNew: boolean
  onRow: (row: Revision) => void
}

/** A row that is kept when the hand leaves it, not between its fields; a revision without a name is gone. */
function Edited({ row, isNew, onRow }: EditedProps) {
  const [now, setNow] = useState(row)
  const sent = useRef(JSON.stringify(row))
  const keep = () => {
    const told = { ...now, name: now.name.trim() }
    const words = JSON.stringify(told)
    if (words === sent.current || (isNew && told.name === '')) return
    sent.current = words
    onRow(told)
  }
  return (
    <tr onBlur={(e) => !e.currentTarget.contains(e.relatedTarget) && keep()}>
      {COLUMNS.map(({ field, words, most }) => (
        <td key={field}>
          <input
            className="small-input"
            aria-label={`${row.name || 'another revision'}: ${words}`}
            placeholder={isNew && field === 'name' ? 'another' : ''}
            maxLength={most}
            value={now[field]}
            onChange={(e) => setNow({ ...now, [field]: e.target.value })}
            onKeyDown={(e) => e.key === 'Enter' && keep()}
          />
        </td>
      ))}
    </tr>
  )
}
