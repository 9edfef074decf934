// The cells of a table as they are typed: what the text of each begins with, and which comes next.
import type { Schemas } from '../api/client'
import type { CellAt, Way } from '../ui/Tables'

type Table = Schemas['Table']

/** What the text of a cell begins with; null where it is not typed, or no such cell is there. */
export function beginningOf(tables: readonly Table[], at: CellAt): string | null {
  const table = tables.find((t) => t.id === at.table)
  const row = table?.rows.find((r) => r.where === at.row)
  const column = table?.columns.find((c) => c.name === at.column)
  return row === undefined || column?.begins == null ? null : row.begins + column.begins
}

/** What the texts of all cells of a row begin with: live instruments fill the whole row in one key-down. */
export function beginningsAlong(tables: readonly Table[], at: CellAt | null): string[] {
  if (at === null) return []
  const columns = tables.find((t) => t.id === at.table)?.columns ?? []
  return columns.map((c) => beginningOf(tables, { ...at, column: c.name })).filter((words) => words !== null)
}

/** The first cell of the next row, or in the next row of a column that is walked down; null behind the last. */
export function inNextRow(tables: readonly Table[], at: CellAt, way: Way): CellAt | null {
  const table = tables.find((t) => t.id === at.table)
  const row = table?.rows[table.rows.findIndex((r) => r.where === at.row) + 1]
  const first = way === 'down' ? at.column : table?.columns.find((c) => c.begins != null)?.name
  return row === undefined || first === undefined ? null : { table: at.table, row: row.where, column: first }
}

/** The cell before or behind one, in the way of a walk; null beyond either end. */
export function neighbour(tables: readonly Table[], at: CellAt, way: Way, by: 1 | -1): CellAt | null {
  const table = tables.find((t) => t.id === at.table)
  if (table === undefined) return null
  const rows = table.rows.map((r) => r.where)
  const columns = table.columns.filter((c) => c.begins != null).map((c) => c.name)
  const row = rows.indexOf(at.row)
  const column = columns.indexOf(at.column)
  const one = way === 'down' ? (row + by) * columns.length + column : row * columns.length + column + by
  const there = { row: rows[Math.floor(one / columns.length)], column: columns[one % columns.length] }
  return one < 0 || there.row === undefined || there.column === undefined
    ? null
    : { table: at.table, row: there.row, column: there.column }
}
