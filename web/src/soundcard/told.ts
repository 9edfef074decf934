// What was told of this browser's sound card, once: its level and its clock against known ones, and what stands beside it.
import { createSettings } from '../store'

/** The rate that is asked for, Hz. */
export const RATE = 48_000
/** How far a clock may be off that nobody held against a known tone, and one that was: the file's rate is whole hertz. */
const UNTOLD_PPM = 100
const HELD_PPM = 12
const FARTHEST_PPM = 2000

export interface Told {
  referenceDb: number | null
  /** RMS volts of a sine that just fills the scale, where a known level said it. */
  fullScaleV: number | null
  /** The clock as a known tone said it, Hz; none: as asked for. */
  rateHz: number | null
  dial: string
  sideband: 'usb' | 'lsb'
  subtone: string
}

export const told = createSettings<Told>('soundcard', (kept) => ({
  referenceDb: null,
  fullScaleV: null,
  rateHz: null,
  dial: '',
  sideband: 'usb',
  subtone: '88.5',
  ...kept,
}))

/** How well the clock is known, ppm. */
export const clockPpm = (now: Told) => (now.rateHz === null ? UNTOLD_PPM : HELD_PPM)

/** The clock's own rate after a tone of `known` Hz was read as `read`; null where no clock can be so far off. */
export function heldRate(now: Told, known: number, read: number): number | null {
  const rate = (now.rateHz ?? RATE) * (known / read)
  return Math.abs(rate / RATE - 1) * 1e6 <= FARTHEST_PPM ? rate : null
}

/** Volts RMS that a level under full scale stands for. */
export const voltsOf = (levelDb: number, fullScaleV: number) => fullScaleV * 10 ** (levelDb / 20)

/** The full scale by a known level in volts. */
export const fullScaleOf = (levelDb: number, knownV: number) => knownV / 10 ** (levelDb / 20)
