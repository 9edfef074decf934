// The bench before there is a job: the field and the loose slip; what came in; what to do next.
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { api, dataOf, type Schemas } from '../api/client'
import { libraryOptions, looseOptions, shelfOptions } from '../api/queries'
import { deskAction, useDesk, useSingleKeys } from '../desk'
import type { Action } from '../keys'
import { ChipRow, setByHand, setNames, Field, NO_CHIPS, outbox, useOutgoing, withChip, type ChipState } from '../entry'
import { useStored } from '../store'
import { JobList } from '../shelf'
import { Pending, SlipLine, useLineActs } from '../slip'
import { useKeptInView } from '../ui/useKeptInView'
import { GearOptions } from '../ui/GearOptions'

const TRY = ['3.8w', 'swr 3.8/0.3', '-6dbm +20db +20db', '27.18498M', 'mod 2.1/0.15', '3.4..3.9w']

/** The first screen: a figure before there is a job, and what to do next. */
export function BenchPage() {
  const desk = useDesk()
  const queries = useQueryClient()
  const { data: lines } = useQuery(looseOptions)
  const { data: shelf } = useQuery(shelfOptions(''))
  const pending = useOutgoing(null, lines, () => void queries.invalidateQueries({ queryKey: looseOptions.queryKey }))
  const [chips, setChips] = useStored<ChipState>('chips:loose', NO_CHIPS)
  const [pinning, setPinning] = useState<Schemas['LineOut'] | null>(null)
  const { acts, takeBack, failed } = useLineActs(looseOptions.queryKey, desk.field)
  const here = useRef<HTMLDivElement>(null)
  const conditions = setByHand(chips, null)
  const { data: library } = useQuery(libraryOptions)
  const [modelId, setModelId] = useStored('loose-model', '')
  const model = library?.models.find((m) => m.id === modelId)
  const standing = lines ?? []

  useEffect(
    () =>
      outbox.onOutcome(({ line }) => {
        if ((line.job ?? null) === null) void queries.invalidateQueries({ queryKey: looseOptions.queryKey })
      }),
    [queries],
  )
  useEffect(() => {
    here.current?.scrollIntoView({ block: 'end' })
  }, [standing.length, pending.length])
  useKeptInView(here)

  const onAction = (action: Action): boolean => {
    if (action === 'back') takeBack(pending, standing)
    else if (action === 'take') desk.field.current?.take()
    else return deskAction(desk, action)
    return true
  }
  useSingleKeys(onAction)
  const lineActs = { ...acts, onPicture: () => undefined, onPin: setPinning }
  return (
    <div className="work">
      <section className="left" aria-label="The loose slip">
        <div className="head">
          <h1>Loose slip</h1>
          <p className="facts">
            <span>No job needed. Type a figure; pin it to a job later.</span>
            <label className="judge">
              judge it as{' '}
              <select value={modelId} onChange={(e) => setModelId(e.target.value)}>
                <option value="">nothing yet</option>
                <GearOptions gear={library?.models ?? []} />
              </select>
            </label>
          </p>
        </div>
        <div className="roll">
          {failed !== null && (
            <p className="banner" role="alert">
              {failed.message}
            </p>
          )}
          <ol aria-busy={lines === undefined}>
            {standing.map((line) => (
              <SlipLine key={line.id} line={line} acts={lineActs} />
            ))}
            <Pending lines={pending} />
          </ol>
          <div className="now" ref={here}>
            <p className="title">
              <b>What did you read?</b>
            </p>
            <Field
              ref={desk.field}
              job={null}
              item={null}
              row={null}
              model={model?.id ?? null}
              conditions={conditions}
              placeholder="3.8w"
              onAction={onAction}
              onMove={(sets) =>
                setChips(setNames(sets).reduce((state, name) => withChip(state, name, sets[name], null), chips))
              }
            />
            <ChipRow
              conditions={conditions}
              modes={model?.modes ?? []}
              channels={model?.channels ?? []}
              unit={null}
              onChip={(name, value) => setChips(withChip(chips, name, value, null))}
            />
            {standing.length < 4 && (
              <div className="starts">
                <span className="quiet">For example:</span>
                {TRY.map((text) => (
                  <button key={text} type="button" className="link" onClick={() => desk.field.current?.begin(text)}>
                    {text}
                  </button>
                ))}
              </div>
            )}
          </div>
        </div>
        <div className="torn" />
      </section>
      <aside className="side" aria-label="What to do next">
        <CheckIn />
        <section className="card">
          <h2>On the bench, and what to do next</h2>
          <JobList
            jobs={shelf?.on_the_bench.slice(0, 7) ?? []}
            empty="Nothing is open. Check a unit in above, with one line."
          />
        </section>
      </aside>
      <PinMenu line={pinning} jobs={shelf?.on_the_bench ?? []} onDone={() => setPinning(null)} />
    </div>
  )
}

function CheckIn() {
  const navigate = useNavigate()
  const queries = useQueryClient()
  const [words, setWords] = useStored('draft:check-in', '')
  const made = useMutation({
    mutationFn: () => dataOf(api.POST('/api/jobs', { body: { id: crypto.randomUUID(), words } })),
    onSuccess: (slip) => {
      setWords('')
      void queries.invalidateQueries({ queryKey: ['shelf'] })
      void navigate(`/job/${slip.id}`)
    },
  })
  return (
    <section className="card">
      <h2>What came in?</h2>
      <form
        onSubmit={(e) => {
          e.preventDefault()
          if (words.trim() !== '' && !made.isPending) made.mutate()
        }}
      >
        <input
          className="wide-input"
          aria-label="What came in?"
          placeholder="Tarnbeck M27, marshal 8: no output"
          value={words}
          maxLength={1000}
          onChange={(e) => setWords(e.target.value)}
        />
      </form>
      <p className="quiet">Unit, owner: complaint. One line opens its slip; the rest can come later.</p>
      {made.error !== null && <p role="alert">{made.error.message}</p>}
    </section>
  )
}

function PinMenu({
  line,
  jobs,
  onDone,
}: {
  line: Schemas['LineOut'] | null
  jobs: Schemas['JobRow'][]
  onDone: () => void
}) {
  const queries = useQueryClient()
  const pin = useMutation({
    mutationFn: (job: string) =>
      dataOf(
        api.POST('/api/jobs/{job_id}/pin', {
          params: { path: { job_id: job } },
          body: { lines: line === null ? [] : [line.id] },
        }),
      ),
    onSettled: () => {
      void queries.invalidateQueries({ queryKey: looseOptions.queryKey })
      void queries.invalidateQueries({ queryKey: ['slip'] })
      onDone()
    },
  })
  return (
    <Menu
      open={line !== null}
      onClose={onDone}
      anchorReference="anchorPosition"
      anchorPosition={{ top: 120, left: 320 }}
    >
      {jobs.length === 0 && <MenuItem disabled>No job is open: check one in first</MenuItem>}
      {jobs.map((job) => (
        <MenuItem key={job.id} onClick={() => pin.mutate(job.id)}>
          {job.title}, {job.owner}
        </MenuItem>
      ))}
    </Menu>
  )
}
