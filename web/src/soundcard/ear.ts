// The computer's own sound input as an instrument: asked for when a hand wants it, let go when it is left. Nothing leaves
// the house: what is heard goes to this program's server, which works it out and keeps nothing that is not taken.
import { api, dataOf, type Schemas } from '../api/client'
import { createStore, useStore } from '../store'
import tapUrl from './tap.js?url'
import { clockPpm, RATE, told } from './told'
import { wavOf } from './wav'

/** What one stretch of sound said. */
export type Heard = Schemas['SoundOut']

interface Ear {
  listening: boolean
  /** Peak of what comes in now, 0 to 1 of full scale. */
  peak: number
  heard: Heard | null
  problem: string | null
}

const STRETCH_S = 1
const SETTLES_S = 0.7 // an input that was just opened clicks and stutters
const OFTEN_MS = 400 // between two stretches that are worked out
const DEAF: Ear = { listening: false, peak: 0, heard: null, problem: null }
const ear = createStore<Ear>(DEAF)

let context: AudioContext | null = null
let stream: MediaStream | null = null
let timer: ReturnType<typeof setTimeout> | undefined
let kept: Float32Array[] = []
let latest: Float32Array | null = null

export const useEar = () => useStore(ear, (now) => now)

/** Whether this browser can hear at all: it asks for a page of this machine, or one over TLS. */
export const canHear = () => typeof navigator !== 'undefined' && navigator.mediaDevices !== undefined

/** Begin to listen; the browser asks the person first. */
export async function listen() {
  try {
    stream = await navigator.mediaDevices.getUserMedia({
      // what makes speech pleasant makes a measurement wrong
      audio: { echoCancellation: false, noiseSuppression: false, autoGainControl: false, channelCount: 1 },
    })
    context = new AudioContext({ sampleRate: RATE })
    await context.audioWorklet.addModule(tapUrl)
    const tap = new AudioWorkletNode(context, 'tap', { numberOfOutputs: 0 })
    const settled = performance.now() + 1000 * SETTLES_S
    tap.port.onmessage = ({ data }: MessageEvent<Float32Array>) => {
      if (performance.now() > settled) hear(data)
    }
    context.createMediaStreamSource(stream).connect(tap)
    ear.set({ ...DEAF, listening: true })
    timer = setTimeout(() => void workOut(), 1000 * (SETTLES_S + STRETCH_S))
  } catch (refused) {
    stopListening()
    ear.set({ ...DEAF, problem: `No sound input: ${refused instanceof Error ? refused.message : String(refused)}` })
  }
}

/** Let the input go. */
export function stopListening() {
  clearTimeout(timer)
  for (const track of stream?.getTracks() ?? []) track.stop()
  void context?.close()
  context = stream = latest = null
  kept = []
  ear.set(DEAF)
}

/** The stretch that the figures on screen come from, as a file; null before the first. */
export function stretchFile(): File | null {
  if (latest === null) return null
  const at = new Date().toTimeString().slice(0, 8).replaceAll(':', '')
  return wavOf(latest, clockHz(), `sound-${at}.wav`)
}

/** The rate that the clock really runs at, in the whole hertz of a file. */
const clockHz = () => Math.round(told.get().rateHz ?? RATE)

function hear(block: Float32Array) {
  kept.push(block)
  const blocks = Math.ceil((RATE * STRETCH_S) / block.length)
  if (kept.length > blocks) kept = kept.slice(-blocks)
  ear.set({ ...ear.get(), peak: block.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0) })
}

function joined(): Float32Array {
  const whole = new Float32Array(kept.reduce((length, block) => length + block.length, 0))
  let at = 0
  for (const block of kept) {
    whole.set(block, at)
    at += block.length
  }
  return whole
}

async function workOut() {
  const stretch = joined()
  const form = new FormData()
  form.append('file', wavOf(stretch, clockHz(), 'sound.wav'))
  form.append('clock_ppm', String(clockPpm(told.get())))
  try {
    const heard = await dataOf(
      api.POST('/api/sound', { body: form as never, bodySerializer: (body) => body as unknown as FormData }),
    )
    if (!ear.get().listening) return
    latest = stretch
    ear.set({ ...ear.get(), heard, problem: null })
  } catch (problem) {
    if (ear.get().listening)
      ear.set({ ...ear.get(), problem: problem instanceof Error ? problem.message : String(problem) })
  }
  if (ear.get().listening) timer = setTimeout(() => void workOut(), OFTEN_MS)
}
