import { describe, expect, it } from 'vitest'
import { domainOf, placeOf } from './scale'

const marks = { low: 3.6, high: 4, value: 3.8, below: 0.24, above: 0.24 }

describe('the limit bar', () => {
  it('shows limits, value and spread with room at both ends', () => {
    const [least, most] = domainOf([marks])
    expect(least).toBeLessThan(3.56)
    expect(most).toBeGreaterThan(4.04)
  })
  it('keeps the order of figures and stays on the bar', () => {
    const domain = domainOf([marks])
    const places = [3.6, 3.8, 4].map((f) => placeOf(f, domain))
    expect(places).toEqual([...places].sort((a, b) => a - b))
    expect([placeOf(-1e9, domain), placeOf(1e9, domain)]).toEqual([0, 100])
  })
  it('has a stretch even for a single figure, zero or nothing', () => {
    for (const value of [0, -62, null]) {
      const [least, most] = domainOf([{ low: null, high: null, value, below: 0, above: 0 }])
      expect(most).toBeGreaterThan(least)
    }
  })
})
