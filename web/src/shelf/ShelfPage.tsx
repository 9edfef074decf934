// The shelf: jobs by what each waits for, and what to do next with each.
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useSearchParams } from 'react-router'
import { api, dataOf } from '../api/client'
import { shelfOptions } from '../api/queries'
import { JobList } from './JobList'

/** Every job, by what it waits for. */
export function ShelfPage() {
  const [place] = useSearchParams()
  const find = place.get('find') ?? ''
  const query = useQuery(shelfOptions(find))
  const shelf = query.data
  if (shelf === undefined) {
    return query.isError ? (
      <p role="alert" className="page">
        {query.error.message}
      </p>
    ) : (
      <p role="status" className="page">
        Looking along the shelf
      </p>
    )
  }
  const shown = shelf.on_the_bench.length + shelf.waiting.length + shelf.handed_back.length
  return (
    <div className="page">
      {shelf.find !== '' && (
        <p role="status">
          {shelf.total} job{shelf.total === 1 ? '' : 's'} with “{shelf.find}”
          {shown < shelf.total && `, ${shown} of them here`}
        </p>
      )}
      <div className="columns">
        <section className="card">
          <h2>On the bench</h2>
          <JobList
            jobs={shelf.on_the_bench}
            empty={find === '' ? 'Nothing is open. Check a unit in on the Bench.' : 'None.'}
          />
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
      <Bundles />
    </div>
  )
}

/** Jobs out of here and into another shop, and back. */
function Bundles() {
  const queries = useQueryClient()
  const read = useMutation({
    mutationFn: (file: File) => {
      const form = new FormData()
      form.append('file', file)
      // the generated type says string for the file's bytes; the form carries the file itself
      return dataOf(
        api.POST('/api/bundles', { body: form as never, bodySerializer: (body) => body as unknown as FormData }),
      )
    },
    onSuccess: () => queries.invalidateQueries({ queryKey: ['shelf'] }),
  })
  return (
    <section className="card">
      <h2>Bundles</h2>
      <p className="senses">
        <a href="/api/shelf/bundle" download>
          Every job as one bundle
        </a>
        <label className="link">
          Read a bundle in
          <input
            type="file"
            accept=".zip"
            hidden
            onChange={(e) => {
              const file = e.target.files?.[0]
              if (file !== undefined) read.mutate(file)
              e.target.value = ''
            }}
          />
        </label>
      </p>
      {read.isPending && <p role="status">Reading the bundle</p>}
      {read.error !== null && (
        <p role="alert" className="ask-line">
          {read.error.message}
        </p>
      )}
      {read.data !== undefined && (
        <ul role="status">
          {read.data.map((outcome) => (
            <li key={outcome.job}>{outcome.words}</li>
          ))}
        </ul>
      )}
    </section>
  )
}
