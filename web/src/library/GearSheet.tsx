// A model or a kind on one sheet, read like a service sheet and corrected in place; each value with its source.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Link } from 'react-router'
import { api, dataOf, type Schemas } from '../api/client'
import { gearOptions, libraryOptions } from '../api/queries'
import { KnownAs, type KnownAsBody } from './KnownAs'
import { ModelBoards, type BoardBody } from './ModelBoards'
import { TextEditor } from './TextEditor'

type Sheet = Schemas['GearSheet']

/** What may be done with a sheet; each answer is the sheet as it then stands. */
function useSheet(id: string, onMade: (id: string) => void) {
  const queries = useQueryClient()
  const params = { path: { name: id } }
  const scope = { id: `sheet ${id}` } // one after the other: an answer that is late shows no sheet that is older
  const show = (sheet: Sheet) => {
    queries.setQueryData(gearOptions(sheet.id).queryKey, sheet)
    void queries.invalidateQueries({ queryKey: libraryOptions.queryKey })
    void queries.invalidateQueries({ queryKey: ['slip'] })
  }
  const due = useMutation({
    scope,
    mutationFn: ({ row, due: value }: { row: string; due: number | null }) =>
      dataOf(api.PUT('/api/gear/{name}/rows/{row}', { params: { path: { name: id, row } }, body: { due: value } })),
    onSuccess: show,
  })
  const note = useMutation({
    scope,
    mutationFn: (body: Schemas['GearNote']) => dataOf(api.POST('/api/gear/{name}/notes', { params, body })),
    onSuccess: show,
  })
  const knownAs = useMutation({
    scope,
    mutationFn: (body: KnownAsBody) => dataOf(api.PUT('/api/gear/{name}/known-as', { params, body })),
    onSuccess: show,
  })
  const copy = useMutation({
    mutationFn: (name: string) => dataOf(api.POST('/api/gear/{name}/copy', { params, body: { name } })),
    onSuccess: (sheet) => {
      show(sheet)
      onMade(sheet.id)
    },
  })
  const keep = useMutation({
    mutationFn: (text: string) => dataOf(api.POST('/api/gear-file', { body: { text, sure: true } })),
    onSuccess: (read) => {
      if (read.sheet !== null) show(read.sheet)
      onMade(read.id)
    },
  })
  const withdraw = useMutation({
    mutationFn: () => dataOf(api.POST('/api/gear/{name}/withdraw', { params })),
    onSuccess: () => {
      void queries.invalidateQueries({ queryKey: libraryOptions.queryKey })
      onMade('')
    },
  })
  const addBoard = useMutation({
    scope,
    mutationFn: (file: File) => {
      const form = new FormData()
      form.append('file', file)
      form.append('id', crypto.randomUUID())
      form.append('words', file.name.replace(/\.\w+$/, ''))
      return dataOf(
        api.POST('/api/gear/{name}/boards', {
          params,
          body: form as never,
          bodySerializer: (body) => body as unknown as FormData,
        }),
      )
    },
    onSuccess: show,
  })
  const putBoard = useMutation({
    scope,
    mutationFn: ({ id: board_id, body }: { id: string; body: BoardBody }) =>
      dataOf(api.PUT('/api/gear/{name}/boards/{board_id}', { params: { path: { name: id, board_id } }, body })),
    onSuccess: show,
  })
  const dropBoard = useMutation({
    scope,
    mutationFn: (board_id: string) =>
      dataOf(api.DELETE('/api/gear/{name}/boards/{board_id}', { params: { path: { name: id, board_id } } })),
    onSuccess: show,
  })
  const problem = due.error ?? note.error ?? knownAs.error ?? copy.error ?? withdraw.error
  return { due, note, knownAs, copy, keep, withdraw, addBoard, putBoard, dropBoard, problem }
}

interface GearSheetProps {
  id: string
  writes: boolean
  /** Show another sheet: a copy that was made, or none where this one is gone. */
  onOpen: (id: string) => void
}

