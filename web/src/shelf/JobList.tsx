import { memo, type MouseEvent } from 'react'
import { useNavigate } from 'react-router'
import type { Schemas } from '../api/client'
import { ago, PART_NAMES, type PartKey } from '../ui/words'

/** Jobs with what to do next. */
export function JobList({ jobs, empty }: { jobs: readonly Schemas['JobRow'][]; empty: string }) {
  const navigate = useNavigate()
  // one ear for all rows: a router's link in each of hundreds would draw them all anew with every key of a search
  const open = (e: MouseEvent) => {
    const to = (e.target as Element).closest('a')?.getAttribute('href')
    if (to == null || e.button !== 0 || e.metaKey || e.ctrlKey || e.shiftKey || e.altKey) return
    e.preventDefault()
    void navigate(to)
  }
  if (jobs.length === 0) return <p className="quiet">{empty}</p>
  return (
    <ul className="jobs" onClick={open}>
      {jobs.map((job) => (
        <JobRow
          key={job.id}
          job={job}
          when={
            job.handed_back_at === null
              ? `${PART_NAMES[job.part as PartKey]} · ${ago(job.touched_at)}`
              : `left ${ago(job.handed_back_at)}`
          }
        />
      ))}
    </ul>
  )
}

const JobRow = memo(function JobRow({ job, when }: { job: Schemas['JobRow']; when: string }) {
  return (
    <li>
      <a href={`/job/${job.id}`}>
        <span className="n">{job.number}</span>
        <span>
          <span className="t">{job.title}</span> <span className="quiet">{job.owner}</span>
          {job.next_step !== '' && (
            <span className={job.locked_because === '' ? 'why' : 'why danger'}>{job.next_step}</span>
          )}
        </span>
        <span className="quiet">{when}</span>
      </a>
    </li>
  )
})
