// The sheet behind '=': look something up in every table at once, read one whole, or do a sum. A row goes into the field.
import { useQuery } from '@tanstack/react-query'
import { useState, type KeyboardEvent } from 'react'
import type { Schemas } from '../api/client'
import { lookUpOptions, tableOptions, tablesOptions } from '../api/queries'
import { SumsSheet } from './SumsSheet'

const SHORT = 16 // signs that a cell keeps on one line: a figure and its unit

interface LookUpProps {
  /** The job whose slip is open: its unit's channels come first. */
  job: string
  onUse: (text: string) => void
  onClose: () => void
}

/** Tables and sums beside the slip; an answer goes into the field. */
export function LookUp({ job, onUse, onClose }: LookUpProps) {
  const [find, setFind] = useState('')
  const [open, setOpen] = useState<string | null>(null)
  const { data: names } = useQuery(tablesOptions)
  const { data: answers } = useQuery(lookUpOptions(find, job))
  const asks = find.trim() !== ''
  const found = asks ? (answers ?? []) : []
  const first = found[0]?.rows[0]
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key !== 'Enter' || open !== null || first === undefined) return
    event.preventDefault()
    onUse(first.field_text)
  }
  return (
    <div className="sums">
      <p className="close">
        <button type="button" className="link" onClick={onClose}>
          Close
        </button>
      </p>
      <h2>Look up</h2>
      <input
        className="small-input find-in-tables"
        type="search"
        autoFocus
        autoComplete="off"
        maxLength={100}
        aria-label="Find in every table"
        placeholder="ch 19 harmonics, rg58 27mhz 12m, yellow violet red …"
        value={find}
        onChange={(e) => setFind(e.target.value)}
        onKeyDown={onKeyDown}
      />
      {open !== null && <WholeTable name={open} find={find} job={job} onUse={onUse} onBack={() => setOpen(null)} />}
      {open === null &&
        found.map((table) => <Found key={table.id} table={table} onUse={onUse} onWhole={() => setOpen(table.id)} />)}
      {open === null && asks && answers?.length === 0 && (
        <p className="quiet" role="status">
          No table has that. Fewer words find more.
        </p>
      )}
      {open === null && !asks && (
        <>
          <div className="senses" role="group" aria-label="Which table">
            {names?.map((t) => (
              <button key={t.id} type="button" className="chip" onClick={() => setOpen(t.id)}>
                {t.title}
              </button>
            ))}
          </div>
        </>
      )}
      {open === null && <SumsSheet find={find} onUse={onUse} />}
    </div>
  )
}

interface WholeTableProps extends Pick<LookUpProps, 'job' | 'onUse'> {
  name: string
  find: string
  onBack: () => void
}

function WholeTable({ name, find, job, onUse, onBack }: WholeTableProps) {
  const { data: table, error } = useQuery(tableOptions(name, find, job))
  return (
    <>
      <button type="button" className="link" onClick={onBack}>
        All tables
      </button>
      {error !== null && <p role="alert">{error.message}</p>}
      {table !== undefined && <Found table={table} onUse={onUse} />}
    </>
  )
}

interface FoundProps {
  table: Schemas['TableOut']
  onUse: (text: string) => void
  onWhole?: () => void
}

function Found({ table, onUse, onWhole }: FoundProps) {
  return (
    <section aria-label={table.title}>
      <h3>{table.title}</h3>
      <div className="scroll" tabIndex={0} role="region" aria-label={`Rows of ${table.title}`}>
        <table>
          <thead>
            <tr>
              {table.columns.map((column, n) => (
                <th key={n} scope="col">
                  {column}
                </th>
              ))}
              <th scope="col" aria-label="Into the field" />
            </tr>
          </thead>
          <tbody>
            {table.rows.map((row, r) => (
              <tr key={r}>
                {row.cells.map((cell, n) => (
                  <td key={n} className={cell.length < SHORT ? 'short' : ''}>
                    {cell}
                  </td>
                ))}
                <td>
                  <button
                    type="button"
                    className="link"
                    aria-label={`${row.field_text.trim()} into the field`}
                    onClick={() => onUse(row.field_text)}
                  >
                    use
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="quiet">
        {table.note} {table.note !== '' && ' '}
        <small>{table.source}</small>
        {table.more && onWhole !== undefined && (
          <>
            {' '}
            <button type="button" className="link" onClick={onWhole}>
              The whole table
            </button>
          </>
        )}
      </p>
    </section>
  )
}
