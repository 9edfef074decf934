// This unit beside others: an address a row, a column each, and in words what differs by more than both spreads.
import { useQuery } from '@tanstack/react-query'
import type { Schemas } from '../api/client'
import { comparedOptions } from '../api/queries'

type Cell = Schemas['ComparedCell']

/** The table that compares; a sentence where there is nothing to hold the unit against. */
export function Compare({ job, item }: { job: string; item: string | null }) {
  const { data } = useQuery(comparedOptions(job, item))
  if (data === undefined) return null
  return (
    <section className="card places compare" aria-label="Compare">
      <h2>Compare</h2>
      {data.rows.length === 0 ? (
        <p className="quiet">
          Nothing to hold it against yet. A sibling on the bench: begin its figures with <b>sibling</b>, or give it an
          item of its own.
        </p>
      ) : (
        <table>
          <thead>
            <tr>
              {data.columns.map((name) => (
                <th key={name} scope="col">
                  {name}
                </th>
              ))}
            </tr>
          </thead>
          {data.rows.map((row) => (
            <tbody key={`${row.name} ${row.where}`}>
              <tr>
                <th scope="rowgroup" colSpan={data.columns.length}>
                  {row.name} {row.where}
                </th>
              </tr>
              <tr>
                {row.cells.map((cell, n) => (
                  <td key={data.columns[n]}>{cell !== null && <Compared cell={cell} />}</td>
                ))}
              </tr>
            </tbody>
          ))}
        </table>
      )}
    </section>
  )
}

function Compared({ cell }: { cell: Cell }) {
  return (
    <>
      <span>{cell.figure}</span>
      {cell.differs !== '' && <small className="differs">{cell.differs}</small>}
    </>
  )
}
