// Lines that were taken and not yet acknowledged: kept in the browser's own store, sent until the server has them.
// The line's id is made here, so sending one twice does no harm.
import { useEffect, useEffectEvent } from 'react'
import { api, dataOf, Problem, type Schemas } from '../api/client'
import { createStore, createTeller, useStore } from '../store'

/** A line that was taken here, with the time at which it was. */
export type OutgoingLine = Schemas['LineIn'] & { at: string }
/** What became of a line: stored, or refused and back in the field with the sentence. */
export interface Outcome {
  line: OutgoingLine
  problem: Problem | null
}

const KEY = 'outbox:' // one entry a line, so that two tabs never write over each other's
const RETRY_MS = 2_000
interface Outgoing {
  lines: readonly OutgoingLine[]
  acknowledged: readonly OutgoingLine[]
  reached: boolean
}
const outgoing = createStore<Outgoing>({ lines: read(), acknowledged: [], reached: true })
const outcomes = createTeller<Outcome>()
const set = (next: Partial<Outgoing>) => outgoing.set({ ...outgoing.get(), ...next })
let sending = false

function read(): readonly OutgoingLine[] {
  const kept: OutgoingLine[] = []
  for (const key of Object.keys(localStorage).filter((k) => k.startsWith(KEY))) {
    try {
      kept.push(JSON.parse(localStorage.getItem(key) ?? '') as OutgoingLine)
    } catch {
      localStorage.removeItem(key) // half a line cannot be sent
    }
  }
  return kept.sort((a, b) => a.at.localeCompare(b.at))
}

function forget(line: OutgoingLine) {
  localStorage.removeItem(KEY + line.id)
  set({ lines: outgoing.get().lines.filter((l) => l.id !== line.id), reached: true })
}

/** Whether a refusal is final: the server read the line and will not have it. A lost answer or a busy server is not. */
const isFinal = (problem: Problem) =>
  problem.status >= 400 && problem.status < 500 && ![401, 403, 408, 429].includes(problem.status)

async function sendFirst(): Promise<boolean> {
  const line = outgoing.get().lines[0]
  if (line === undefined) return false
  const body: Schemas['LineIn'] = { ...line }
  delete (body as Partial<OutgoingLine>).at // when it was typed is for the screen; the server has its own clock
  try {
    await dataOf(api.POST('/api/lines', { body }))
    set({ acknowledged: [...outgoing.get().acknowledged.slice(-30), line] })
    forget(line)
    outcomes.tell({ line, problem: null })
    return true
  } catch (found) {
    const problem = found instanceof Problem ? found : new Problem(0, 'not_reached', String(found))
    if (!isFinal(problem)) {
      set({ reached: problem.status !== 0 })
      return false
    }
    forget(line)
    outcomes.tell({ line, problem })
    return true
  }
}

async function sendAll() {
  if (sending) return
  sending = true
  try {
    while (await sendFirst());
  } finally {
    sending = false
  }
  if (outgoing.get().lines.length > 0) setTimeout(() => void sendAll(), RETRY_MS)
}

/** Lines on their way to the server. */
export const outbox = {
  /** Keep a line and send it. */
  put(line: Schemas['LineIn']) {
    const kept = { ...line, at: new Date().toISOString() }
    localStorage.setItem(KEY + line.id, JSON.stringify(kept))
    set({ lines: [...outgoing.get().lines, kept] })
    void sendAll()
  },
  /** Resolves when the server has the line (true), or has refused it (false). */
  whenAnswered(id: string): Promise<boolean> {
    if (!outgoing.get().lines.some((l) => l.id === id)) return Promise.resolve(true)
    return new Promise((resolve) => {
      const stop = outcomes.listen(({ line, problem }) => {
        if (line.id !== id) return
        stop()
        resolve(problem === null)
      })
    })
  },
  /** Send what an earlier page left. */
  resume: () => void sendAll(),
  onOutcome: outcomes.listen,
}

/** Lines taken here that a slip does not show yet: unsent ones, and acknowledged ones until the slip was asked again;
 * `ask` is called again and again while the slip lacks one that the server has. */
export function useOutgoing(
  job: string | null,
  shown: readonly { id: string }[] | undefined,
  ask: () => void,
): OutgoingLine[] {
  const waiting = useStore(outgoing, (now) => now.lines)
  const sent = useStore(outgoing, (now) => now.acknowledged)
  const there = new Set(shown?.map((l) => l.id))
  const missing = (all: readonly OutgoingLine[]) => all.filter((l) => (l.job ?? null) === job && !there.has(l.id))
  const lacks = missing(sent).length > 0
  const again = useEffectEvent(ask)
  useEffect(() => {
    if (!lacks) return
    const timer = setInterval(() => again(), RETRY_MS)
    return () => clearInterval(timer)
  }, [lacks])
  return [...missing(sent), ...missing(waiting)]
}
/** Whether the server was reached when it was last tried. */
export const useReached = () => useStore(outgoing, (now) => now.reached)
