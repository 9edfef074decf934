// Where things stand on a limit bar. Drawing only: no verdict is worked out here.
export interface Marks {
  low: number | null
  high: number | null
  value: number | null
  below: number
  above: number
}

/** The stretch of figures a bar shows: limits, value and spread, with room at both ends. */
export function domainOf(all: readonly Marks[], extra: readonly number[] = []): readonly [number, number] {
  const points = [...extra]
  for (const m of all) {
    if (m.low !== null) points.push(m.low)
    if (m.high !== null) points.push(m.high)
    if (m.value !== null) points.push(m.value - m.below, m.value + m.above)
  }
  if (points.length === 0) return [0, 1]
  const least = Math.min(...points)
  const most = Math.max(...points)
  const room = (most - least || Math.abs(most) || 1) * 0.18
  return [least - room, most + room]
}

/** A figure's place on the bar, in percent, kept on it. */
export function placeOf(figure: number, [least, most]: readonly [number, number]): number {
  return Math.min(100, Math.max(0, ((figure - least) / (most - least)) * 100))
}
