// The live bench for a page: where it stands, and what can be done at it.
import { useMutation, useQuery, useQueryClient, type QueryClient } from '@tanstack/react-query'
import { useCallback, useEffect, useLayoutEffect, useRef, useState } from 'react'
import { useLocation } from 'react-router'
import { api, dataOf, type Schemas } from '../api/client'
import { benchOptions } from '../api/queries'
import type { Conditions } from '../entry'
import { allowSound, play } from './sounds'
import { beginFrom, follow, isLater, onEvent } from './stream'

const SHOWS_LIVE = /^\/(job\/[^/]+(\/turn|\/watch)?|instruments)$/

/** Follow events for as long as somebody is signed in, and let the sounds be heard. */
export function useEvents() {
  const queries = useQueryClient()
  const { pathname } = useLocation()
  const bench = SHOWS_LIVE.test(pathname)
  useEffect(() => follow(queries, bench), [queries, bench])
  useEffect(() => {
    let word: string | null = null
    const stop = onEvent((kind, data) => {
      if (kind === 'captured') play('captured')
      else if (kind === 'watch' && (data as { drops?: number }).drops) play('drop')
      else if (kind === 'keying') {
        const next = (data as Schemas['Keying']).word ?? null
        if (next === 'UNKEY' && word !== 'UNKEY') play('unkey')
        if (next === 'KEY' && word === 'COOL') play('cool')
        else if (next === 'KEY' && word !== 'KEY') play('key')
        word = next
      }
    })
    window.addEventListener('pointerdown', allowSound)
    window.addEventListener('keydown', allowSound)
    return () => {
      stop()
      window.removeEventListener('pointerdown', allowSound)
      window.removeEventListener('keydown', allowSound)
    }
  }, [])
}

/** Where the live bench stands; begins from a snapshot, then events go on. */
export function useLiveBench() {
  const query = useQuery(benchOptions)
  const snapshot = query.data
  useEffect(() => {
    if (snapshot !== undefined) beginFrom(snapshot)
  }, [snapshot])
  return snapshot
}

let seating: Promise<unknown> = Promise.resolve() // what is taken is of the line that was told last

const keepNewer = (queries: QueryClient, snapshot: Schemas['LiveOut']) =>
  queries.setQueryData(benchOptions.queryKey, (kept: Schemas['LiveOut'] | undefined) =>
    kept !== undefined && isLater(kept.event, snapshot.event) ? kept : snapshot,
  )

/** Sit down with a slip when it is opened, and follow its current line and chips while the instruments are its own: what is
 *  captured goes onto it. Another slip that took them keeps them until a hand takes them back. */
export function useSeat(
  seat: { job: string; item: string | null; row: string | null; conditions: Conditions; along?: string[] } | null,
  mine: boolean,
) {
  const queries = useQueryClient()
  const { mutateAsync } = useMutation({
    mutationFn: (body: Schemas['SeatIn']) => dataOf(api.POST('/api/bench/seat', { body })),
    onSuccess: (snapshot) => keepNewer(queries, snapshot),
    retry: 5, // a seat that is not told leaves the instruments looking for the line before
    scope: { id: 'seat' }, // in order: the last one told is where the bench sits
  })
  const tell = useCallback(
    (body: Schemas['SeatIn']) => {
      seating = mutateAsync(body).catch(() => undefined)
    },
    [mutateAsync],
  )
  const wanted = seat === null ? null : JSON.stringify(seat)
  const job = seat?.job ?? null
  const satWith = useRef<string | null>(null)
  // before anybody can see the line that is current now: a hand that presses Space then takes for that one
  useLayoutEffect(() => {
    if (wanted === null || (satWith.current === job && !mine)) return
    const follows = satWith.current === job
    satWith.current = job
    tell({ ...(JSON.parse(wanted) as Schemas['SeatIn']), follows })
  }, [wanted, job, mine, tell])
  return () => {
    if (wanted !== null) tell(JSON.parse(wanted) as Schemas['SeatIn'])
  }
}

/** What a hand may do at the live bench. */
export function useBenchActs() {
  const queries = useQueryClient()
  const onSuccess = (snapshot: Schemas['LiveOut']) => keepNewer(queries, snapshot)
  const take = useMutation({
    mutationFn: async () => {
      await seating
      return dataOf(api.POST('/api/bench/take', { body: { id: crypto.randomUUID() } }))
    },
  })
  const key = useMutation({
    mutationFn: (keyed: boolean) => dataOf(api.POST('/api/bench/key', { body: { keyed } })),
    onSuccess,
  })
  const turn = useMutation({
    mutationFn: (body: Schemas['TurnIn']) => dataOf(api.POST('/api/bench/turn', { body })),
    onSuccess,
  })
  const leave = useMutation({
    mutationFn: (keep: boolean) =>
      dataOf(api.POST('/api/bench/turn/leave', { body: { id: crypto.randomUUID(), keep } })),
    onSuccess,
  })
  return { take, key, turn, leave, problem: take.error ?? key.error ?? turn.error ?? leave.error }
}

/** The time, ticking while something counts down. */
export function useSeconds(counting: boolean): number {
  const [now, setNow] = useState(() => Date.now() / 1000)
  useEffect(() => {
    if (!counting) return
    const timer = setInterval(() => setNow(Date.now() / 1000), 200)
    return () => clearInterval(timer)
  }, [counting])
  return now
}
