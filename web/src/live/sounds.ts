// What the hands hear while the eyes are elsewhere. Made on the spot by the browser; each can be chosen or switched off.
import { createSettings, useStore } from '../store'

export const SOUND_WORDS = {
  captured: 'a reading was taken',
  key: 'KEY',
  unkey: 'UNKEY',
  cool: 'cool-off is over',
  turn: 'pitch while turning',
  drop: 'a drop while watching',
} as const
export type Sound = keyof typeof SOUND_WORDS
export const VOICES = { sine: 'soft', triangle: 'clear', square: 'sharp', off: 'off' } as const
export type Voice = keyof typeof VOICES
export interface SoundSettings {
  on: boolean
  loudness: number
  voices: Record<Sound, Voice>
}

const DEFAULTS: SoundSettings = {
  on: true,
  loudness: 0.4,
  voices: { captured: 'sine', key: 'triangle', unkey: 'square', cool: 'sine', turn: 'sine', drop: 'triangle' },
}
/** Notes of each sound: pitch in Hz, begin and length in s. */
const NOTES: Record<Exclude<Sound, 'turn'>, readonly (readonly [number, number, number])[]> = {
  captured: [
    [660, 0, 0.09],
    [990, 0.1, 0.14],
  ],
  key: [[440, 0, 0.12]],
  unkey: [
    [880, 0, 0.12],
    [587, 0.15, 0.12],
    [392, 0.3, 0.2],
  ],
  cool: [
    [523, 0, 0.1],
    [523, 0.2, 0.1],
  ],
  drop: [
    [330, 0, 0.08],
    [220, 0.09, 0.2],
  ],
}
const MARKS = { double: 1320, triple: 1760 } as const

const settings = createSettings<SoundSettings>('sounds', (kept) => ({
  ...DEFAULTS,
  ...kept,
  voices: { ...DEFAULTS.voices, ...kept.voices },
}))
let context: AudioContext | null = null
let hum: { oscillator: OscillatorNode; gain: GainNode } | null = null

export function keepSounds(next: SoundSettings) {
  settings.set(next)
  if (!next.on || next.voices.turn === 'off') stopTurning()
}

/** A browser makes no sound before the first touch or key: from then on it may. */
export function allowSound() {
  context ??= new AudioContext()
  if (context.state === 'suspended') void context.resume()
}

function note(pitch: number, begin: number, length: number, voice: Voice, loudness = settings.get().loudness) {
  if (context === null || voice === 'off' || !settings.get().on) return
  const at = context.currentTime + begin
  const oscillator = new OscillatorNode(context, { type: voice, frequency: pitch })
  const gain = new GainNode(context, { gain: 0 })
  gain.gain.setValueAtTime(0, at)
  gain.gain.linearRampToValueAtTime(loudness, at + 0.01)
  gain.gain.setTargetAtTime(0, at + length, 0.02)
  oscillator.connect(gain).connect(context.destination)
  oscillator.start(at)
  oscillator.stop(at + length + 0.15)
}

export function play(sound: Exclude<Sound, 'turn'>) {
  for (const [pitch, begin, length] of NOTES[sound]) note(pitch, begin, length, settings.get().voices[sound])
}

/** The pitch that follows the reading; a double note for a passed peak, a triple one for the target. */
export function turnTo(pitch: number, mark: string | null) {
  const voice = settings.get().voices.turn
  if (context === null || voice === 'off' || !settings.get().on) return
  if (hum === null) {
    const oscillator = new OscillatorNode(context, { type: voice, frequency: pitch })
    const gain = new GainNode(context, { gain: settings.get().loudness * 0.4 })
    oscillator.connect(gain).connect(context.destination)
    oscillator.start()
    hum = { oscillator, gain }
  }
  hum.oscillator.frequency.setTargetAtTime(pitch, context.currentTime, 0.03)
  const times = mark === 'triple' ? 3 : mark === 'double' ? 2 : 0
  for (let n = 0; n < times; n++)
    note(MARKS[mark as keyof typeof MARKS], n * 0.13, 0.07, voice, settings.get().loudness)
}

/** End the pitch that follows a reading. */
export function stopTurning() {
  hum?.oscillator.stop()
  hum = null
}

export const useSounds = () => useStore(settings, (now) => now)
