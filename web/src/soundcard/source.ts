// The computer's own sound output as a source: silent until a hand asks, and silent again as soon as nobody looks.
import { createStore, useStore } from '../store'

/** What it can give: one tone or two, a sweep, a subtone. */
export const TONES = {
  '1 kHz': [1000],
  '400 Hz': [400],
  'two tones': [700, 1900],
  sweep: [300, 3000],
} as const
export type Tone = keyof typeof TONES | number

const SWEEP_S = 10 // once up
const LEAST_DB = -60
const source = createStore<{ tone: Tone; levelDb: number; sounds: boolean }>({
  tone: '1 kHz',
  levelDb: -20,
  sounds: false,
})

let context: AudioContext | null = null
let gain: GainNode | null = null

export const useSource = () => useStore(source, (now) => now)

/** The amplitude of each of so many tones whose peaks together stand so many decibels below full scale. */
export const amplitudeOf = (levelDb: number, tones: number) =>
  levelDb <= LEAST_DB ? 0 : 10 ** (Math.min(levelDb, 0) / 20) / tones

/** Choose what it gives; what sounds goes on with it. */
export function chooseTone(tone: Tone) {
  source.set({ ...source.get(), tone })
  if (source.get().sounds) begin()
}

/** The level of its peaks in dB under full scale. */
export function chooseLevel(levelDb: number) {
  source.set({ ...source.get(), levelDb })
  if (gain !== null && context !== null)
    gain.gain.setTargetAtTime(amplitudeOf(levelDb, countOf(source.get().tone)), context.currentTime, 0.01)
}

/** Sound, because a hand asked. */
export function begin() {
  end()
  const { tone, levelDb } = source.get()
  context = new AudioContext()
  gain = new GainNode(context, { gain: amplitudeOf(levelDb, countOf(tone)) })
  gain.connect(context.destination)
  for (const frequency of pitchesOf(tone)) {
    const oscillator = new OscillatorNode(context, { frequency })
    if (tone === 'sweep') sweep(oscillator, context.currentTime)
    oscillator.connect(gain)
    oscillator.start()
  }
  source.set({ ...source.get(), sounds: true })
}

/** Silence. */
export function end() {
  void context?.close()
  context = gain = null
  source.set({ ...source.get(), sounds: false })
}

/** Fall silent whenever the page is no longer seen; the returned function ends that. */
export function silentUnseen(): () => void {
  const look = () => {
    if (document.hidden) end()
  }
  document.addEventListener('visibilitychange', look)
  return () => {
    document.removeEventListener('visibilitychange', look)
    end()
  }
}

const countOf = (tone: Tone) => (tone === 'two tones' ? 2 : 1)

const pitchesOf = (tone: Tone): readonly number[] =>
  typeof tone === 'number' ? [tone] : tone === 'sweep' ? [TONES.sweep[0]] : TONES[tone]

function sweep(oscillator: OscillatorNode, from: number) {
  const [low, high] = TONES.sweep
  for (let turn = 0; turn < 60; turn++) {
    oscillator.frequency.setValueAtTime(low, from + turn * SWEEP_S)
    oscillator.frequency.exponentialRampToValueAtTime(high, from + (turn + 1) * SWEEP_S)
  }
}
