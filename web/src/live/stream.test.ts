import { QueryClient } from '@tanstack/react-query'
import { renderHook } from '@testing-library/react'
import { expect, it, vi } from 'vitest'
import type { Schemas } from '../api/client'
import { beginAfter } from '../api/streaming'
import { beginFrom, follow, isLater, useBenchNow } from './stream'

class Source extends EventTarget {
  static last: Source
  static CLOSED = 2
  readyState = 1
  constructor(readonly address: string) {
    super()
    Source.last = this
  }
  close() {}
}

const keying = (word: 'KEY' | 'UNKEY') => ({ word, why: '', until: null, then: null, limit: '' })
const snapshot = (event: string, word: 'KEY' | 'UNKEY') =>
  ({
    event,
    now: 0,
    up: word === 'UNKEY',
    values: {},
    current: null,
    turn: null,
    say: '',
    keying: keying(word),
  }) as unknown as Schemas['LiveOut']
const tell = (kind: string, id: string, data: unknown) =>
  Source.last.dispatchEvent(new MessageEvent(kind, { data: JSON.stringify(data), lastEventId: id }))

it('events are followed from what was asked before them, and later from the last one heard', () => {
  vi.stubGlobal('EventSource', Source)
  beginAfter('a-2')
  follow(new QueryClient(), false)()
  expect(Source.last.address).toMatch(/after=a-2$/)
  const stop = follow(new QueryClient(), false)
  tell('job', 'a-3', { job: 'x' })
  beginAfter('a-1')
  stop()
  follow(new QueryClient(), true)()
  expect(Source.last.address).toMatch(/after=a-3$/)
})

it('an answer that was under way does not undo what events told since', () => {
  vi.stubGlobal('EventSource', Source)
  const stop = follow(new QueryClient(), true)
  const { result, rerender } = renderHook(() => useBenchNow((known) => known))
  beginFrom(snapshot('a-4', 'UNKEY'))
  tell('keying', 'a-6', { ...keying('KEY'), now: 0 })
  tell('carrier', 'a-5', { up: false })
  beginFrom(snapshot('a-4', 'UNKEY')) // asked before the carrier went, answered after
  rerender()
  expect([result.current.keying.word, result.current.live.up]).toEqual(['KEY', false])
  beginFrom(snapshot('a-9', 'UNKEY'))
  rerender()
  expect(result.current.keying.word).toBe('UNKEY')
  tell('keying', 'a-12', { ...keying('KEY'), now: 0 })
  beginFrom(snapshot('b-1', 'UNKEY')) // the server was started again
  rerender()
  expect(result.current.keying.word).toBe('UNKEY')
  stop()
})

it('events of another run of the server are neither later nor earlier', () => {
  expect([
    isLater('a-10', 'a-9'),
    isLater('a-9', 'a-10'),
    isLater('a-9', 'a-9'),
    isLater('b-99', 'a-1'),
    isLater('', 'a-1'),
  ]).toEqual([true, false, false, false, false])
})
