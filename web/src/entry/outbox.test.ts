import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { Outcome } from './outbox'

const line = (id: string, text = '3.8w') => ({
  id,
  text,
  job: null,
  item: null,
  row: null,
  model: null,
  conditions: {} as never,
  sense: null,
  as_note: false,
  supersedes: null,
  reason: '',
})
const answer = (status: number, body: unknown) =>
  new Response(JSON.stringify(body), { status, headers: { 'Content-Type': 'application/json' } })

async function freshOutbox(fetched: () => Promise<Response>) {
  vi.resetModules()
  vi.stubGlobal('fetch', vi.fn(fetched))
  const module = await import('./outbox')
  const outcomes: Outcome[] = []
  module.outbox.onOutcome((o) => outcomes.push(o))
  return {
    ...module,
    outcomes,
    sent: () => vi.mocked(fetch).mock.calls.length,
    kept: () => Object.keys(localStorage).map((k) => k.replace('outbox:', '')),
  }
}

beforeEach(() => {
  localStorage.clear()
  vi.useFakeTimers()
})

describe('the outbox', () => {
  it('forgets a line only when the server has it', async () => {
    const box = await freshOutbox(() => Promise.resolve(answer(201, { id: 'a' })))
    box.outbox.put(line('a'))
    expect(box.kept()).toEqual(['a'])
    await vi.runAllTimersAsync()
    expect(box.kept()).toEqual([])
    expect(box.outcomes).toMatchObject([{ line: { id: 'a' }, problem: null }])
  })

  it('sends again with the same id after a lost answer, a busy server and a signed-out one, in the order of the hand', async () => {
    const answers = [
      () => Promise.reject(new TypeError('lost')),
      () => Promise.resolve(answer(503, {})),
      () => Promise.resolve(answer(401, {})),
    ]
    const box = await freshOutbox(() => (answers.shift() ?? (() => Promise.resolve(answer(201, {}))))())
    box.outbox.put(line('a'))
    box.outbox.put(line('b'))
    await vi.advanceTimersByTimeAsync(10_000)
    expect(box.outcomes.map((o) => o.line.id)).toEqual(['a', 'b'])
    expect(box.sent()).toBe(5)
  })

  it('gives a refused line back with its sentence and goes on with the next', async () => {
    const answers = [
      answer(422, { code: 'not_understood', detail: '2.1k: deviation, or frequency error?' }),
      answer(201, {}),
    ]
    const box = await freshOutbox(() => Promise.resolve(answers.shift() ?? answer(500, {})))
    box.outbox.put(line('a', '2.1k'))
    box.outbox.put(line('b'))
    const answered = box.outbox.whenAnswered('a')
    await vi.runAllTimersAsync()
    expect(box.outcomes[0]?.problem?.message).toBe('2.1k: deviation, or frequency error?')
    expect([await answered, box.kept()]).toEqual([false, []])
  })

  it('finds what an earlier page left, and survives a spoiled store', async () => {
    localStorage.setItem('outbox:later', JSON.stringify({ ...line('later'), at: '2026-11-25T09:01:00Z' }))
    localStorage.setItem('outbox:left', JSON.stringify({ ...line('left'), at: '2026-11-25T09:00:00Z' }))
    localStorage.setItem('outbox:half', '{half')
    const box = await freshOutbox(() => Promise.resolve(answer(201, {})))
    box.outbox.resume()
    await vi.runAllTimersAsync()
    expect(box.outcomes.map((o) => o.line.id)).toEqual(['left', 'later'])
    expect(box.kept()).toEqual([])
  })
})
