// The lines of a slip under the headings of their parts; a part folds when it is done.
import { useCallback, useState } from 'react'
import type { Schemas } from '../api/client'
import { PART_NAMES } from '../ui/words'
import { segmentsOf, summaryOf, type Segment } from './segments'
import { SlipLine, type LineActs } from './SlipLine'

type Slip = Schemas['SlipOut']

export function Roll({ slip, acts }: { slip: Slip; acts: LineActs }) {
  const [toggled, setToggled] = useState<Record<string, boolean>>({})
  const segments = segmentsOf(slip.lines)
  const folded = useCallback(
    (segment: Segment, n: number) =>
      toggled[segment.key] ?? (n < segments.length - 1 && segment.part !== slip.part && slip.lines.length > 8),
    [toggled, segments.length, slip.part, slip.lines.length],
  )
  return segments.map((segment, n) => (
    <section key={segment.key} aria-label={PART_NAMES[segment.part]}>
      <button
        type="button"
        className="plain segment"
        aria-expanded={!folded(segment, n)}
        onClick={() => setToggled({ ...toggled, [segment.key]: !folded(segment, n) })}
      >
        {PART_NAMES[segment.part]} <span>{summaryOf(segment)}</span>
      </button>
      {!folded(segment, n) && (
        <ol>
          {segment.lines.map((line) => (
            <SlipLine key={line.id} line={line} acts={acts} />
          ))}
        </ol>
      )}
    </section>
  ))
}
