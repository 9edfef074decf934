import { fireEvent, screen, waitFor } from '@testing-library/react'
import { expect, it } from 'vitest'
import { renderServed } from '../ui/served.test-help'
import { HandBackPage } from './HandBackPage'

const report = (text: string, edited = false) => ({
  job: 'j',
  number: 3,
  unit: 'Tarnbeck M27',
  serial: 'TB-14',
  owner: 'marshal 14',
  came_in: '2026-11-13T09:00:00Z',
  handed_back: null,
  people: ['Wren'],
  minutes_worked: 42,
  cost: 0,
  sections: [
    {
      id: 'found',
      title: 'What we found',
      sentences: [{ key: 'found-1', text, drafted: 'Dry joint at L14.', edited }],
    },
  ],
  tables: [],
  compared: [
    {
      name: 'Carrier power',
      where: 'AM · channel 19',
      before: null,
      before_verdict: null,
      before_words: '',
      after: '3.80 W ± 0.24',
      after_verdict: 'pass_close',
      after_words: 'Within, only just',
      in_work: null,
      limits: [],
    },
  ],
  parts: [],
  pictures: [],
  sounds: [],
  not_whole: [],
  watch: ['flex L14 first'],
  notice: 'Starting value.',
})
const page = (answers: Record<string, unknown>) => renderServed(<HandBackPage />, answers)

it('keeps an edited sentence, and gives the drafted one back', async () => {
  const { sent } = page({
    'GET /api/jobs//report': report('Dry joint at L14.'),
    'PUT /api/jobs//report/sentence': (body: { text: string | null }) =>
      report(body.text ?? 'Dry joint at L14.', body.text !== null),
  })
  fireEvent.click(await screen.findByRole('button', { name: 'Dry joint at L14.' }))
  const box = screen.getByLabelText('The sentence')
  fireEvent.change(box, { target: { value: 'A joint had cracked.' } })
  fireEvent.keyDown(box, { key: 'Enter' })
  expect(await screen.findByRole('button', { name: 'A joint had cracked.' })).toBeTruthy()
  fireEvent.click(screen.getByRole('button', { name: 'as drafted' }))
  expect(await screen.findByRole('button', { name: 'Dry joint at L14.' })).toBeTruthy()
  expect(sent.filter((s) => s.method === 'PUT').map((s) => s.body)).toEqual([
    { key: 'found-1', text: 'A joint had cracked.' },
    { key: 'found-1', text: null },
  ])
})

it('leaves a sentence as it was on Escape', async () => {
  const { sent } = page({ 'GET /api/jobs//report': report('Dry joint at L14.') })
  fireEvent.click(await screen.findByRole('button', { name: 'Dry joint at L14.' }))
  fireEvent.change(screen.getByLabelText('The sentence'), { target: { value: 'x' } })
  fireEvent.keyDown(screen.getByLabelText('The sentence'), { key: 'Escape' })
  expect(screen.getByRole('button', { name: 'Dry joint at L14.' })).toBeTruthy()
  expect(sent.some((s) => s.method === 'PUT')).toBe(false)
})

it('says not measured where nothing was, and keeps the watch note out of the print', async () => {
  page({ 'GET /api/jobs//report': report('Dry joint at L14.') })
  await waitFor(() => expect(screen.getByRole('row', { name: /Carrier power/ }).textContent).toContain('not measured'))
  expect(screen.getByRole('article').textContent).not.toContain('flex L14 first')
  expect(screen.getByText(/not printed/).parentElement?.textContent).toContain('flex L14 first')
})

it('draws a report that cannot be had as one sentence', async () => {
  page({})
  expect((await screen.findByRole('alert')).textContent).toBe('no such address')
})
