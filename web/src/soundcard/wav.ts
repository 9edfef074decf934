// A stretch of sound as a file: 32-bit floating point, one channel, as every reader of WAV knows it.

const HEADER = 44 // bytes
const FLOATING = 3 // the format's own number

/** The samples as a WAV file. */
export const wavOf = (samples: Float32Array, rate: number, name: string) =>
  new File([wavBytes(samples, rate)], name, { type: 'audio/wav' })

/** What stands in that file. */
export function wavBytes(samples: Float32Array, rate: number): ArrayBuffer {
  const bytes = new ArrayBuffer(HEADER + 4 * samples.length)
  const view = new DataView(bytes)
  const words = (at: number, text: string) => [...text].forEach((sign, n) => view.setUint8(at + n, sign.charCodeAt(0)))
  words(0, 'RIFF')
  view.setUint32(4, bytes.byteLength - 8, true)
  words(8, 'WAVEfmt ')
  view.setUint32(16, 16, true)
  view.setUint16(20, FLOATING, true)
  view.setUint16(22, 1, true)
  view.setUint32(24, rate, true)
  view.setUint32(28, 4 * rate, true)
  view.setUint16(32, 4, true)
  view.setUint16(34, 32, true)
  words(36, 'data')
  view.setUint32(40, 4 * samples.length, true)
  samples.forEach((sample, n) => view.setFloat32(HEADER + 4 * n, sample, true))
  return bytes
}
