// The verdict's mark and words, the same wherever they show: shape, word and colour together.
import type { Schemas } from '../api/client'

export type VerdictKey = NonNullable<Schemas['ReadingOut']['verdict']>

export const VERDICT_TEXT: Record<VerdictKey, string> = {
  pass: 'Within',
  pass_close: 'Within, only just',
  fail_close: 'Outside, only just',
  fail: 'Outside',
  no_verdict: 'No verdict',
}

function Shape({ verdict }: { verdict: VerdictKey }) {
  switch (verdict) {
    case 'pass':
      return <circle cx="8" cy="8" r="6.5" fill="currentColor" />
    case 'pass_close':
      return (
        <>
          <circle cx="8" cy="8" r="6" fill="none" stroke="currentColor" strokeWidth="1.8" />
          <path d="M8 2a6 6 0 0 0 0 12z" fill="currentColor" />
        </>
      )
    case 'fail_close':
      return (
        <>
          <path d="M8 1 15 8 8 15 1 8z" fill="none" stroke="currentColor" strokeWidth="1.8" />
          <path d="M8 1 1 8l7 7z" fill="currentColor" />
        </>
      )
    case 'fail':
      return <path d="M8 1.2 14.8 8 8 14.8 1.2 8z" fill="none" stroke="currentColor" strokeWidth="2.2" />
    case 'no_verdict':
      return <path d="M2 8h12" stroke="currentColor" strokeWidth="2.4" />
  }
}

function VerdictMark({ verdict, size = 16 }: { verdict: VerdictKey; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="0 0 16 16" aria-hidden="true">
      <Shape verdict={verdict} />
    </svg>
  )
}

export function Verdict({
  verdict,
  size,
  words,
}: {
  verdict: VerdictKey | null
  size?: number
  /** What stands at it where that says more than the verdict's own word. */
  words?: string | undefined
}) {
  if (verdict === null) return <span className="verdict" />
  return (
    <span className={`verdict ${verdict}`} data-verdict={verdict}>
      <VerdictMark verdict={verdict} {...(size === undefined ? {} : { size })} />
      <span>{words === undefined || words === '' ? VERDICT_TEXT[verdict] : words} </span>
    </span>
  )
}
