// Figures of one kind at several places, side by side: the table that fills itself while lines are typed.
import type { Schemas } from '../api/client'
import { Verdict } from './verdict'

type Table = Schemas['Table']
type Cell = Schemas['Cell']

const CURVE = { width: 240, height: 64, edge: 6 }
const LEAST_OF_A_CURVE = 3

/** One cell, by the names that stay while figures come in. */
export interface CellAt {
  table: string
  row: string
  column: string
}

/** Which way a hand goes on from a cell: along the row and on to the next, or down one column. */
export type Way = 'along' | 'down'

/** What a hand may type into the tables; absent where nothing may be written. */
interface Typing {
  /** The cell whose figure is typed now. */
  at: CellAt | null
  /** Begins a text for a row in the field. */
  onRow: (words: string) => void
  /** Begins the text of a cell, and of those that come after it. */
  onCell: (cell: CellAt, way: Way) => void
  /** Whether live instruments fill the row that is typed now. */
  fillsLive: boolean
}

interface TablesProps {
  tables: readonly Table[]
  typing?: Typing | undefined
}

/** Every table of a slip. */
export function Tables({ tables, typing }: TablesProps) {
  return tables.map((table) => <OneTable key={table.id} table={table} typing={typing} />)
}

/** The tables that a line has a figure in. */
export function tablesOf(tables: readonly Table[], line: string): Table[] {
  return tables.filter((t) => t.rows.some((r) => r.cells.some((c) => c?.line === line)))
}

function OneTable({ table, typing }: { table: Table; typing: TablesProps['typing'] }) {
  const first = table.rows[0]?.where ?? ''
  return (
    <section className="card places" aria-label={table.title}>
      <h2>
        {table.title} {table.verdict !== 'no_verdict' && <Verdict verdict={table.verdict} />}
      </h2>
      <table>
        <thead>
          <tr>
            <th scope="col" aria-label="Where" />
            {table.columns.map((c) => (
              <th key={c.name} scope="col" title={c.worked_out === '' ? undefined : c.worked_out}>
                {typing === undefined || c.begins == null ? (
                  c.name
                ) : (
                  <button
                    type="button"
                    className="link"
                    aria-label={`type down ${c.name}`}
                    onClick={() => typing.onCell({ table: table.id, row: first, column: c.name }, 'down')}
                  >
                    {c.name}
                  </button>
                )}
                {c.worked_out !== '' && <small>{c.worked_out}</small>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {table.rows.map((row) => (
            <tr key={row.where}>
              <th scope="row">
                {typing === undefined ? (
                  row.where
                ) : (
                  <button
                    type="button"
                    className="link"
                    aria-label={`type at ${row.where}`}
                    onClick={() => typing.onRow(row.begins)}
                  >
                    {row.where}
                  </button>
                )}
              </th>
              {row.cells.map((cell, n) => {
                const column = table.columns[n]
                const at = { table: table.id, row: row.where, column: column?.name ?? '' }
                return (
                  <CellShown
                    key={at.column}
                    cell={cell}
                    name={`${at.column} at ${row.where}`}
                    isTyped={isSame(typing?.at ?? null, at)}
                    onType={typing === undefined || column?.begins == null ? null : () => typing.onCell(at, 'along')}
                  />
                )
              })}
            </tr>
          ))}
        </tbody>
      </table>
      {typing?.fillsLive === true && typing.at?.table === table.id && (
        <p className="quiet">Keyed at {typing.at.row}, its row fills itself; the next one begins when you let go.</p>
      )}
      <Curve table={table} />
      {table.says.map((words) => (
        <p key={words} className={words.includes('stands out') || words.startsWith('All low') ? 'stale' : 'quiet'}>
          {words}.
        </p>
      ))}
    </section>
  )
}

const isSame = (one: CellAt | null, other: CellAt) =>
  one !== null && one.table === other.table && one.row === other.row && one.column === other.column

interface CellProps {
  cell: Cell | null
  name: string
  isTyped: boolean
  onType: (() => void) | null
}

function CellShown({ cell, name, isTyped, onType }: CellProps) {
  return (
    <td data-stands-out={cell !== null && cell.stands_out !== ''} data-typed={isTyped}>
      {onType === null ? (
        cell !== null && <Figures cell={cell} />
      ) : (
        <button type="button" className="cell" aria-label={`type ${name}`} onClick={onType}>
          {cell === null ? 'not read' : <Figures cell={cell} />}
        </button>
      )}
      {cell !== null && cell.stands_out !== '' && <small>{cell.stands_out}</small>}
    </td>
  )
}

function Figures({ cell: { before, now, verdict } }: { cell: Cell }) {
  const isJudged = verdict != null && verdict !== 'pass' && verdict !== 'no_verdict'
  return (
    <>
      {before !== '' && <small>{now === '' ? `came in ${before}, not read again` : `came in ${before}`}</small>}
      {(now !== '' || isJudged) && (
        <span>
          {now} {isJudged && <Verdict verdict={verdict} />}
        </span>
      )}
    </>
  )
}

/** A small curve of the first column, where places are numbers. */
function Curve({ table }: { table: Table }) {
  const points = table.rows.flatMap((r) => {
    const value = r.cells[0]?.value
    return r.at === null || value == null ? [] : [{ at: r.at, value }]
  })
  if (points.length < LEAST_OF_A_CURVE) return null
  const { width, height, edge } = CURVE
  const across = scale(
    points.map((p) => p.at),
    edge,
    width - edge,
  )
  const up = scale([0, ...points.map((p) => p.value)], height - edge, edge)
  const drawn = points.map((p) => `${across(p.at).toFixed(1)},${up(p.value).toFixed(1)}`)
  return (
    <svg
      className="curve"
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={`Curve: ${table.columns[0]?.name}`}
    >
      <line x1={edge} x2={width - edge} y1={height - edge} y2={height - edge} className="foot" />
      <polyline points={drawn.join(' ')} fill="none" />
      {points.map((p) => (
        <circle key={p.at} cx={across(p.at)} cy={up(p.value)} r="3" />
      ))}
    </svg>
  )
}

function scale(values: number[], from: number, to: number) {
  const [low, high] = [Math.min(...values), Math.max(...values)]
  return (value: number) => (high === low ? (from + to) / 2 : from + ((value - low) / (high - low)) * (to - from))
}
