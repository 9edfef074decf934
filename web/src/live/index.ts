/** What the live instruments say, the word for the hand, and sounds. */
export { KeyWord } from './KeyWord'
export { LiveLine, LiveValues, Taken } from './LiveLine'
export { Sounds } from './Sounds'
export { stopTurning, turnTo } from './sounds'
export { onEvent, useBenchNow } from './stream'
export { useBenchActs, useEvents, useLiveBench, useSeat } from './useLiveBench'
