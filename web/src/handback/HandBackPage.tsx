// The report as the owner gets it, each sentence editable in place; print, PDF, one HTML file, CSV.
import Button from '@mui/material/Button'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { Fragment, useState } from 'react'
import { Link, useParams } from 'react-router'
import { api, dataOf, type Schemas } from '../api/client'
import { reportOptions } from '../api/queries'
import { useJobMutations } from '../slip'
import { Tables } from '../ui/Tables'
import { Verdict } from '../ui/verdict'
import { dayOf } from '../ui/words'

type Report = Schemas['Report']
type Sentence = Schemas['SentenceOut']

/** The report of a job, each sentence editable. */
export function HandBackPage() {
  const { job = '' } = useParams()
  const query = useQuery(reportOptions(job))
  const queries = useQueryClient()
  const { handBack } = useJobMutations(job, null)
  const edit = useMutation({
    mutationFn: (body: Schemas['SentenceIn']) =>
      dataOf(api.PUT('/api/jobs/{job_id}/report/sentence', { params: { path: { job_id: job } }, body })),
    onSuccess: (report) => queries.setQueryData(reportOptions(job).queryKey, report),
  })
  const report = query.data
  if (report === undefined) {
    return query.isError ? (
      <p role="alert" className="page">
        {query.error.message}
      </p>
    ) : (
      <p role="status" className="page">
        Writing the report
      </p>
    )
  }
  const problem = edit.error ?? handBack.error
  return (
    <>
      <div className="bar-of-acts">
        <Link to={`/job/${job}`}>Back to the slip</Link>
        <span style={{ flex: 1 }} />
        <Button onClick={() => print()}>Print</Button>
        <Button href={`/api/jobs/${job}/report.pdf`}>PDF</Button>
        <Button href={`/api/jobs/${job}/report.html`}>One HTML file</Button>
        <Button href={`/api/jobs/${job}/readings.csv`}>Readings as CSV</Button>
        <Button href={`/api/jobs/${job}/bundle`}>Whole job as a bundle</Button>
        {report.handed_back === null ? (
          <Button variant="contained" onClick={() => handBack.mutate(true)}>
            Hand it back
          </Button>
        ) : (
          <Button onClick={() => handBack.mutate(false)}>Onto the bench again</Button>
        )}
      </div>
      {problem !== null && (
        <p role="alert" className="page">
          {problem.message}
        </p>
      )}
      <article className="report">
        <h1>{report.unit}</h1>
        <p className="quiet">
          Report {report.number}
          {report.serial !== '' && ` · serial ${report.serial}`}
          {report.owner !== '' && ` · ${report.owner}`} · came in {dayOf(report.came_in)}
          {report.handed_back !== null && `, handed back ${dayOf(report.handed_back)}`} · {report.people.join(', ')} ·{' '}
          {report.minutes_worked} min
        </p>
        {report.sections.map((section) => (
          <section key={section.id}>
            <h2>{section.title}</h2>
            {section.sentences.map((s) => (
              <EditableSentence key={s.key} sentence={s} onKeep={(text) => edit.mutate({ key: s.key, text })} />
            ))}
            {section.id === 'result' && <Figures report={report} />}
          </section>
        ))}
        {report.sections.length === 0 && <p>Nothing is on the slip yet that an owner could read.</p>}
        {!report.sections.some((s) => s.id === 'result') && <Compared report={report} />}
        {report.parts.length > 0 && (
          <section>
            <h2>Parts</h2>
            {report.parts.map((p) => (
              <p key={p.words}>
                {p.words} {p.cost !== null && p.cost.toFixed(2)}
              </p>
            ))}
            {report.cost > 0 && <p>Together {report.cost.toFixed(2)}</p>}
          </section>
        )}
        {report.pictures.map((p) => (
          <figure key={p.sha256}>
            {p.not_whole === '' && <img src={`/api/pictures/${p.sha256}`} alt={p.words} />}
            <figcaption className="quiet">{p.not_whole || p.words}</figcaption>
          </figure>
        ))}
        {report.not_whole.map((words) => (
          <p key={words} className="caution">
            {words}
          </p>
        ))}
        {report.sounds.map((s) => (
          <figure key={s.record} className="sound">
            <audio
              controls
              preload="none"
              src={`/api/records/${s.record}/sound.wav`}
              aria-label={`How it sounds: ${s.words}`}
            />
            <figcaption className="quiet">How it sounds: {s.words}</figcaption>
          </figure>
        ))}
        <p className="quiet">{report.notice}</p>
      </article>
      {report.watch.length > 0 && (
        <section className="bar-of-acts">
          <p>
            <b>Kept for its next visit, not printed:</b> {report.watch.join('; ')}
          </p>
        </section>
      )}
    </>
  )
}

