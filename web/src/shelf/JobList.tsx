import { Link } from 'react-router'
import type { Schemas } from '../api/client'
import { ago, PART_NAMES, type PartKey } from '../ui/words'

export function JobList({ jobs, empty }: { jobs: readonly Schemas['JobRow'][]; empty: string }) {
  if (jobs.length === 0) return <p className="quiet">{empty}</p>
  return (
    <ul className="jobs">
      {jobs.map((job) => (
        <li key={job.id}>
          <Link to={`/job/${job.id}`}>
            <span className="n">{job.number}</span>
            <span>
              <span className="t">{job.title}</span> <span className="quiet">{job.owner}</span>
              {job.next_step !== '' && <span className={job.locked_because === '' ? 'why' : 'why danger'}>{job.next_step}</span>}
            </span>
            <span className="quiet">{job.handed_back_at === null ? `${PART_NAMES[job.part as PartKey]} · ${ago(job.touched_at)}` : `left ${ago(job.handed_back_at)}`}</span>
          </Link>
        </li>
      ))}
    </ul>
  )
}
