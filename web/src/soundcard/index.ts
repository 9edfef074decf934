/** The computer's sound card: what it hears as an instrument, what it gives as a source. */
export { canHear, stretchFile, useEar } from './ear'
export { SoundCard } from './SoundCard'
