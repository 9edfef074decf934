// A job on its slip: what was done, the current line large in its place, what the plan still wants in pale ink.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useRef, useState, type MouseEvent } from 'react'
import { Link, useParams } from 'react-router'
import type { Schemas } from '../api/client'
import { meOptions, slipOptions } from '../api/queries'
import { KeyWord, LiveLine, LiveValues, Taken, useBenchActs, useBenchNow, useLiveBench, useSeat } from '../live'
import { deskAction, useDesk, useSingleKeys } from '../app/desk'
import { keyName, useKeySettings, type Action } from '../keys'
import { ChipRow, conditionsNow, Field, NO_CHIPS, outbox, useOutgoing, useStored, withChip, type ChipState } from '../entry'
import { TraceCard } from '../trace'
import { hangsInPath, PathCard, usePath } from '../path'
import { isRecord, RecordShelf, useRecords } from '../records'
import { PART_NAMES, PARTS } from '../ui/words'
import { BenchSide } from './BenchSide'
import { Pending } from './Pending'
import { segmentsOf, summaryOf, type Segment } from './segments'
import { SlipLine, type LineActs } from './SlipLine'
import { useJobMutations } from './slipMutations'
import { Starts } from './Starts'
import { useLineActs } from './useLineActs'

type Slip = Schemas['SlipOut']
type OpenLine = Schemas['OpenLineOut']

export function SlipPage() {
  const { job = '' } = useParams()
  const [item, setItem] = useState<string | null>(null)
  const query = useQuery(slipOptions(job, item))
  if (query.data === undefined) {
    return query.isError ? <p role="alert" className="page">{query.error.message}</p> : <p role="status" className="page">Unrolling the slip</p>
  }
  return <SlipWork key={job} slip={query.data} item={item} onItem={setItem} late={query.isError ? query.error.message : null} />
}

interface SlipWorkProps {
  slip: Slip
  item: string | null
  onItem: (item: string | null) => void
  late: string | null
}

