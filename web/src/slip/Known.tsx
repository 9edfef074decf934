// What was known before the unit came in: its earlier visit, notes of its model.
import type { Schemas } from '../api/client'
import { ago } from '../ui/words'

type Slip = Schemas['SlipOut']

/** What an earlier visit says. */
export function EarlierVisit({ earlier }: { earlier: NonNullable<Slip['earlier']> }) {
  return (
    <section className="card">
      <h2>
        It was here before: job {earlier.number}, left {ago(earlier.handed_back_at)}
      </h2>
      {earlier.watch.map((w) => (
        <p key={w} className="caution">
          {w}
        </p>
      ))}
      {earlier.since.map((s) => (
        <p key={s}>{s}</p>
      ))}
    </section>
  )
}

/** What is known of its model. */
export function Known({ slip }: { slip: Slip }) {
  return (
    <section className="card">
      <h2>Known of this model</h2>
      {slip.notes.map((n) => (
        <p key={n.text}>
          {n.text} <span className="quiet">{n.proven ? 'Proven here.' : 'Hearsay, unproven.'}</span>
        </p>
      ))}
    </section>
  )
}
