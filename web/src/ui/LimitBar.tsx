// One limit and one figure: the allowed stretch as a band, the figure as a stroke with its spread.
import type { Schemas } from '../api/client'
import { domainOf, placeOf, type Marks } from './scale'

export function marksOf(measured: Schemas['Measured'] | null, low: number | null, high: number | null): Marks {
  const value = measured?.value ?? null
  const spread = measured?.uncertainty ?? 0
  const [least, most] = measured?.interval ?? []
  return {
    low,
    high,
    value,
    below: least !== undefined && value !== null ? value - least : spread,
    above: most !== undefined && value !== null ? most - value : spread,
  }
}

interface LimitBarProps {
  marks: Marks
  domain?: readonly [number, number]
  ghost?: number | null
  before?: number | null
  label: string
  height?: number
}

export function LimitBar({ marks, domain, ghost = null, before = null, label, height = 24 }: LimitBarProps) {
  const shown = domain ?? domainOf([marks])
  const at = (figure: number) => `${placeOf(figure, shown)}%`
  const from = marks.low === null ? 0 : placeOf(marks.low, shown)
  const to = marks.high === null ? 100 : placeOf(marks.high, shown)
  const middle = height / 2
  return (
    <svg className="bar" width="100%" height={height} role="img" aria-label={label}>
      <line x1="0" x2="100%" y1={middle} y2={middle} stroke="var(--hair)" />
      {(marks.low !== null || marks.high !== null) && (
        <rect
          x={`${from}%`}
          width={`${Math.max(0, to - from)}%`}
          y={middle - 5}
          height="10"
          fill="var(--petrol)"
          opacity="0.22"
        />
      )}
      {marks.low !== null && (
        <line
          x1={at(marks.low)}
          x2={at(marks.low)}
          y1={middle - 9}
          y2={middle + 9}
          stroke="var(--petrol)"
          strokeWidth="2"
        />
      )}
      {marks.high !== null && (
        <line
          x1={at(marks.high)}
          x2={at(marks.high)}
          y1={middle - 9}
          y2={middle + 9}
          stroke="var(--petrol)"
          strokeWidth="2"
        />
      )}
      {ghost !== null && <circle cx={at(ghost)} cy={middle} r="4" fill="none" stroke="var(--pale)" strokeWidth="1.5" />}
      {before !== null && (
        <line
          x1={at(before)}
          x2={at(before)}
          y1={middle - 7}
          y2={middle + 7}
          stroke="var(--pale)"
          strokeDasharray="3 2"
          strokeWidth="2"
        />
      )}
      {marks.value !== null && (
        <>
          <line
            x1={at(marks.value - marks.below)}
            x2={at(marks.value + marks.above)}
            y1={middle}
            y2={middle}
            stroke="var(--ink)"
            strokeWidth="2"
          />
          <line
            x1={at(marks.value)}
            x2={at(marks.value)}
            y1={middle - 8}
            y2={middle + 8}
            stroke="var(--ink)"
            strokeWidth="4"
          />
        </>
      )}
    </svg>
  )
}
