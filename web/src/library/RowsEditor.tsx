// A text of the library as what it says: rows whose figures, words and choices are changed in place, with what that does beside.
import { useMutation, useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { api, dataOf, type Schemas } from '../api/client'

export type EditKind = 'limits' | 'channels' | 'chains'
type Edited = Schemas['EditedOut']
type Table = Schemas['EditTableOut']
type Row = Schemas['EditRowOut']
type Column = Schemas['EditColumnOut']
type Edit = Schemas['EditIn']

interface RowsEditorProps {
  kind: EditKind
  name: string
  text: string
  onText: (text: string) => void
}

/** The rows of a text. What is changed is in the text at once, and kept when the text is. */
export function RowsEditor({ kind, name, text, onText }: RowsEditorProps) {
  const params = { path: { kind } }
  const ask = (edit: Edit | null) =>
    dataOf(api.POST('/api/library/edited/{kind}', { params, body: { name, text, edit } }))
  const query = useQuery({
    queryKey: ['edited', kind, name, text],
    queryFn: () => ask(null),
    placeholderData: (was) => was,
  })
  const change = useMutation({ mutationFn: ask, onSuccess: (made) => onText(made.text) })
  const shown = query.data
  const problem = change.error ?? query.error
  if (shown === undefined)
    return <p role={query.isError ? 'alert' : 'status'}>{query.error?.message ?? 'Reading its rows'}</p>
  return (
    <div className="rows-editor">
      {problem !== null && (
        <p role="alert" className="ask-line">
          {problem.message}
        </p>
      )}
      <Changes edited={shown} />
      <Tables key={name} tables={shown.tables} onEdit={(edit) => change.mutate(edit)} />
    </div>
  )
}

function Changes({ edited }: { edited: Edited }) {
  if (edited.changes.length === 0) return <p className="quiet">Nothing is changed yet.</p>
  return (
    <div role="status" className="changes">
      <h3>What would change</h3>
      <ul>
        {edited.changes.map((words) => (
          <li key={words}>{words}</li>
        ))}
        {edited.would.map((words) => (
          <li key={words} className="stale">
            {words}
          </li>
        ))}
      </ul>
    </div>
  )
}

function Tables({ tables, onEdit }: { tables: readonly Table[]; onEdit: (edit: Edit) => void }) {
  const [chosen, setChosen] = useState<string | null>(null)
  const [find, setFind] = useState('')
  const shown = tables.find((t) => t.id === chosen) ?? tables[0]
  if (shown === undefined) return <p className="quiet">It has no rows.</p>
  const wanted = find.trim().toLowerCase()
  const rows = shown.rows.filter((r) => `${r.name} ${r.about}`.toLowerCase().includes(wanted))
  return (
    <>
      <p className="senses" role="group" aria-label="Which rows">
        {tables.length > 1 &&
          tables.map((t) => (
            <button
              key={t.id}
              type="button"
              className="chip"
              aria-pressed={t.id === shown.id}
              onClick={() => setChosen(t.id)}
            >
              {t.title}
            </button>
          ))}
        {shown.rows.length > 12 && (
          <input
            className="small-input"
            type="search"
            aria-label="Find a row"
            placeholder="find a row"
            value={find}
            onChange={(e) => setFind(e.target.value)}
          />
        )}
      </p>
      <div className="scroll" tabIndex={0} role="region" aria-label={shown.title}>
        <table>
          <thead>
            <tr>
              {!isNamed(shown) && <th scope="col" aria-label="Which" />}
              {shown.columns.map((c) => (
                <th key={c.field} scope="col">
                  {c.words} {c.unit !== '' && <span className="quiet">{c.unit}</span>}
                </th>
              ))}
              <th scope="col" aria-label="What may be done" />
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <OneRow key={row.id} table={shown} row={row} onEdit={onEdit} />
            ))}
          </tbody>
        </table>
      </div>
      {rows.length === 0 && <p className="quiet">No row goes by that.</p>}
    </>
  )
}

/** Whether its first column says what a row is. */
const isNamed = (table: Table) => table.columns[0]?.kind === 'words'

function OneRow({ table, row, onEdit }: { table: Table; row: Row; onEdit: (edit: Edit) => void }) {
  const act = (name: Edit['act']) => onEdit({ act: name, table: table.id, row: row.id, field: '', value: null })
  return (
    <tr>
      {!isNamed(table) && <th scope="row">{row.name}</th>}
      {table.columns.map((column, n) => (
        <td key={column.field}>
          {column.field in row.values ? (
            <Cell
              key={String(row.values[column.field])}
              column={column}
              row={row}
              onValue={(value) => onEdit({ act: 'set', table: table.id, row: row.id, field: column.field, value })}
            />
          ) : (
            <span className="quiet">–</span>
          )}
          {n === 0 && row.about !== '' && <small className="under quiet">{row.about}</small>}
        </td>
      ))}
      <td className="acts">
        {table.more && (
          <button type="button" className="link" aria-label={`Another like ${row.name}`} onClick={() => act('another')}>
            another
          </button>
        )}{' '}
        {row.off && (
          <button type="button" className="link" aria-label={`Take off ${row.name}`} onClick={() => act('off')}>
            off
          </button>
        )}
      </td>
    </tr>
  )
}

interface CellProps {
  column: Column
  row: Row
  onValue: (value: string | number | boolean | null) => void
}

function Cell({ column, row, onValue }: CellProps) {
  const value = row.values[column.field] ?? null
  const label = `${row.name}: ${column.words}`
  if (column.kind === 'yes')
    return (
      <input type="checkbox" aria-label={label} checked={value === true} onChange={(e) => onValue(e.target.checked)} />
    )
  if (column.kind === 'choice')
    return (
      <select
        className="small-input"
        aria-label={label}
        value={String(value)}
        onChange={(e) => onValue(e.target.value)}
      >
        {column.choices.map((c) => (
          <option key={c}>{c}</option>
        ))}
      </select>
    )
  return (
    <Typed column={column} label={label} value={value} unit={column.unit === '' ? row.unit : ''} onValue={onValue} />
  )
}

interface TypedProps extends Pick<CellProps, 'column' | 'onValue'> {
  label: string
  value: string | number | boolean | null
  unit: string
}

function Typed({ column, label, value, unit, onValue }: TypedProps) {
  const isFigure = column.kind === 'figure'
  const [typed, setTyped] = useState(value === null ? '' : String(value))
  const leave = () => {
    const words = typed.trim()
    const next = words === '' && isFigure ? null : isFigure ? Number(words) : words
    if (Number.isNaN(next)) setTyped(value === null ? '' : String(value))
    else if (next !== (value ?? (isFigure ? null : ''))) onValue(next)
  }
  return (
    <span className="cell">
      <input
        className={isFigure ? 'small-input few' : 'small-input'}
        aria-label={label}
        inputMode={isFigure ? 'decimal' : 'text'}
        maxLength={isFigure ? 16 : 200}
        value={typed}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={leave}
        onKeyDown={(e) => {
          if (e.key !== 'Enter') return
          e.preventDefault()
          leave()
        }}
      />
      {isFigure && unit !== '' && unit !== '1' && <span className="quiet"> {unit}</span>}
    </span>
  )
}
