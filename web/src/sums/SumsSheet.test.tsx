import { fireEvent, screen, waitFor } from '@testing-library/react'
import { beforeEach, expect, it, vi } from 'vitest'
import { renderServed } from '../ui/served.test-help'
import { SumsSheet } from './SumsSheet'

beforeEach(() => localStorage.clear())

const answers = {
  'GET /api/library/sums': [
    { id: 'dbm', title: 'dBm to watts', fields: [{ name: 'Level', unit: 'dBm', start: 36 }] },
    {
      id: 'swr',
      title: 'Forward and reflected to SWR',
      fields: [
        { name: 'Forward', unit: 'W', start: 3.8 },
        { name: 'Reflected', unit: 'W', start: 0.3 },
      ],
    },
  ],
  'POST /api/library/sums/dbm': {
    lines: [{ name: 'Power', figure: '3.981 W', working: '1 mW × 10^(36/10) = 3.981 W', field_text: '3.981w' }],
    refused: null,
  },
  'POST /api/library/sums/swr': {
    lines: [],
    refused: 'reflected power is 12 W; expected 0 to 10 W; is the sensor reversed?',
  },
}

it('works a sum out as it opens and hands it to the field', async () => {
  const onUse = vi.fn()
  renderServed(<SumsSheet onUse={onUse} />, answers)
  expect(await screen.findByText('1 mW × 10^(36/10) = 3.981 W')).toBeTruthy()
  fireEvent.click(screen.getByRole('button', { name: 'Into the field' }))
  expect(onUse).toHaveBeenCalledWith('3.981w')
})

it('sends decimal commas and the real minus as figures, and asks for a plain figure instead of guessing', async () => {
  const { sent } = renderServed(<SumsSheet onUse={vi.fn()} />, answers)
  const level = await screen.findByLabelText('Level, dBm')
  fireEvent.change(level, { target: { value: '−3,5' } })
  await waitFor(() => expect(sent.at(-1)?.body).toEqual({ values: [-3.5] }))
  const before = sent.length
  fireEvent.change(level, { target: { value: 'three' } })
  expect(screen.getByText('A plain figure in each place, please.')).toBeTruthy()
  expect(screen.queryByText('3.981 W')).toBeNull() // what was worked out of other figures is no answer to these
  expect(sent.length).toBe(before)
})

it('shows a refusal in its own words and remembers the sum that was open', async () => {
  const first = renderServed(<SumsSheet onUse={vi.fn()} />, answers)
  fireEvent.click(await screen.findByRole('button', { name: 'Forward and reflected to SWR' }))
  expect((await screen.findByText(/is the sensor reversed/)).getAttribute('role')).toBe('status')
  first.unmount()
  renderServed(<SumsSheet onUse={vi.fn()} />, answers)
  expect(
    (await screen.findByRole('button', { name: 'Forward and reflected to SWR' })).getAttribute('aria-pressed'),
  ).toBe('true')
})
