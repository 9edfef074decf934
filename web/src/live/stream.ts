// The one event stream of this tab: closed while the tab is hidden, taken up where it was when it shows again.
import type { QueryClient } from '@tanstack/react-query'
import type { Schemas } from '../api/client'
import { heardEvent, newestEvent, setStreaming } from '../api/streaming'
import { createStore, createTeller, useStore } from '../store'

type Live = Pick<Schemas['LiveOut'], 'values' | 'up' | 'current'>
interface Captured {
  job: string
  line: string
  name: string
  figure: string
  verdict: Schemas['ReadingOut']['verdict']
}
export interface BenchNow {
  live: Live
  /** How many times the carrier came or went on this page. */
  carriers: number
  keying: Schemas['Keying']
  /** This machine's clock less the server's, in s: a tablet's may be wrong. */
  skew: number
  turn: Schemas['TurnOut'] | null
  say: string
  captured: (Captured & { at: number }) | null
  found: { address: string; words: string }[] | null
  /** What stands beside the carrier, as a receiver that streams hears it; `seen` is this machine's clock, ms. */
  spectrum: (Beside & { seen: number }) | null
}
/** Levels in dB under the whole, evenly spaced over `reach_hz` to either side of the carrier. */
interface Beside {
  carrier_hz: number
  reach_hz: number
  rbw_hz: number
  levels_db: number[]
}

const NOTHING: BenchNow = {
  live: { values: {}, up: false, current: null },
  carriers: 0,
  keying: { word: null, why: '', until: null, then: null, limit: '' },
  skew: 0,
  turn: null,
  say: '',
  captured: null,
  found: null,
  spectrum: null,
}

const now = createStore(NOTHING)
const events = createTeller<{ kind: string; data: unknown }>()
const set = (next: Partial<BenchNow>) => now.set({ ...now.get(), ...next })

const setBy: Partial<Record<keyof BenchNow, string>> = {} // the event that each part of what is known came from

/** Whether an event is later than another; one of another run of the server never is. */
export function isLater(event: string, than: string): boolean {
  const [run, number] = event.split('-')
  const [otherRun, otherNumber] = than.split('-')
  return run === otherRun && Number(number) > Number(otherNumber)
}

/** What the server told when it was asked. An answer that was under way while events came does not undo them. */
export function beginFrom(snapshot: Schemas['LiveOut']) {
  const told: Partial<BenchNow> = {
    live: { values: snapshot.values, up: snapshot.up, current: snapshot.current },
    keying: snapshot.keying,
    skew: Date.now() / 1000 - snapshot.now,
    turn: snapshot.turn,
    say: snapshot.say,
  }
  set(
    Object.fromEntries(
      Object.entries(told).filter(([name]) => !isLater(setBy[name as keyof BenchNow] ?? '', snapshot.event)),
    ),
  )
}

/** What each kind of event changes here; which questions must be asked again is said beneath. */
const CHANGES: Record<string, (data: never) => Partial<BenchNow>> = {
  live: (live: Live) => ({ live }),
  keying: ({ now: at, ...keying }: Schemas['Keying'] & { now: number }) => ({ keying, skew: Date.now() / 1000 - at }),
  turn: (turn: Schemas['TurnOut']) => ({ turn }),
  say: ({ sentence }: { sentence: string }) => ({ say: sentence }),
  captured: (captured: Captured) => ({ captured: { ...captured, at: Date.now() } }),
  carrier: ({ up }: { up: boolean }) => ({
    live: { ...now.get().live, up },
    carriers: now.get().carriers + (up === now.get().live.up ? 0 : 1),
    say: '',
  }),
  spectrum: ({ beside }: { beside: Beside }) => ({ spectrum: { ...beside, seen: Date.now() } }),
  found: ({ addresses }: { addresses: { address: string; words: string }[] }) => ({ found: addresses }),
}
const ASKED_AGAIN: Record<string, (data: never) => readonly (readonly unknown[])[]> = {
  job: ({ job }: { job: string }) => [['slip', job], ['report', job], ['shelf']],
  loose: () => [['loose']],
  seat: () => [['bench']],
  instrument: () => [['instruments'], ['bench']],
  watch: ({ watch }: { watch: string }) => [['watch', watch], ['watches'], ['bench']],
  reset: () => [[]],
}

/** Follow events until the returned function is called. `bench`: live values are looked at here. */
export function follow(queries: QueryClient, bench: boolean): () => void {
  let source: EventSource | null = null
  const heard = (event: MessageEvent<string>) => {
    heardEvent(event.lastEventId)
    const data = JSON.parse(event.data) as never
    const change = CHANGES[event.type]
    if (change !== undefined) {
      const changed = change(data)
      for (const name of Object.keys(changed)) setBy[name as keyof BenchNow] = event.lastEventId
      set(changed)
    }
    for (const queryKey of ASKED_AGAIN[event.type]?.(data) ?? []) void queries.invalidateQueries({ queryKey })
    events.tell({ kind: event.type, data })
  }
  const open = () => {
    if (source !== null || document.visibilityState === 'hidden') return
    source = new EventSource(`/api/events?bench=${bench ? 1 : 0}&after=${newestEvent()}`)
    for (const kind of new Set([...Object.keys(CHANGES), ...Object.keys(ASKED_AGAIN)]))
      source.addEventListener(kind, heard)
    source.onopen = () => setStreaming(true)
    source.onerror = () => {
      setStreaming(false)
      set({ live: NOTHING.live })
      // a refusal ends the source for good; a lost server does not, but its answer may be long in coming
      if (source?.readyState === EventSource.CLOSED) {
        close()
        setTimeout(open, 2_000)
      }
    }
  }
  const close = () => {
    source?.close()
    source = null
  }
  const onVisible = () => (document.visibilityState === 'hidden' ? close() : open())
  document.addEventListener('visibilitychange', onVisible)
  open()
  return () => {
    document.removeEventListener('visibilitychange', onVisible)
    close()
  }
}

/** Hear each event as it comes, for sounds. */
export const onEvent = (tell: (kind: string, data: unknown) => void): (() => void) =>
  events.listen(({ kind, data }) => tell(kind, data))

/** A part of what is known. Who reads it is drawn anew when that part changes, not with every answer of an instrument. */
export const useBenchNow = <T>(part: (known: BenchNow) => T): T => useStore(now, part)
