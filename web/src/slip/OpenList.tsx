// What the plan still wants, in pale ink, and the line that is current.
import type { Schemas } from '../api/client'

type Slip = Schemas['SlipOut']
type OpenLine = Schemas['OpenLineOut']

export function CurrentTitle({ current, slip }: { current: OpenLine | null; slip: Slip }) {
  if (current === null) {
    return (
      <p className="title">
        <b>{slip.part === 'fix' ? 'Repair' : slip.next_step || 'Next'}</b>
        {slip.warning !== null && slip.part === 'fix' && <span className="ask">{slip.warning}</span>}
      </p>
    )
  }
  return (
    <>
      <p className="title">
        <b>{current.name}</b> <span className="ask">{current.where}</span>
      </p>
      <p className="ask">
        {current.ask}
        {current.why !== null && <span className="stale"> · wanted again: {current.why}</span>}
      </p>
    </>
  )
}

export function OpenList({
  open,
  current,
  onChoose,
}: {
  open: OpenLine[]
  current: OpenLine | null
  onChoose: (row: string) => void
}) {
  const others = open.filter((o) => o.row !== current?.row)
  if (others.length === 0) return null
  return (
    <ol className="open" aria-label="Still open">
      {others.map((o) => (
        <li key={o.row}>
          <button type="button" className="plain" onClick={() => onChoose(o.row)}>
            <span />
            <span>
              {o.name} <small>{o.where || o.ask}</small>
              {o.why !== null && <small className="stale"> · {o.why}</small>}
            </span>
            <span className="due">{o.expected !== null ? `about ${o.expected}` : ''}</span>
          </button>
        </li>
      ))}
    </ol>
  )
}
