import { fireEvent, render, screen } from '@testing-library/react'
import { describe, expect, it, vi } from 'vitest'
import type { Schemas } from '../api/client'
import { Understood } from './Understood'

type Understanding = Schemas['UnderstoodOut']
const nothing: Understanding = {
  text: '3.8w',
  meanings: [],
  chosen: null,
  story: null,
  question: null,
  as_note: null,
  sets: null,
  choices: [],
  guards: [],
  warning: null,
  answers: null,
}
const reading = (more: object = {}) =>
  ({
    id: null,
    quantity: 'carrier_power',
    name: 'Carrier power',
    figure: '3.80 W ± 0.24',
    measured: {
      value: 3.8,
      uncertainty: 0.24,
      interval: null,
      working: '3.8 W at the meter',
      remarks: ['element not stated: 5 W assumed'],
    },
    verdict: 'pass_close',
    verdict_words: 'Within, only just',
    sentence: 'Within, at most 4 W; the spread reaches over.',
    verdicts: [{ low: 3.6, high: 4, words: 'Carrier: 3.6 W to 4 W', verdict: 'pass_close', reason: null }],
    ...more,
  }) as unknown as Schemas['ReadingOut']
const meaning = (title: string, ...readings: Schemas['ReadingOut'][]) =>
  ({ title, readings, conditions: {} }) as unknown as Schemas['MeaningOut']

function show(understood: Understanding | undefined, more: Partial<Parameters<typeof Understood>[0]> = {}) {
  const acts = { onSense: vi.fn(), onAppend: vi.fn() }
  render(<Understood due={null} understood={understood} sense={null} {...acts} {...more} />)
  return acts
}

describe('what was understood', () => {
  it('shows what is due while nothing is typed', () => {
    show(undefined, { due: '3.8 W' })
    expect(screen.getByText('about 3.8 W')).toBeTruthy()
  })

  it('shows the figure, its spread, its sum, its word and its remarks', () => {
    show({
      ...nothing,
      chosen: 0,
      meanings: [
        meaning('Carrier power', reading(), reading({ quantity: 'mean_power', name: 'Mean power', figure: '1.9 W' })),
      ],
    })
    const shown = screen.getByTestId('understood')
    for (const words of [
      '3.80 W',
      '± 0.24',
      '3.8 W at the meter',
      'Within, only just',
      'the spread reaches over',
      'Mean power 1.9 W',
      '5 W assumed',
    ]) {
      expect(shown.textContent).toContain(words)
    }
    expect(screen.getByRole('img').getAttribute('aria-label')).toBe('3.80 W ± 0.24, Carrier: 3.6 W to 4 W')
  })

  it('asks its one question and offers the senses, none of them taken', () => {
    const acts = show({
      ...nothing,
      question: '3.8: watts, volts, amps, MHz?',
      meanings: [meaning('Carrier power', reading()), meaning('Supply voltage', reading({ figure: '3.8 V' }))],
    })
    expect(screen.getByRole('status').textContent).toBe('3.8: watts, volts, amps, MHz?')
    expect(screen.queryByTestId('understood')).toBeNull()
    fireEvent.click(screen.getByRole('button', { name: 'Supply voltage: 3.8 V' }))
    expect(acts.onSense).toHaveBeenCalledWith(1)
  })

  it('shows the chosen sense instead of the question', () => {
    show({ ...nothing, question: '3.8: watts, volts?', meanings: [meaning('Carrier power', reading())] }, { sense: 0 })
    expect(screen.queryByText('3.8: watts, volts?')).toBeNull()
    expect(screen.getByTestId('understood')).toBeTruthy()
  })

  it('says the guard quietly, and which other open line is answered', () => {
    show({
      ...nothing,
      chosen: 0,
      answers: 'Carrier power, AM · channel 1',
      meanings: [meaning('Carrier power', reading())],
      guards: [{ code: 'ten_decibels', text: 'Ten decibels out?' }],
    })
    expect(screen.getByText('Ten decibels out?').getAttribute('data-guard')).toBe('ten_decibels')
    expect(screen.getByText('answers Carrier power, AM · channel 1')).toBeTruthy()
  })

  it('tells a repair apart, asks why with one tap, and warns before turning', () => {
    const story = {
      kind: 'did',
      words: 'Q9 -> same',
      part_out: 'Q9',
      part_in: 'same',
      reason: null,
      cost: 4.6,
      minutes: 20,
      area: null,
    } as unknown as Schemas['StoryLine']
    const acts = show({ ...nothing, story, warning: 'No fault is found yet.' })
    expect(screen.getByText('out Q9, in same · cost 4.60 · 20 min')).toBeTruthy()
    expect(screen.getByText('No fault is found yet.')).toBeTruthy()
    fireEvent.click(screen.getByRole('button', { name: 'bad' }))
    expect(acts.onAppend).toHaveBeenCalledWith(', bad')
  })

  it('asks first where a repair may end on a figure', () => {
    const story = { kind: 'did', words: 'new plug 1.4' } as unknown as Schemas['StoryLine']
    show({
      ...nothing,
      story,
      question: 'swr 1.4: was that read then?',
      choices: [{ label: 'swr 1.40', sense: 0, sets: null }],
    })
    expect(screen.getByText(/was that read then/)).toBeTruthy()
    expect(screen.queryByText('new plug 1.4')).toBeNull()
  })
})
