import { expect, test } from 'vitest'
import { amplitudeOf } from './source'
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