function SlipWork({ slip, item, onItem, late }: SlipWorkProps) {
  const desk = useDesk()
  const queries = useQueryClient()
  const pending = useOutgoing(slip.id, slip.lines, () => void queries.invalidateQueries({ queryKey: ['slip', slip.id] }))
  const [chips, setChips] = useStored<ChipState>(`chips:${slip.id}`, NO_CHIPS)
  const [chosen, setChosen] = useState<string | null>(null)
  const bench = useLiveBench()
  const up = useBenchNow((known) => known.live.up)
  const carriers = useBenchNow((known) => known.carriers)
  const liveRow = useBenchNow(({ live }) => (live.current === null ? undefined : (live.current.row ?? null)))
  const benchActs = useBenchActs()
  const { data: me } = useQuery(meOptions)
  const writes = me?.person?.role === 'technician' && slip.handed_back_at === null
  // the far view comes up with the carrier; what a key chose counts until the carrier changes
  const [chosenView, setChosenView] = useState<{ carriers: number; far: boolean } | null>(null)
  const far = chosenView?.carriers === carriers ? chosenView.far : up && bench?.job === slip.id
  const setFar = (next: boolean) => setChosenView({ carriers, far: next })
  const keys = useKeySettings().keys
  const [picture, setPicture] = useState<Schemas['LineOut'] | null>(null)
  const { acts, takeBack, failed } = useLineActs(['slip', slip.id], desk.field)
  const jobs = useJobMutations(slip.id, item)
  const here = useRef<HTMLDivElement>(null)
  const picker = useRef<HTMLInputElement>(null)

  const waiting = new Set(pending.map((l) => l.row))
  const open = slip.open_lines.filter((o) => !waiting.has(o.row))
  const current = open.find((o) => o.row === chosen) ?? open[0] ?? null
  const conditions = conditionsNow(chips, current)
  const records = useRecords(slip.id, slip.item, current?.row ?? null, conditions)
  const talks = (bench?.talking ?? 0) > 0
  const mine = bench?.job === slip.id
  const hasLive = mine && liveRow !== undefined && liveRow === (current?.row ?? null)
  const sit = useSeat(writes && slip.item !== null && bench !== undefined ? { job: slip.id, item: slip.item, row: current?.row ?? null, conditions } : null, mine)

  useEffect(
    () =>
      outbox.onOutcome(({ line }) => {
        if (line.job === slip.id) void queries.invalidateQueries({ queryKey: ['slip', slip.id] })
      }),
    [queries, slip.id],
  )
  const count = slip.lines.length + pending.length
  useEffect(() => {
    here.current?.scrollIntoView({ block: 'end' })
  }, [count, current?.row, slip.part, up, hasLive])

  const move = (by: number) => {
    if (current === null) return
    const at = open.findIndex((o) => o.row === current.row)
    setChosen(open[(at + by + open.length) % open.length]?.row ?? null)
  }
  const onAction = (action: Action): boolean => {
    if (action === 'back') takeBack(pending, slip.lines)
    else if (action === 'next') move(1)
    else if (action === 'previous') move(-1)
    else if (action === 'take') {
      if (desk.field.current?.isEmpty() !== false && talks && writes) benchActs.take.mutate()
      else desk.field.current?.take()
    } else if (action === 'key' && writes) benchActs.key.mutate(!up)
    else if (action === 'far') setFar(!far)
    else return deskAction(desk, action)
    return true
  }
  useSingleKeys(onAction)

  const onFiles = (files: File[]) => {
    const kept = files.filter(isRecord)
    if (kept.length > 0) records.keep.mutate(kept)
    for (const file of files.filter((f) => !isRecord(f))) jobs.addPicture.mutate({ file, words: file.name.replace(/\.\w+$/, '') })
  }
  const lineActs: LineActs = { ...acts, onPicture: setPicture }
  const path = usePath(slip.id)
  const padded = hangsInPath(path.now?.path ?? null, conditions.instrument ?? null)
  const onChip = (name: Parameters<typeof withChip>[1], value: unknown) => {
    if (name === 'pad_db' && padded) {
      path.pad.mutate({ instrument: conditions.instrument ?? null, pad_db: Number(value), sure: false })
      return
    }
    setChips(withChip(chips, name, value, current))
    if (name === 'covers' || name === 'configuration') {
      // a changed condition is an event of the slip: what hangs on it is stale from here on
      outbox.put({ id: crypto.randomUUID(), text: `changed ${name} ${value === null ? 'as it leaves' : String(value)}`, job: slip.id, item, row: null, model: null, conditions: {} as never, sense: null, supersedes: null, reason: '' })
    }
  }
  // a tap on a button gives the hand back to the field, so that Space never presses it again
  const giveBack = (event: MouseEvent) => {
    if (event.detail > 0 && event.target instanceof Element && event.target.closest('button') !== null) setTimeout(() => desk.field.current?.focus(), 0)
  }
  const problem = failed ?? benchActs.problem ?? jobs.change.error ?? jobs.changeItem.error ?? jobs.addPicture.error ?? records.keep.error ?? path.problem
  return (
    <div
      className={far ? 'work far' : 'work'}
      onDragOver={(e) => e.preventDefault()}
      onDrop={(e) => {
        e.preventDefault()
        if (writes) onFiles([...e.dataTransfer.files])
      }}
    >
      <section className="left" aria-label="The slip">
        <Head slip={slip} farKey={keyName(keys.far)} onFar={() => setFar(true)} onPart={(part) => jobs.change.mutate({ part })} />
        <div className="roll">
          {slip.locked_because !== '' && <p className="banner danger" role="alert">Not safe to power: {slip.locked_because}</p>}
          {late !== null && <p className="banner" role="status">The slip as it was; {late}</p>}
          {problem !== null && <p className="banner" role="alert">{problem.message}</p>}
          <Roll slip={slip} acts={lineActs} />
          <ol>
            <Pending lines={pending} />
          </ol>
          {slip.handed_back_at === null ? (
            <div className="now" ref={here} onClick={giveBack}>
              {far && (
                <button type="button" className="link near" onClick={() => setFar(false)}>
                  Near again ({keyName(keys.far)})
                </button>
              )}
              {writes && mine && <KeyWord />}
              {writes && talks && !mine && (
                <p className="quiet">
                  The live instruments are on another slip.{' '}
                  <button type="button" className="link" onClick={sit}>
                    Take them here
                  </button>
                </p>
              )}
              <Taken job={slip.id} />
              <CurrentTitle current={current} slip={slip} />
              <Field
                ref={desk.field}
                job={slip.id}
                item={slip.item}
                row={current?.row ?? null}
                conditions={conditions}
                placeholder={current === null ? 'What did you do, see or read?' : 'What did you read?'}
                due={current?.expected ?? null}
                live={hasLive ? <LiveLine row={current?.row ?? null} /> : null}
                onAction={onAction}
                onFile={writes ? () => picker.current?.click() : undefined}
              />
              <ChipRow conditions={conditions} modes={slip.modes} channels={slip.channels} unit={current?.unit ?? null} pathName={!padded ? null : path.now?.name || 'as set up'} onChip={onChip} />
              <Starts part={slip.part} picker={picker} onStart={(words) => desk.field.current?.begin(words)} onFiles={onFiles} />
            </div>
          ) : (
            <div className="now" ref={here}>
              <p>
                Handed back. <Link to={`/job/${slip.id}/hand-back`}>The report</Link>{' '}
                <button type="button" className="link" onClick={() => jobs.handBack.mutate(false)}>
                  Take it onto the bench again
                </button>
              </p>
            </div>
          )}
          <OpenList open={open} current={current} onChoose={setChosen} />
        </div>
        <div className="torn" />
      </section>
      <BenchSide live={talks ? <LiveValues faults={bench?.faults ?? []} talking={bench?.talking ?? 0} /> : null} slip={slip} current={current} item={item} onItem={onItem} onStage={(words) => desk.field.current?.begin(words)} path={<PathCard job={slip.id} />} trace={<TraceCard job={slip.id} item={slip.item} symptom={slip.lines.find((l) => l.story?.kind === 'said')?.story?.words ?? ''} writes={writes} />} records={<RecordShelf job={slip.id} item={slip.item} row={current?.row ?? null} conditions={conditions} writes={writes} newest={records.keep.data?.id ?? null} />} />
      {picture !== null && picture.picture !== null && <LargePicture line={picture} onClose={() => setPicture(null)} />}
    </div>
  )
}

