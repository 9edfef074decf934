// Lines that were taken here and have no answer yet.
import { useReached, type OutgoingLine } from '../entry'
import { timeOf } from '../ui/words'

/** Lines that the server does not have yet. */
export function Pending({ lines }: { lines: readonly OutgoingLine[] }) {
  const reached = useReached()
  return lines.map((line) => (
    <li key={line.id} className="line words pending" data-line="pending">
      <time dateTime={line.at}>{timeOf(line.at)}</time>
      <span className="kind">kept here</span>
      <span className="what">
        {line.text}
        <small>{reached ? 'on its way' : 'the server is not reached; it is sent as soon as it is back'}</small>
      </span>
      <span />
    </li>
  ))
}
