// Channel plans, instrument definitions and words: what ships, this shop's copies of it, and what the shop wrote itself; each as its text.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { api, dataOf } from '../api/client'
import { tableOptions, textOptions, textsOptions, type TextKind } from '../api/queries'
import { TextEditor } from './TextEditor'

interface OwnTextsProps {
  writes: boolean
}

/** The room of channel plans: a list, the channels of one, its text one tap away. */
export function Channels({ writes }: OwnTextsProps) {
  return (
    <TextRoom
      kind="channels"
      title="Channels"
      another="a new plan, from this one"
      keepWords="Count by this from now on"
      writes={writes}
      Shown={PlanTable}
    />
  )
}

/** The room of instrument definitions: which question gives which value, one text an instrument that talks. */
export function Definitions({ writes, of }: OwnTextsProps & { of: string | null }) {
  return (
    <TextRoom
      kind="definitions"
      title="How instruments are asked"
      another="a new one, from this one"
      keepWords="Ask by this from now on"
      writes={writes}
      Shown={DefinitionText}
      of={of}
    />
  )
}

interface TextRoomProps extends OwnTextsProps {
  kind: 'channels' | 'definitions'
  title: string
  another: string
  keepWords: string
  Shown: (props: { id: string }) => ReactNode
  /** Which one is shown at first. */
  of?: string | null
}

function TextRoom({ kind, title, another, keepWords, writes, Shown, of = null }: TextRoomProps) {
  const { data: plans, error } = useQuery(textsOptions(kind))
  const [chosen, setChosen] = useState<string | null>(of)
  const [editing, setEditing] = useState<string | null>(null)
  const [find, setFind] = useState('')
  const found = plans?.filter((p) => `${p.title} ${p.id}`.toLowerCase().includes(find.trim().toLowerCase())) ?? []
  const shown = found.find((p) => p.id === chosen) ?? found[0]
  return (
    <div className="room">
      <div>
        <input
          className="small-input"
          type="search"
          aria-label={`Find in ${title.toLowerCase()}`}
          placeholder={`find in ${title.toLowerCase()}`}
          value={find}
          onChange={(e) => setFind(e.target.value)}
        />
        {error !== null && <p role="alert">{error.message}</p>}
        <ul className="room-list" aria-label={title}>
          {found.map((p) => (
            <li key={p.id}>
              <button
                type="button"
                className="plain"
                aria-pressed={p.id === shown?.id}
                onClick={() => {
                  setChosen(p.id)
                  setEditing(null)
                }}
              >
                {p.title} <small className="quiet">{p.ours ? 'of this shop' : 'as shipped'}</small>
              </button>
            </li>
          ))}
        </ul>
        {plans !== undefined && found.length === 0 && <p className="quiet">Nothing here goes by that.</p>}
        {writes && <NewText another={another} onNamed={setEditing} />}
      </div>
      <div>
        {editing !== null && (
          <Edited
            key={editing}
            kind={kind}
            name={editing}
            from={plans?.some((p) => p.id === editing) ? editing : (shown?.id ?? editing)}
            keepWords={keepWords}
            onDone={() => {
              setChosen(editing)
              setEditing(null)
            }}
          />
        )}
        {editing === null && shown !== undefined && (
          <>
            <h2>
              {shown.title}{' '}
              {writes && (
                <button type="button" className="link" onClick={() => setEditing(shown.id)}>
                  {shown.ours ? 'Correct' : 'Copy and correct'}
                </button>
              )}
            </h2>
            {shown.changed && <p className="caution">What ships in its place has changed since this copy was made.</p>}
            {shown.not_understood !== '' && (
              <p className="caution">This shop’s copy is not understood: {shown.not_understood}</p>
            )}
            <Shown key={shown.id} id={shown.id} />
          </>
        )}
      </div>
    </div>
  )
}

/** The room of the shop's own words: what it says, and which word of the program that stands for. */
export function Words({ writes }: OwnTextsProps) {
  return (
    <>
      <h2>Words of this shop</h2>
      <p className="quiet">
        What hands here say for a quantity, a place or a state, and the word of the program that it stands for: the
        field then reads <b>wobble 40hz</b> as <b>drift 40hz</b>. A word that the program knows stays what it is.
      </p>
      {writes ? (
        <Edited kind="words" name="words" from="words" keepWords="Read these from now on" onDone={() => undefined} />
      ) : (
        <p className="quiet">A technician writes them down here.</p>
      )}
    </>
  )
}

function NewText({ another, onNamed }: { another: string; onNamed: (name: string) => void }) {
  const [name, setName] = useState('')
  const id = name
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
  return (
    <form
      className="acts"
      onSubmit={(e) => {
        e.preventDefault()
        if (id !== '') onNamed(id)
      }}
    >
      <input
        className="small-input"
        aria-label={`Name of ${another.split(',')[0] ?? another}`}
        placeholder={another}
        maxLength={50}
        value={name}
        onChange={(e) => setName(e.target.value)}
      />
      <button type="submit" className="link" disabled={id === ''}>
        Write it
      </button>
    </form>
  )
}

function DefinitionText({ id }: { id: string }) {
  const { data: of } = useQuery(textOptions('definitions', id))
  return (
    <pre className="scroll" tabIndex={0} role="region" aria-label="Its text">
      {of?.text}
    </pre>
  )
}

function PlanTable({ id }: { id: string }) {
  const { data: plan } = useQuery(tableOptions(id, '', ''))
  return (
    <div className="scroll" tabIndex={0} role="region" aria-label="Channels of the plan">
      <p className="quiet">{plan?.source}</p>
      <table>
        <tbody>
          {plan?.rows.map((row, r) => (
            <tr key={r}>
              {row.cells.map((cell, n) => (
                <td key={n}>{cell}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

interface EditedProps {
  kind: TextKind
  name: string
  /** Whose text a new one begins with. */
  from: string
  keepWords: string
  onDone: () => void
}

function Edited({ kind, name, from, keepWords, onDone }: EditedProps) {
  const queries = useQueryClient()
  const query = useQuery(textOptions(kind, from))
  const params = { path: { kind, name } }
  const onSuccess = () => {
    for (const queryKey of [['texts'], ['reference'], ['understand'], ['slip'], ['library']])
      void queries.invalidateQueries({ queryKey })
    onDone()
  }
  const keep = useMutation({
    mutationFn: (text: string) => dataOf(api.PUT('/api/library/texts/{kind}/{name}', { params, body: { text } })),
    onSuccess,
  })
  const withdraw = useMutation({
    mutationFn: () => dataOf(api.POST('/api/library/texts/{kind}/{name}/withdraw', { params })),
    onSuccess,
  })
  const text = query.data
  if (text === undefined)
    return <p role={query.isError ? 'alert' : 'status'}>{query.isError ? query.error.message : 'Opening its text'}</p>
  const isNew = from !== name
  return (
    <TextEditor
      key={text.text}
      label="Its text"
      {...(kind === 'channels' ? { rows: { kind, name } } : {})}
      text={text.text}
      fresh={isNew}
      keepWords={keepWords}
      withdrawWords={isNew || !text.ours ? null : text.shipped ? 'Back to the shipped one' : 'Take it away'}
      changed={isNew ? '' : text.changed}
      versions={isNew ? [] : text.versions}
      problem={keep.error ?? withdraw.error}
      busy={keep.isPending || withdraw.isPending}
      onKeep={(typed) => keep.mutate(typed)}
      onWithdraw={() => withdraw.mutate()}
      onDone={onDone}
    />
  )
}
