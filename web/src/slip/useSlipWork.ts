// What happens on a slip: which line is current, what keys and taps do, what the live instruments have to do with it.
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useEffect, useState, type MouseEvent } from 'react'
import { useNavigate } from 'react-router'
import type { Schemas } from '../api/client'
import { meOptions } from '../api/queries'
import { isStreaming } from '../api/streaming'
import { deskAction, useDesk, useSingleKeys } from '../desk'
import { setByHand, setNames, NO_CHIPS, outbox, useOutgoing, withChip, type ChipState, type Conditions } from '../entry'
import { type Action } from '../keys'
import { useBenchActs, useBenchNow, useLiveBench, useSeat } from '../live'
import { hangsInPath, usePath } from '../path'
import { isRecord, useRecords } from '../records'
import { useStored } from '../store'
import { useJobMutations } from './slipMutations'
import { FILLING } from './sideViews'
import { useBesideSlip } from './useBesideSlip'
import { useLineActs } from './useLineActs'
import { useTableWalk } from './useTableWalk'
import { useSoundTaking } from './useSoundTaking'

type Slip = Schemas['SlipOut']

/** The line that is current, and the way from one to the next. */
function useCurrentLine(slip: Slip, waiting: Set<string | null | undefined>) {
  const [chosen, setChosen] = useState<string | null>(null)
  const open = slip.open_lines.filter((o) => !waiting.has(o.row))
  const next = slip.open_lines.findIndex((o) => o.row === slip.next_row)
  // forwards from what was read last; what waits for the server counts as read
  const ahead = slip.open_lines.slice(Math.max(next, 0)).find((o) => !waiting.has(o.row))
  const current = open.find((o) => o.row === chosen) ?? ahead ?? open[0] ?? null
  const move = (by: number) => {
    if (current === null) return
    const at = open.findIndex((o) => o.row === current.row)
    setChosen(open[(at + by + open.length) % open.length]?.row ?? null)
  }
  return { open, current, move, choose: setChosen }
}

/** The far view comes up with the carrier; what a key chose counts until the carrier changes. */
function useFarView(mine: boolean) {
  const up = useBenchNow((known) => known.live.up)
  const carriers = useBenchNow((known) => known.carriers)
  const [chosen, setChosen] = useState<{ carriers: number; far: boolean } | null>(null)
  const far = chosen?.carriers === carriers ? chosen.far : up && mine
  return { up, far, setFar: (next: boolean) => setChosen({ carriers, far: next }) }
}

/** The chips of a slip as the hand set them. */
function useChips(job: string, item: string | null, current: Schemas['OpenLineOut'] | null) {
  const [chips, setChips] = useStored<ChipState>(`chips:${job}`, NO_CHIPS)
  // a changed condition is an event of the slip: what hangs on it is stale from here on
  const tell = (name: ReturnType<typeof setNames>[number], value: unknown) => {
    if (name === 'covers' || name === 'configuration') outbox.put(changed(name, value, job, item))
  }
  const put = (name: Parameters<typeof withChip>[1], value: unknown) => {
    setChips(withChip(chips, name, value, current))
    tell(name, value)
  }
  const move = (sets: Conditions) => {
    const moved = setNames(sets)
    setChips(moved.reduce((state, name) => withChip(state, name, sets[name], current), chips))
    for (const name of moved) tell(name, sets[name])
  }
  return { conditions: setByHand(chips, current), put, move }
}