/** The sheet of a model or a kind. */
export function GearSheet({ id, writes, onOpen }: GearSheetProps) {
  const { data: sheet, error } = useQuery(gearOptions(id))
  const acts = useSheet(id, onOpen)
  const [asText, setAsText] = useState(false)
  if (sheet === undefined)
    return <p role={error === null ? 'status' : 'alert'}>{error?.message ?? 'Opening its sheet'}</p>
  const edits = writes && sheet.ours
  return (
    <article className="gear-sheet">
      <h2>
        {sheet.title} <span className="quiet">{sheet.source}</span>
      </h2>
      {acts.problem !== null && <p role="alert">{acts.problem.message}</p>}
      <Acts sheet={sheet} acts={acts} writes={writes} onText={() => setAsText(!asText)} />
      {asText && (
        <TextEditor
          key={sheet.text}
          label="The model's open file"
          text={sheet.text}
          keepWords="Keep it so"
          withdrawWords={sheet.ours ? 'Take it away' : null}
          versions={sheet.versions}
          problem={acts.keep.error ?? acts.withdraw.error}
          busy={acts.keep.isPending}
          onKeep={(text) => acts.keep.mutate(text, { onSuccess: () => setAsText(false) })}
          onWithdraw={() => acts.withdraw.mutate()}
          onDone={() => setAsText(false)}
        />
      )}
      <dl className="pairs">
        {sheet.facts.map(([name, words]) => (
          <div key={name} style={{ display: 'contents' }}>
            <dt>{name}</dt>
            <dd>{words}</dd>
          </div>
        ))}
      </dl>
      <KnownAs sheet={sheet} edits={edits} onKnownAs={(body) => acts.knownAs.mutate(body)} />
      {sheet.cautions.map((c) => (
        <p key={c} className="caution">
          {c}
        </p>
      ))}
      <Plan sheet={sheet} edits={edits} onDue={(row, due) => acts.due.mutate({ row, due })} />
      <Notes sheet={sheet} edits={edits} onNote={(note) => acts.note.mutate(note)} />
      <ModelBoards sheet={sheet} edits={edits} acts={acts} />
      {sheet.stages.length > 0 && (
        <>
          <h3>As the signal goes</h3>
          <p>{sheet.stages.join(' → ')}</p>
        </>
      )}
      {sheet.sequences.map((told) => (
        <Sequence key={told.title} told={told} />
      ))}
      <Jobs jobs={sheet.jobs} />
    </article>
  )
}

