// Typing along a table: after each figure the field begins with the words of the next cell.
import { useEffect, useEffectEvent, useRef, useState, type RefObject } from 'react'
import type { Schemas } from '../api/client'
import type { FieldHandle } from '../entry'
import { onEvent } from '../live'
import type { CellAt, Way } from '../ui/Tables'
import { beginningOf, beginningsAlong, inNextRow, neighbour } from './tableCells'

type Table = Schemas['Table']

/** A walk along a table: where it is, and what the keys of the field do to it. */
export interface TableWalk {
  at: CellAt | null
  /** What the cells of its row begin with: what live instruments give meanwhile belongs there. */
  along: string[]
  start: (cell: CellAt, way: Way) => void
  /** A text was taken: the next cell begins, where the text was for this one. */
  taken: (text: string) => void
  /** The arrow keys; whether they meant something. */
  step: (by: 1 | -1) => boolean
  stop: () => void
}

/** Walk along the tables of a slip, with the text of each cell begun in the field. A row that live instruments filled is
 *  done with its key-down: the next one begins while the hand switches. */
export function useTableWalk(job: string, tables: readonly Table[], field: RefObject<FieldHandle | null>): TableWalk {
  const [walk, setWalk] = useState<{ at: CellAt; way: Way } | null>(null)
  const begin = (at: CellAt | null, way: Way) => {
    setWalk(at === null ? null : { at, way })
    if (at !== null) field.current?.begin(beginningOf(tables, at) ?? '')
  }
  const filled = useRef(false) // by what was captured in this key-down
  const hear = useEffectEvent((kind: string, data: unknown) => {
    const told = data as { job?: string | null; up?: boolean }
    if (walk === null || told.job !== job) return
    if (kind === 'captured') filled.current = true
    if (kind !== 'carrier') return
    if (told.up === false && filled.current) begin(inNextRow(tables, walk.at, walk.way), walk.way)
    filled.current = false
  })
  useEffect(() => onEvent(hear), [])
  const next = (by: 1 | -1) => (walk === null ? null : neighbour(tables, walk.at, walk.way, by))
  return {
    at: walk?.at ?? null,
    along: beginningsAlong(tables, walk?.at ?? null),
    start: begin,
    taken: (text) => {
      if (walk === null) return
      const words = beginningOf(tables, walk.at)
      if (words !== null && text.startsWith(words)) begin(next(1), walk.way)
      else setWalk(null)
    },
    step: (by) => {
      const there = next(by)
      if (walk === null || there === null) return walk !== null
      begin(there, walk.way)
      return true
    },
    stop: () => setWalk(null),
  }
}