function Head({ slip, farKey, onFar, onPart }: { slip: Slip; farKey: string; onFar: () => void; onPart: (part: string) => void }) {
  const item = slip.items.find((i) => i.id === slip.item)
  return (
    <div className="head">
      <h1>
        {slip.title} <span className="quiet">{slip.owner}</span>
      </h1>
      <p className="facts">
        <span>job {slip.number}</span>
        {item !== undefined && item.serial !== '' && <span>serial {item.serial}</span>}
        {slip.waiting_for !== '' && <span>waits for {slip.waiting_for}</span>}
        <Link to={`/job/${slip.id}/trace`}>Where next</Link>
        <Link to={`/job/${slip.id}/path`}>Path</Link>
        <Link to={`/job/${slip.id}/turn`}>Turn</Link>
        <Link to={`/job/${slip.id}/watch`}>Watch</Link>
        <Link to={`/job/${slip.id}/hand-back`}>Hand back</Link>
        <button type="button" className="link" onClick={onFar}>
          Far view ({farKey})
        </button>
      </p>
      <div className="parts" role="group" aria-label="Parts of the job">
        {PARTS.map((part) => (
          <button key={part} type="button" aria-pressed={slip.part === part} onClick={() => onPart(part)}>
            {PART_NAMES[part]}
            <small>{partNote(slip, part)}</small>
          </button>
        ))}
      </div>
    </div>
  )
}

function partNote(slip: Slip, part: string): string {
  const open = slip.open_by_part[part]
  const minutes = slip.minutes[part]
  const notes = [open === undefined ? null : open === 0 ? 'all read' : `${open} open`, minutes === undefined ? null : `${minutes} min`]
  return notes.filter((n) => n !== null).join(' · ') || '\u00a0'
}

function Roll({ slip, acts }: { slip: Slip; acts: LineActs }) {
  const [toggled, setToggled] = useState<Record<string, boolean>>({})
  const segments = segmentsOf(slip.lines)
  const folded = useCallback(
    (segment: Segment, n: number) => toggled[segment.key] ?? (n < segments.length - 1 && segment.part !== slip.part && slip.lines.length > 8),
    [toggled, segments.length, slip.part, slip.lines.length],
  )
  return segments.map((segment, n) => (
    <section key={segment.key} aria-label={PART_NAMES[segment.part]}>
      <button type="button" className="plain segment" aria-expanded={!folded(segment, n)} onClick={() => setToggled({ ...toggled, [segment.key]: !folded(segment, n) })}>
        {PART_NAMES[segment.part]} <span>{summaryOf(segment)}</span>
      </button>
      {!folded(segment, n) && (
        <ol>
          {segment.lines.map((line) => (
            <SlipLine key={line.id} line={line} acts={acts} />
          ))}
        </ol>
      )}
    </section>
  ))
}

function CurrentTitle({ current, slip }: { current: OpenLine | null; slip: Slip }) {
  if (current === null) {
    return (
      <p className="title">
        <b>{slip.part === 'fix' ? 'Repair' : slip.next_step || 'Next'}</b>
        {slip.warning !== null && slip.part === 'fix' && <span className="ask">{slip.warning}</span>}
      </p>
    )
  }
  return (
    <>
      <p className="title">
        <b>{current.name}</b> <span className="ask">{current.where}</span>
      </p>
      <p className="ask">
        {current.ask}
        {current.why !== null && <span className="stale"> · wanted again: {current.why}</span>}
      </p>
    </>
  )
}

function OpenList({ open, current, onChoose }: { open: OpenLine[]; current: OpenLine | null; onChoose: (row: string) => void }) {
  const others = open.filter((o) => o.row !== current?.row)
  if (others.length === 0) return null
  return (
    <ol className="open" aria-label="Still open">
      {others.map((o) => (
        <li key={o.row}>
          <button type="button" className="plain" onClick={() => onChoose(o.row)}>
            <span />
            <span>
              {o.name} <small>{o.where || o.ask}</small>
              {o.why !== null && <small className="stale"> · {o.why}</small>}
            </span>
            <span className="due">{o.expected !== null ? `about ${o.expected}` : ''}</span>
          </button>
        </li>
      ))}
    </ol>
  )
}

function LargePicture({ line, onClose }: { line: Schemas['LineOut']; onClose: () => void }) {
  useEffect(() => {
    const listen = (event: KeyboardEvent) => {
      if (event.key === 'Escape') onClose()
    }
    window.addEventListener('keydown', listen)
    return () => window.removeEventListener('keydown', listen)
  }, [onClose])
  return (
    <div role="dialog" aria-label={line.text} aria-modal="true" className="large-picture">
      <button type="button" className="plain" autoFocus onClick={onClose} aria-label="Close the picture">
        <img src={`/api/pictures/${line.picture?.sha256 ?? ''}`} alt={line.text} />
        <p>{line.text} · tap to close</p>
      </button>
    </div>
  )
}
