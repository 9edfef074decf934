// KEY, HOLD, UNKEY: the word for the hand, why, and the clock that runs.
import { useEffect, useRef } from 'react'
import { play } from './sounds'
import { useBenchNow } from './stream'
import { useSeconds } from './useLiveBench'

const MEANS = { KEY: 'key it', HOLD: 'hold it', UNKEY: 'let go now', COOL: 'let it rest' } as const

function clock(seconds: number): string {
  const left = Math.max(0, Math.ceil(seconds))
  return left < 60 ? `${left} s` : `${Math.floor(left / 60)}:${String(left % 60).padStart(2, '0')}`
}

/** KEY, HOLD, UNKEY, and until when; `besides` is the name that stands beside it, and is not said twice. */
export function KeyWord({ besides = null }: { besides?: string | null }) {
  const keying = useBenchNow((known) => known.keying)
  const say = useBenchNow((known) => known.say)
  const skew = useBenchNow((known) => known.skew)
  const until = keying.until ?? null
  const now = useSeconds(until !== null) - skew
  const over = until !== null && now >= until
  const word = over ? (keying.then ?? null) : (keying.word ?? null)
  const shown = useRef<string | null>(null)
  useEffect(() => {
    // the clock ran out here before the server said so
    if (over && word === 'UNKEY' && shown.current !== 'UNKEY') play('unkey')
    shown.current = word
  }, [over, word])
  const why = keying.why === besides?.toLowerCase() ? '' : keying.why
  if (word === null && say === '' && keying.why === '') return null
  return (
    <div className={`keyword ${(word ?? 'none').toLowerCase()}`} data-word={word ?? ''}>
      <span role="status" className="said">
        {word !== null && <b>{word}</b>}
        <span>
          {over ? 'time is over' : why || (word === null ? '' : MEANS[word])}
          {say !== '' && <span className="stale"> · {say}</span>}
        </span>
      </span>
      {until !== null && !over && <time role="timer">{clock(until - now)}</time>}
    </div>
  )
}