/** What happens on a slip. */
export function useSlipWork(slip: Slip, item: string | null) {
  const desk = useDesk()
  const navigate = useNavigate()
  const queries = useQueryClient()
  const refresh = () => void queries.invalidateQueries({ queryKey: ['slip', slip.id] })
  const pending = useOutgoing(slip.id, slip.lines, refresh)
  const { open, current, move, choose } = useCurrentLine(slip, new Set(pending.map((l) => l.row)))
  const chips = useChips(slip.id, item, current)
  const { conditions } = chips
  const { data: me } = useQuery(meOptions)
  const writes = me?.person?.role === 'technician' && slip.handed_back_at === null

  const walk = useTableWalk(slip.id, slip.tables, desk.field)
  const bench = useLiveBench()
  const benchActs = useBenchActs()
  const talks = (bench?.talking ?? 0) > 0
  const mine = bench?.job === slip.id
  const { up, far, setFar } = useFarView(mine && bench?.turn == null)
  const liveRow = useBenchNow(({ live }) => (live.current === null ? undefined : (live.current.row ?? null)))
  const hasLive = mine && liveRow !== undefined && liveRow === (current?.row ?? null)
  const seat =
    writes && slip.item !== null && bench !== undefined
      ? { job: slip.id, item: slip.item, row: current?.row ?? null, conditions, along: walk.along }
      : null
  const sit = useSeat(seat, mine)

  const { acts, takeBack, failed } = useLineActs(['slip', slip.id], desk.field)
  const jobs = useJobMutations(slip.id, item)
  const records = useRecords(slip.id, slip.item, current?.row ?? null, conditions)
  const path = usePath(slip.id)
  const padded = hangsInPath(path.now?.path ?? null, conditions.instrument ?? null)

  useEffect(
    () =>
      outbox.onOutcome(({ line }) => {
        // while events come, the line's own brings the slip: asked twice, all of it would be worked out twice
        if (line.job === slip.id && !isStreaming()) void queries.invalidateQueries({ queryKey: ['slip', slip.id] })
      }),
    [queries, slip.id],
  )

  const side = useBesideSlip(slip, {
    planned: current !== null,
    bench,
    mine,
    newestRecord: records.keep.data?.id ?? null,
  })
  const sound = useSoundTaking(records, writes, current?.quantity ?? null)
  const fill = () => void navigate(`/job/${slip.id}/${FILLING.has(side.shown) ? side.shown : 'trace'}`)
  const take = () => {
    if (side.shown === 'turn' && bench?.turn != null && desk.field.current?.isEmpty() !== false)
      benchActs.leave.mutate(true)
    else if (side.shown === 'sound' && sound.listening && desk.field.current?.isEmpty() !== false) sound.takeWanted()
    else if (desk.field.current?.isEmpty() !== false && talks && writes) benchActs.take.mutate()
    else desk.field.current?.take()
  }
  const onAction = (action: Action): boolean => {
    if (action === 'back') takeBack(pending, slip.lines)
    else if (action === 'next') move(1)
    else if (action === 'previous') move(-1)
    else if (action === 'take') take()
    else if (action === 'key' && writes) benchActs.key.mutate(!up)
    else if (action === 'far') setFar(!far)
    else if (action === 'whole') fill()
    else return deskAction(desk, action)
    return true
  }
  useSingleKeys(onAction)

  const onFiles = (files: File[]) => {
    const kept = files.filter(isRecord)
    if (kept.length > 0) records.keep.mutate(kept)
    for (const file of files.filter((f) => !isRecord(f)))
      jobs.addPicture.mutate({ file, words: file.name.replace(/\.\w+$/, '') })
  }
  const onChip = (name: Parameters<typeof withChip>[1], value: unknown) => {
    if (name === 'pad_db' && padded)
      path.pad.mutate({ instrument: conditions.instrument ?? null, pad_db: Number(value), sure: false })
    else chips.put(name, value)
  }
  // a tap on a button gives the hand back to the field, so that Space never presses it again
  const giveBack = (event: MouseEvent) => {
    if (event.detail > 0 && event.target instanceof Element && event.target.closest('button') !== null)
      setTimeout(() => desk.field.current?.focus(), 0)
  }
  const errors = [failed, benchActs.problem, jobs.problem, records.keep.error, records.take.error, path.problem]
  const problem = errors.find((e) => e !== null && e !== undefined) ?? null
  return {
    desk,
    pending,
    open,
    current,
    choose,
    conditions,
    writes,
    bench,
    talks,
    mine,
    up,
    far,
    setFar,
    hasLive,
    sit,
    acts,
    jobs,
    records,
    path,
    padded,
    side,
    walk,
    onAction,
    onFiles,
    onChip,
    onMove: chips.move,
    onSound: sound.take,
    giveBack,
    problem,
  }
}

/** What one slip works with. */
export type SlipWork = ReturnType<typeof useSlipWork>

const changed = (name: string, value: unknown, job: string, item: string | null) => ({
  id: crypto.randomUUID(),
  text: `changed ${name} ${value === null ? 'as it leaves' : String(value)}`,
  job,
  item,
  row: null,
  model: null,
  conditions: {} as never,
  sense: null,
  as_note: false,
  supersedes: null,
  reason: '',
})
