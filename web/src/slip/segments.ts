// Cutting the slip into the parts as they came, one after the other, each with what turned up in it.
import type { Schemas } from '../api/client'
import type { PartKey } from '../ui/words'

type Line = Schemas['LineOut']

export interface Segment {
  key: string
  part: PartKey
  lines: Line[]
  outside: number
  found: number
}

export function segmentsOf(lines: readonly Line[]): Segment[] {
  const segments: Segment[] = []
  for (const line of lines) {
    let last = segments.at(-1)
    if (last?.part !== line.part) {
      last = { key: line.id, part: line.part as PartKey, lines: [], outside: 0, found: 0 }
      segments.push(last)
    }
    last.lines.push(line)
    if (line.withdrawn !== null) continue
    if (line.kind === 'found') last.found += 1
    const verdict = line.readings[0]?.verdict
    if (verdict === 'fail' || verdict === 'fail_close') last.outside += 1
  }
  return segments
}

/** '12 lines · 2 found · 1 outside' */
export function summaryOf(segment: Segment): string {
  const parts = [`${segment.lines.length} line${segment.lines.length === 1 ? '' : 's'}`]
  if (segment.found > 0) parts.push(`${segment.found} found`)
  if (segment.outside > 0) parts.push(`${segment.outside} outside`)
  return parts.join(' · ')
}
