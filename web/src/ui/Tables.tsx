// Figures of one kind at several places, side by side: the table that fills itself while lines are typed.
import type { Schemas } from '../api/client'
import { Verdict } from './verdict'

type Table = Schemas['Table']
type Cell = Schemas['Cell']

const CURVE = { width: 240, height: 64, edge: 6 }
const LEAST_OF_A_CURVE = 3

interface TablesProps {
  tables: readonly Table[]
  /** Begins a text for a row in the field; absent where nothing may be written. */
  onRow?: ((words: string) => void) | undefined
}

/** Every table of a slip. */
export function Tables({ tables, onRow }: TablesProps) {
  return tables.map((table) => <OneTable key={table.id} table={table} onRow={onRow} />)
}

/** The tables that a line has a figure in. */
export function tablesOf(tables: readonly Table[], line: string): Table[] {
  return tables.filter((t) => t.rows.some((r) => r.cells.some((c) => c?.line === line)))
}

function OneTable({ table, onRow }: { table: Table; onRow: TablesProps['onRow'] }) {
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
                {c.name}
                {c.worked_out !== '' && <small>{c.worked_out}</small>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {table.rows.map((row) => (
            <tr key={row.where}>
              <th scope="row">
                {onRow === undefined ? (
                  row.where
                ) : (
                  <button
                    type="button"
                    className="link"
                    aria-label={`type at ${row.where}`}
                    onClick={() => onRow(row.begins)}
                  >
                    {row.where}
                  </button>
                )}
              </th>
              {row.cells.map((cell, n) => (
                <CellShown key={table.columns[n]?.name} cell={cell} />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <Curve table={table} />
      {table.says.map((words) => (
        <p key={words} className={words.includes('stands out') || words.startsWith('All low') ? 'stale' : 'quiet'}>
          {words}.
        </p>
      ))}
    </section>
  )
}

function CellShown({ cell }: { cell: Cell | null }) {
  if (cell === null) return <td />
  const { before, now, verdict, stands_out } = cell
  return (
    <td data-stands-out={stands_out !== ''}>
      {before !== '' && <small>{now === '' ? `came in ${before}, not read again` : `came in ${before}`}</small>}
      <span>
        {now} {verdict != null && verdict !== 'pass' && verdict !== 'no_verdict' && <Verdict verdict={verdict} />}
      </span>
      {stands_out !== '' && <small>{stands_out}</small>}
    </td>
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
