// The shelf: jobs by what each waits for, and what to do next with each.
import { useQuery } from '@tanstack/react-query'
import { useSearchParams } from 'react-router'
import { shelfOptions } from '../api/queries'
import { JobList } from './JobList'

export function ShelfPage() {
  const [place] = useSearchParams()
  const find = place.get('find') ?? ''
  const query = useQuery(shelfOptions(find))
  const shelf = query.data
  if (shelf === undefined) {
    return query.isError ? <p role="alert" className="page">{query.error.message}</p> : <p role="status" className="page">Looking along the shelf</p>
  }
  return (
    <div className="page">
      {find !== '' && (
        <p role="status">
          {shelf.total} job{shelf.total === 1 ? '' : 's'} with “{find}”
        </p>
      )}
      <div className="columns">
        <section className="card">
          <h2>On the bench</h2>
          <JobList jobs={shelf.on_the_bench} empty={find === '' ? 'Nothing is open. Check a unit in on the Bench.' : 'None.'} />
        </section>
        <div>
          <section className="card">
            <h2>Waiting for a part, an answer, a day</h2>
            <JobList jobs={shelf.waiting} empty="Nothing waits." />
          </section>
          <section className="card">
            <h2>Handed back</h2>
            <JobList jobs={shelf.handed_back} empty="Nothing yet." />
          </section>
        </div>
      </div>
    </div>
  )
}