function EditableSentence({ sentence, onKeep }: { sentence: Sentence; onKeep: (text: string | null) => void }) {
  const [draft, setDraft] = useState<string | null>(null)
  if (draft !== null) {
    const keep = () => {
      if (draft !== sentence.text) onKeep(draft)
      setDraft(null)
    }
    return (
      <textarea
        aria-label="The sentence"
        autoFocus
        rows={Math.max(2, Math.ceil(draft.length / 80))}
        maxLength={2000}
        value={draft}
        onChange={(e) => setDraft(e.target.value)}
        onBlur={keep}
        onKeyDown={(e) => {
          if (e.key === 'Escape') setDraft(null)
          if (e.key === 'Enter' && !e.shiftKey) {
            e.preventDefault()
            keep()
          }
        }}
      />
    )
  }
  const leftOut = sentence.text === ''
  return (
    <>
      <button
        type="button"
        className={`plain sentence${leftOut ? ' left-out' : ''}`}
        title="Tap to edit"
        onClick={() => setDraft(leftOut ? sentence.drafted : sentence.text)}
      >
        {leftOut ? sentence.drafted : sentence.text}
      </button>
      {sentence.edited && (
        <button type="button" className="link drafted" onClick={() => onKeep(null)}>
          as drafted
        </button>
      )}
    </>
  )
}

const GROUP_WORDS = { also: 'Also measured', not_as_it_leaves: 'Taken in another state than it leaves in' } as const

/** Before and after, and the tables of figures over places. */
function Figures({ report }: { report: Report }) {
  return (
    <>
      <Compared report={report} />
      {report.tables.map((t) => (
        <div key={`${t.item} ${t.table.id}`}>
          {t.item !== '' && <h3>{t.item}</h3>}
          <Tables tables={[t.table]} />
        </div>
      ))}
    </>
  )
}

function Compared({ report }: { report: Report }) {
  if (report.compared.length === 0) return null
  return (
    <table>
      <thead>
        <tr>
          <th scope="col">Figure</th>
          <th scope="col">As received</th>
          <th scope="col">As it leaves</th>
          <th scope="col">Limits</th>
        </tr>
      </thead>
      <tbody>
        {report.compared.map((row, n) => (
          <Fragment key={row.group + row.item + row.name + row.where}>
            {row.group !== 'planned' && report.compared[n - 1]?.group !== row.group && (
              <tr>
                <th colSpan={4} scope="colgroup">
                  {GROUP_WORDS[row.group]}
                </th>
              </tr>
            )}
            <tr>
              <td>
                {row.name}
                <small>{[row.item, row.where].filter((w) => w !== '').join(' · ')}</small>
              </td>
              <td>
                {row.before ?? <span className="quiet">not measured</span>}
                {row.before_verdict !== null && (
                  <div>
                    <Verdict verdict={row.before_verdict} words={row.before_words} />
                  </div>
                )}
              </td>
              <td>
                {row.after ?? <span className="quiet">not measured</span>}
                {row.after_verdict !== null && (
                  <div>
                    <Verdict verdict={row.after_verdict} words={row.after_words} />
                  </div>
                )}
                {row.in_work !== null && <small>{row.in_work}</small>}
              </td>
              <td>
                {row.limits.map((l) => (
                  <small key={l.words + l.kind} title={`${l.source}, ${l.version}`}>
                    {l.kind}: {l.words}
                  </small>
                ))}
              </td>
            </tr>
          </Fragment>
        ))}
      </tbody>
    </table>
  )
}
