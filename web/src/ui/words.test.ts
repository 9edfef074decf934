import { expect, it } from 'vitest'
import { dayOf } from './words'

it('a day of another year says which', () => {
  const now = new Date('2026-11-26T12:00:00')
  expect([dayOf('2026-11-06', now), dayOf('2027-11-06', now), dayOf('2025-12-26', now)]).toEqual([
    '6 Nov',
    '6 Nov 2027',
    '26 Dec 2025',
  ])
})