/** How such a unit is set up, step by step. */
function Sequence({ told }: { told: Sheet['sequences'][number] }) {
  return (
    <>
      <h3>
        {told.title} <span className="quiet">{told.source}</span>
      </h3>
      <table>
        <thead>
          <tr>
            <th scope="col">turn</th>
            <th scope="col">read</th>
            <th scope="col">to</th>
            <th scope="col">then again</th>
          </tr>
        </thead>
        <tbody>
          {told.steps.map((step) => (
            <tr key={`${step.adjuster} ${step.read} ${step.aim}`}>
              <th scope="row">
                <strong>{step.adjuster}</strong>
                {step.where !== '' && <small className="under">{step.where}</small>}
              </th>
              <td>{step.read}</td>
              <td>{step.aim}</td>
              <td>{step.upsets.join(', ')}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}

function Acts({
  sheet,
  acts,
  writes,
  onText,
}: {
  sheet: Sheet
  acts: ReturnType<typeof useSheet>
  writes: boolean
  onText: () => void
}) {
  const [name, setName] = useState('')
  return (
    <div className="sheet-acts">
      {writes && (
        <form
          onSubmit={(e) => {
            e.preventDefault()
            acts.copy.mutate(name)
          }}
        >
          <input
            className="small-input"
            aria-label="Copy it under the name"
            placeholder={sheet.ours ? 'a sibling: maker and model' : 'copy it: maker and model'}
            maxLength={100}
            value={name}
            onChange={(e) => setName(e.target.value)}
          />{' '}
          <button type="submit" className="link" disabled={name.trim() === ''}>
            Copy
          </button>
        </form>
      )}
      {sheet.text !== '' && <a href={`/api/gear/${sheet.id}/file`}>Open file</a>}
      {sheet.boards.length > 0 && <a href={`/api/gear/${sheet.id}/packed`}>with its boards</a>}
      {writes && sheet.ours && (
        <button type="button" className="link" onClick={onText}>
          Edit as text
        </button>
      )}
    </div>
  )
}

interface PlanProps {
  sheet: Sheet
  edits: boolean
  onDue: (row: string, due: number | null) => void
}

function Plan({ sheet, edits, onDue }: PlanProps) {
  return (
    <div className="scroll" tabIndex={0} role="region" aria-label="What proves it">
      <table>
        <thead>
          <tr>
            <th scope="col">What proves it</th>
            <th scope="col">Due</th>
            <th scope="col">Limits</th>
            <th scope="col">Left here</th>
          </tr>
        </thead>
        <tbody>
          {sheet.rows.map((row, n) => (
            <tr key={row.id}>
              <td>
                {row.name} <span className="quiet">{row.where}</span>
                <div className="quiet">{row.ask}</div>
                {row.caution !== '' && firstSaid(sheet, row.caution) === n && (
                  <div className="caution">{row.caution}</div>
                )}
              </td>
              <td className="due">
                {edits ? (
                  <Due key={row.due_value} row={row} onDue={(due) => onDue(row.id, due)} />
                ) : (
                  row.due || <span className="quiet">not said</span>
                )}
              </td>
              <td>
                {row.limits.map((words) => (
                  <div key={words}>{words}</div>
                ))}
                {row.contradictions.map((words) => (
                  <div key={words} className="caution">
                    {words}
                  </div>
                ))}
              </td>
              <td>{row.healthy}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

/** Where a caution is said first: what holds for many lines is read once; -1 where the whole sheet says it. */
const firstSaid = (sheet: Sheet, caution: string) =>
  sheet.cautions.includes(caution) ? -1 : sheet.rows.findIndex((r) => r.caution === caution)

function Due({ row, onDue }: { row: Sheet['rows'][number]; onDue: (due: number | null) => void }) {
  return (
    <label>
      <input
        className="small-input"
        aria-label={`Due: ${row.name} ${row.where}`}
        type="number"
        step="any"
        defaultValue={row.due_value ?? ''}
        onBlur={(e) => {
          const due = e.target.value === '' ? null : Number(e.target.value)
          if (due !== row.due_value) onDue(due)
        }}
        onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
      />{' '}
      <span className="quiet">{row.unit === '1' ? '' : row.unit}</span>
    </label>
  )
}

interface NotesProps {
  sheet: Sheet
  edits: boolean
  onNote: (note: Schemas['GearNote']) => void
}

function Notes({ sheet, edits, onNote }: NotesProps) {
  const [text, setText] = useState('')
  const [revision, setRevision] = useState('')
  if (!edits && sheet.notes.length === 0) return null
  return (
    <>
      <h3>Known of it</h3>
      <ul className="gear-notes">
        {sheet.notes.map((n) => (
          <li key={n.text}>
            {n.text}{' '}
            <span className="quiet">
              {n.revision !== '' && `revision ${n.revision}, `}
              {n.proven ? 'proven here' : 'hearsay'}
            </span>
            {edits && (
              <span className="senses">
                <button
                  type="button"
                  className="chip"
                  aria-label={`${n.proven ? 'only hearsay' : 'proven here'}: ${n.text}`}
                  onClick={() => onNote({ text: n.text, revision: n.revision, proven: !n.proven, gone: false })}
                >
                  {n.proven ? 'only hearsay' : 'proven here'}
                </button>
                <button
                  type="button"
                  className="chip"
                  aria-label={`take off: ${n.text}`}
                  onClick={() => onNote({ text: n.text, revision: n.revision, proven: n.proven, gone: true })}
                >
                  take off
                </button>
              </span>
            )}
          </li>
        ))}
      </ul>
      {edits && (
        <form
          onSubmit={(e) => {
            e.preventDefault()
            if (text.trim() === '') return
            onNote({ text, revision, proven: false, gone: false })
            setText('')
          }}
        >
          <input
            className="small-input wide"
            aria-label="A weak point, a trap, a part that fits"
            placeholder="a weak point, a trap of dismantling, a part that fits"
            maxLength={300}
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
          {sheet.revisions.length > 0 && (
            <select
              className="small-input"
              aria-label="of which revision"
              value={revision}
              onChange={(e) => setRevision(e.target.value)}
            >
              <option value="">of all revisions</option>
              {sheet.revisions.map((r) => (
                <option key={r.name}>{r.name}</option>
              ))}
            </select>
          )}
        </form>
      )}
    </>
  )
}

function Jobs({ jobs }: { jobs: Sheet['jobs'] }) {
  if (jobs.length === 0) return null
  return (
    <>
      <h3>Here before</h3>
      <ul>
        {jobs.map((j) => (
          <li key={j.id}>
            <Link to={`/job/${j.id}`}>
              job {j.number}: {j.title}
            </Link>{' '}
            <span className="quiet">{j.handed_back_at === null ? 'on the shelf' : 'handed back'}</span>
          </li>
        ))}
      </ul>
    </>
  )
}
