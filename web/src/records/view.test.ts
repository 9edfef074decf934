import { expect, it } from 'vitest'
import { panned, zoomed } from './view'

it('zooms about the place under the pointer, and never beyond the whole', () => {
  expect(zoomed([0, 100], [0, 100], 0.5, 25)).toEqual([12.5, 62.5])
  expect(zoomed([12.5, 62.5], [0, 100], 2, 25)).toEqual([0, 100])
  expect(zoomed([90, 100], [0, 100], 2, 100)).toEqual([80, 100])
  const [from, to] = zoomed([50, 50.001], [0, 100], 0.1, 50)
  expect(to - from).toBeCloseTo(0.01)
})

it('pans by a share of what is seen and stops at the ends', () => {
  expect(panned([40, 60], [0, 100], 0.5)).toEqual([50, 70])
  expect(panned([90, 100], [0, 100], 1)).toEqual([90, 100])
  expect(panned([2, 22], [0, 100], -0.5)).toEqual([0, 20])
})
