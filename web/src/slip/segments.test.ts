import { describe, expect, it } from 'vitest'
import type { Schemas } from '../api/client'
import { segmentsOf, summaryOf } from './segments'
import { newestLine } from './useLineActs'

type Line = Schemas['LineOut']
const line = (id: string, part: string, more: Partial<Line> = {}) =>
  ({ id, part, kind: 'reading', withdrawn: null, readings: [], ...more }) as unknown as Line
const outside = [{ verdict: 'fail' }] as unknown as Line['readings']

describe('the slip in parts', () => {
  it('follows time: going back to Find after Fix is a new piece', () => {
    const parts = segmentsOf([line('1', 'in'), line('2', 'find'), line('3', 'fix'), line('4', 'find')]).map(
      (s) => s.part,
    )
    expect(parts).toEqual(['in', 'find', 'fix', 'find'])
  })
  it('counts what turned up, and nothing that was taken back', () => {
    const [segment] = segmentsOf([
      line('1', 'find', { kind: 'found' }),
      line('2', 'find', { readings: outside }),
      line('3', 'find', { readings: outside, withdrawn: 'misread' }),
    ])
    expect(segment && summaryOf(segment)).toBe('3 lines · 1 found · 1 outside')
  })
  it('takes back the newest line, even one still on its way', () => {
    const lines = [line('1', 'in'), line('2', 'in', { withdrawn: 'retaken' })]
    expect([newestLine([], lines), newestLine([{ id: '9' }], lines), newestLine([], [])]).toEqual(['1', '9', null])
  })
})
