// What unit it is, where one may go from here, and the five parts of the job.
import { Link } from 'react-router'
import type { Schemas } from '../api/client'
import { PART_NAMES, PARTS } from '../ui/words'

type Slip = Schemas['SlipOut']

export function SlipHead({
  slip,
  farKey,
  onFar,
  onPart,
}: {
  slip: Slip
  farKey: string
  onFar: () => void
  onPart: (part: string) => void
}) {
  const item = slip.items.find((i) => i.id === slip.item)
  return (
    <div className="head">
      <h1>
        {slip.title} <span className="quiet">{slip.owner}</span>
      </h1>
      <p className="facts">
        <span>job {slip.number}</span>
        {item !== undefined && item.serial !== '' && <span>serial {item.serial}</span>}
        {slip.waiting_for !== '' && <span>waits for {slip.waiting_for}</span>}
        <Link to={`/job/${slip.id}/hand-back`}>Hand back</Link>
        <button type="button" className="link" onClick={onFar}>
          Far view ({farKey})
        </button>
      </p>
      <div className="parts" role="group" aria-label="Parts of the job">
        {PARTS.map((part) => (
          <button key={part} type="button" aria-pressed={slip.part === part} onClick={() => onPart(part)}>
            {PART_NAMES[part]}
            <small>{partNote(slip, part)}</small>
          </button>
        ))}
      </div>
    </div>
  )
}

function partNote(slip: Slip, part: string): string {
  const open = slip.open_by_part[part]
  const minutes = slip.minutes[part]
  const notes = [
    open === undefined ? null : open === 0 ? 'all read' : `${open} open`,
    minutes === undefined ? null : `${minutes} min`,
  ]
  return notes.filter((n) => n !== null).join(' · ') || '\u00a0'
}
