import { cleanup, fireEvent, render, screen } from '@testing-library/react'
import { describe, expect, it, vi } from 'vitest'
import type { Schemas } from '../api/client'
import { SlipLine } from './SlipLine'

type Line = Schemas['LineOut']
const words = (more: Partial<Line> = {}) =>
  ({
    id: 'l1',
    number: 1,
    kind: 'wish',
    part: 'in',
    at: '2026-11-25T09:00:00Z',
    by: 'Wren',
    text: 'wish keep the beep',
    story: { kind: 'wish', words: 'keep the beep' },
    readings: [],
    conditions: null,
    picture: null,
    settled: false,
    withdrawn: null,
    superseded: false,
    ...more,
  }) as unknown as Line
const power = (reading: object = {}, line: Partial<Line> = {}) =>
  words({
    kind: 'reading',
    text: '3.8w',
    story: null,
    conditions: { mode: 'am', channel: 19 } as Line['conditions'],
    readings: [
      {
        quantity: 'carrier_power',
        name: 'Carrier power',
        figure: '3.80 W ± 0.24',
        verdict: 'pass',
        stale: null,
        not_as_left: null,
        measured: { value: 3.8, uncertainty: 0.24, working: '3.8 W at the meter', method: 'wattmeter', remarks: [] },
        verdicts: [
          {
            kind: 'regulation',
            row: 'r',
            profile: 'us',
            version: '1',
            low: null,
            high: 4,
            words: 'Carrier: at most 4 W',
            verdict: 'pass',
            reason: null,
            source: '47 CFR 95.967',
            confidence: 'check',
          },
        ],
        ...reading,
      },
    ] as unknown as Line['readings'],
    ...line,
  })

function show(line: Line) {
  const acts = {
    onWithdraw: vi.fn(),
    onReinstate: vi.fn(),
    onReplace: vi.fn(),
    onSetRight: vi.fn(),
    onTick: vi.fn(),
    onPicture: vi.fn(),
  }
  const { container } = render(
    <ol>
      <SlipLine line={line} acts={acts} />
    </ol>,
  )
  return { acts, item: container.querySelector('li') }
}

describe('a line of the slip', () => {
  it('holds where, figure with spread, sum and word', () => {
    const { item } = show(power())
    for (const part of ['Carrier power', 'AM · ch 19', '3.80 W ± 0.24', '3.8 W at the meter', 'Within'])
      expect(item?.textContent).toContain(part)
  })

  it('unfolds to what was typed, every verdict with its source, and what can be done', () => {
    const line = power()
    const { acts } = show(line)
    fireEvent.click(screen.getByRole('button', { name: /Carrier power/ }))
    expect(screen.getByText(/47 CFR 95.967, us 1, to be checked locally/)).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'misread' }))
    expect(acts.onWithdraw).toHaveBeenCalledWith(line, 'misread')
    fireEvent.click(screen.getByRole('button', { name: 'Replace it' }))
    expect(acts.onReplace).toHaveBeenCalledWith(line)
  })

  it.each([
    [{ stale: 'repair after it: Q9' }, 'counts no more: repair after it: Q9'],
    [{ not_as_left: 'taken with the covers off' }, 'counts no more: taken with the covers off'],
  ])('says when it counts no more', (reading, said) => {
    const { item } = show(power(reading))
    expect(item?.className).toContain('doubtful')
    expect(item?.textContent).toContain(said)
  })

  it('stays, struck through, when it was taken back, and can be put back unless it was replaced', () => {
    const { item, acts } = show(power({}, { withdrawn: 'misread' }))
    expect([item?.className.includes('gone'), item?.textContent?.includes('taken back: misread')]).toEqual([true, true])
    fireEvent.click(screen.getByRole('button', { name: /Carrier power/ }))
    fireEvent.click(screen.getByRole('button', { name: 'Put it back' }))
    expect(acts.onReinstate).toHaveBeenCalled()
    cleanup()
    show(power({}, { withdrawn: 'misread', superseded: true }))
    fireEvent.click(screen.getByRole('button', { name: /Carrier power/ }))
    expect(screen.queryByRole('button', { name: 'Put it back' })).toBeNull()
  })

  it('lets a wish be ticked off', () => {
    const { acts } = show(words())
    fireEvent.click(screen.getByRole('checkbox'))
    expect(acts.onTick).toHaveBeenCalledWith(expect.objectContaining({ id: 'l1' }), true)
  })
})
