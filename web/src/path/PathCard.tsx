// The path on the bench side: what hangs on the unit, whether it may be keyed, and what is asked first.
import { Link } from 'react-router'
import { Guarded } from './Guarded'
import { rowsOf } from './tree'
import { usePath } from './usePath'

/** The path in a few words, on the bench side. */
export function PathCard({ job }: { job: string }) {
  const path = usePath(job)
  const { now } = path
  if (now === undefined) return null
  return (
    <section className="card">
      <h2>Path</h2>
      {now.path === null ? (
        <p>
          <span className="quiet">
            Nothing says what hangs on the unit: readings are corrected by the pad chip alone.{' '}
          </span>
          <Link to={`/job/${job}/path`}>Say what hangs on it</Link>
        </p>
      ) : (
        <p>
          <Link to={`/job/${job}/path`}>{now.name || 'As set up here'}</Link>{' '}
          <span className="quiet">
            {rowsOf(now.path)
              .map((r) => r.part.name || r.part.id)
              .join(', ')}
          </span>
        </p>
      )}
      {now.path !== null && now.mean_w === null && <p className="caution">{now.barred}</p>}
      <Guarded now={now} path={path} />
      {path.problem !== null && (
        <p role="alert" className="ask-line">
          {path.problem.message}
        </p>
      )}
    </section>
  )
}
