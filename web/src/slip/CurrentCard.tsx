// What the current line needs: what is due there and why, the limits it will be held against, what is known.
import type { Schemas } from '../api/client'
import { LimitBar } from '../ui/LimitBar'
import { domainOf, type Marks } from '../ui/scale'

type Slip = Schemas['SlipOut']
type OpenLine = Schemas['OpenLineOut']
const KIND_WORDS = { regulation: 'Regulation', specification: 'Maker', house: 'This shop' } as const
/** What is due by no profile's word. */
const BY_NO_PROFILE: Record<string, string> = { typical: 'Typical', told: 'As said' }
const DUE_FROM = { maker: "maker's figure", shop: 'one that left here', kind: 'healthy ones, of the kind' } as const

/** What is due at the current line, and what forbids or says it. */
export function CurrentCard({ current, from }: { current: OpenLine; from: Slip['due_from'] }) {
  const marks = current.limits.map<Marks>((l) => ({ low: l.low, high: l.high, value: null, below: 0, above: 0 }))
  const extra = [current.expected_value, current.ghost?.median ?? null].filter((v) => v !== null)
  const domain = domainOf(marks, extra)
  return (
    <section className="card">
      <h2 className="big">{current.name}</h2>
      <p className="quiet">{current.where}</p>
      <p>{current.ask}</p>
      <div className="lanes">
        {current.limits.map((l, n) => (
          <div key={l.profile + l.row} style={{ display: 'contents' }}>
            <span>
              {BY_NO_PROFILE[l.profile] ?? KIND_WORDS[l.kind]}
              <small>{l.source}</small>
            </span>
            <span>
              <LimitBar
                marks={marks[n] ?? { low: null, high: null, value: null, below: 0, above: 0 }}
                domain={domain}
                ghost={current.ghost?.median ?? current.expected_value}
                label={l.words}
              />
              <small>
                {l.words}
                {l.confidence === 'check' && l.kind === 'regulation' ? ' · check it locally' : ''}
              </small>
            </span>
          </div>
        ))}
      </div>
      <dl className="pairs">
        {current.expected !== null && (
          <>
            <dt>{DUE_FROM[from]}</dt>
            <dd>about {current.expected}</dd>
          </>
        )}
        {current.ghost !== null && (
          <>
            <dt>healthy ones</dt>
            <dd>{current.ghost.words}</dd>
          </>
        )}
        {current.before !== null && (
          <>
            <dt>as received</dt>
            <dd>{current.before}</dd>
          </>
        )}
      </dl>
    </section>
  )
}
