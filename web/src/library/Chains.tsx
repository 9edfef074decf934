// The chains that a unit is traced along: each can be corrected as a copy; one is drawn from its stages where no document tells.
import Button from '@mui/material/Button'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { api, dataOf } from '../api/client'
import { chainOptions, chainsOptions } from '../api/queries'
import { TextEditor } from './TextEditor'

const EXAMPLE =
  'rail Supply 12 V\nkey Key line\nOscillator\nDriver 0.5 W\nFinal 4 W\naudio Microphone amplifier\naudio Modulator'

export function Chains({ writes }: { writes: boolean }) {
  const { data: chains, error } = useQuery(chainsOptions)
  const [open, setOpen] = useState<string | null>(null)
  const [drawing, setDrawing] = useState(false)
  const queries = useQueryClient()
  const forget = useMutation({
    mutationFn: (name: string) => dataOf(api.POST('/api/chains/{name}/forget', { params: { path: { name } } })),
    onSuccess: (rows) => {
      queries.setQueryData(chainsOptions.queryKey, rows)
      void queries.invalidateQueries({ queryKey: ['slip'] })
    },
  })
  return (
    <>
      <h2>
        Chains{' '}
        {writes && !drawing && (
          <button type="button" className="link" onClick={() => setDrawing(true)}>
            Draw one from its stages
          </button>
        )}
      </h2>
      {error !== null && <p role="alert">{error.message}</p>}
      {drawing && <Drawing onDone={() => setDrawing(false)} />}
      {open !== null && <Shipped key={open} id={open} onDone={() => setOpen(null)} />}
      <div className="scroll" tabIndex={0} role="region" aria-label="Chains">
        <table>
          <tbody>
            {chains?.map((c) => (
              <tr key={c.id}>
                <td>{c.title}</td>
                <td>
                  {c.not_understood === '' ? (
                    c.about
                  ) : (
                    <span className="caution">This shop’s text is not understood: {c.not_understood}</span>
                  )}
                </td>
                <td className="quiet">{c.ours ? 'of this shop' : 'as shipped'}</td>
                <td className="quiet">
                  {c.learnt === 0 ? '' : `learnt from ${c.learnt} closed ${c.learnt === 1 ? 'job' : 'jobs'} `}
                  {writes && c.learnt > 0 && (
                    <button
                      type="button"
                      className="link"
                      aria-label={`Forget what ${c.title} learnt`}
                      onClick={() => forget.mutate(c.id)}
                    >
                      Forget
                    </button>
                  )}
                </td>
                <td>
                  {writes && (
                    <button
                      type="button"
                      className="link"
                      aria-label={`${c.ours ? 'Correct' : 'Copy and correct'} ${c.title}`}
                      onClick={() => {
                        setOpen(open === c.id ? null : c.id)
                        window.scrollTo(0, 0)
                      }}
                    >
                      {c.ours ? 'Correct' : 'Copy and correct'}
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  )
}

/** Keeping a chain under a name, and taking it away. */
function useChain(id: string, onDone: () => void) {
  const queries = useQueryClient()
  const onSuccess = () => {
    for (const queryKey of [['chains'], ['chain', id], ['slip']]) void queries.invalidateQueries({ queryKey })
    onDone()
  }
  const params = { path: { name: id } }
  const keep = useMutation({
    mutationFn: (text: string) => dataOf(api.PUT('/api/chains/{name}', { params, body: { text } })),
    onSuccess,
  })
  const withdraw = useMutation({ mutationFn: () => api.POST('/api/chains/{name}/withdraw', { params }), onSuccess })
  return { keep, withdraw, problem: keep.error ?? withdraw.error, busy: keep.isPending || withdraw.isPending }
}

function Shipped({ id, onDone }: { id: string; onDone: () => void }) {
  const query = useQuery(chainOptions(id))
  const { keep, withdraw, problem, busy } = useChain(id, onDone)
  const chain = query.data
  if (chain === undefined)
    return <p role={query.isError ? 'alert' : 'status'}>{query.isError ? query.error.message : 'Opening its text'}</p>
  return (
    <TextEditor
      key={chain.text}
      label="The chain's text"
      rows={{ kind: 'chains', name: id }}
      text={chain.text}
      keepWords="Trace along this from now on"
      withdrawWords={!chain.ours ? null : chain.shipped ? 'Back to the shipped one' : 'Take it away'}
      changed={chain.changed}
      versions={chain.versions}
      problem={problem}
      busy={busy}
      onKeep={(text) => keep.mutate(text)}
      onWithdraw={() => withdraw.mutate()}
      onDone={onDone}
    />
  )
}

function Drawing({ onDone }: { onDone: () => void }) {
  const [title, setTitle] = useState('')
  const [stages, setStages] = useState('')
  const id = `own-${title
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .slice(0, 50)}`
  const draw = useMutation({ mutationFn: () => dataOf(api.POST('/api/drawn-chain', { body: { title, stages } })) })
  const { keep, problem, busy } = useChain(id, onDone)
  if (draw.data !== undefined) {
    return (
      <TextEditor
        label="The chain's text"
        rows={{ kind: 'chains', name: id }}
        text={draw.data.text}
        fresh
        keepWords={`Keep it as ${id}`}
        withdrawWords={null}
        versions={[]}
        problem={problem}
        busy={busy}
        onKeep={(text) => keep.mutate(text)}
        onWithdraw={() => undefined}
        onDone={onDone}
      />
    )
  }
  return (
    <form
      className="profile-text"
      onSubmit={(e) => {
        e.preventDefault()
        draw.mutate()
      }}
    >
      {draw.error !== null && (
        <p className="banner" role="alert">
          {draw.error.message}
        </p>
      )}
      <input
        className="wide-input"
        aria-label="Which unit"
        placeholder="Which unit: home-built 10 metre AM set"
        value={title}
        maxLength={80}
        required
        onChange={(e) => setTitle(e.target.value)}
      />
      <p className="quiet">
        One stage a line, as the signal goes, with its level where it is known. What feeds it begins with rail or key,
        speech with audio.
      </p>
      <textarea
        aria-label="Its stages, one a line"
        rows={9}
        value={stages}
        placeholder={EXAMPLE}
        maxLength={6000}
        required
        onChange={(e) => setStages(e.target.value)}
      />
      <p className="acts">
        <Button type="submit" variant="contained" disabled={draw.isPending}>
          Draw it
        </Button>
        <Button onClick={onDone}>Leave it</Button>
      </p>
    </form>
  )
}
