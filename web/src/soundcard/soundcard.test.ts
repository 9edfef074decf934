import { expect, test } from 'vitest'
import { amplitudeOf } from './source'
import { clockPpm, fullScaleOf, heldRate, told, voltsOf } from './told'
import { wavBytes } from './wav'

test('the peaks of what is given stand at the level that was chosen', () => {
  expect(amplitudeOf(0, 1)).toBe(1)
  expect(amplitudeOf(-20, 1)).toBeCloseTo(0.1, 12)
  expect(2 * amplitudeOf(-6.0206, 2)).toBeCloseTo(0.5, 5) // two tones share it
  expect(amplitudeOf(-60, 1)).toBe(0) // the lower end is silence
  expect(amplitudeOf(6, 1)).toBe(1)
})

test('a stretch is a whole WAV file of floating point', () => {
  const view = new DataView(wavBytes(new Float32Array([0, 0.5, -1]), 48_000))
  expect(view.byteLength).toBe(44 + 12)
  expect([view.getUint32(4, true), view.getUint32(40, true)]).toEqual([48, 12])
  expect([view.getUint16(20, true), view.getUint32(24, true)]).toEqual([3, 48_000])
  expect([44, 48, 52].map((at) => view.getFloat32(at, true))).toEqual([0, 0.5, -1])
})

test('a known level and a known tone are held, and a clock that cannot be is not', () => {
  const scale = fullScaleOf(-12.5, 0.775)
  expect(voltsOf(-12.5, scale)).toBeCloseTo(0.775, 9)
  expect(voltsOf(-32.5, scale)).toBeCloseTo(0.0775, 9)
  const now = { ...told.get(), rateHz: null }
  // a card that runs 80 ppm fast has more samples a tone: it reads 1 kHz as 999.92 Hz
  const held = heldRate(now, 1000, 1000 / (1 + 80e-6)) ?? 0
  expect(held).toBeCloseTo(48_000 * (1 + 80e-6), 3)
  expect(heldRate({ ...now, rateHz: held }, 1000, 1000)).toBe(held)
  expect(heldRate(now, 1000, 440)).toBeNull()
  expect([clockPpm(now), clockPpm({ ...now, rateHz: held })]).toEqual([100, 12])
})
