// A job on its slip: what was done, the current line large in its place, what the plan still wants in pale ink.
import { useQuery } from '@tanstack/react-query'
import { useEffect, useRef, useState } from 'react'
import { Link, useParams } from 'react-router'
import type { Schemas } from '../api/client'
import { slipOptions } from '../api/queries'
import { keyName, useKeySettings } from '../keys'
import { useKeptInView } from '../ui/useKeptInView'
import { Beside } from './Beside'
import { CurrentLine } from './CurrentLine'
import { LargePicture } from './LargePicture'
import { OpenList } from './OpenList'
import { Pending } from './Pending'
import { Roll } from './Roll'
import { SlipHead } from './SlipHead'
import { useSlipWork } from './useSlipWork'

type Slip = Schemas['SlipOut']

/** A job on its slip. */
export function SlipPage() {
  const { job = '' } = useParams()
  const [item, setItem] = useState<string | null>(null)
  const query = useQuery(slipOptions(job, item))
  if (query.data === undefined) {
    return query.isError ? (
      <p role="alert" className="page">
        {query.error.message}
      </p>
    ) : (
      <p role="status" className="page">
        Unrolling the slip
      </p>
    )
  }
  return (
    <OpenSlip
      key={job}
      slip={query.data}
      item={item}
      onItem={setItem}
      late={query.isError ? query.error.message : null}
    />
  )
}

interface OpenSlipProps {
  slip: Slip
  item: string | null
  onItem: (item: string | null) => void
  late: string | null
}

function OpenSlip({ slip, item, onItem, late }: OpenSlipProps) {
  const work = useSlipWork(slip, item)
  const keys = useKeySettings().keys
  const [picture, setPicture] = useState<Schemas['LineOut'] | null>(null)
  const here = useRef<HTMLDivElement>(null)
  const count = slip.lines.length + work.pending.length
  useEffect(() => {
    here.current?.scrollIntoView({ block: 'end' })
  }, [count, work.current?.row, slip.part, work.up, work.hasLive])
  useKeptInView(here)
  return (
    <div
      className={work.far ? 'work far' : 'work'}
      onDragOver={(e) => e.preventDefault()}
      onDrop={(e) => {
        e.preventDefault()
        if (work.writes) work.onFiles([...e.dataTransfer.files])
      }}
    >
      <section className="left" aria-label="The slip">
        <SlipHead
          slip={slip}
          farKey={keyName(keys.far)}
          onFar={() => work.setFar(true)}
          onPart={(part) => work.jobs.change.mutate({ part })}
        />
        <div className="roll">
          {slip.locked_because !== '' && (
            <p className="banner danger" role="alert">
              Not safe to power: {slip.locked_because}
            </p>
          )}
          {late !== null && (
            <p className="banner" role="status">
              The slip as it was; {late}
            </p>
          )}
          {work.problem !== null && (
            <p className="banner" role="alert">
              {work.problem.message}
            </p>
          )}
          <Roll slip={slip} acts={{ ...work.acts, onPicture: setPicture, areas: slip.areas }} />
          <ol>
            <Pending lines={work.pending} />
          </ol>
          {slip.handed_back_at === null ? (
            <CurrentLine ref={here} slip={slip} work={work} />
          ) : (
            <div className="now" ref={here}>
              <p>
                Handed back. <Link to={`/job/${slip.id}/hand-back`}>The report</Link>{' '}
                <button type="button" className="link" onClick={() => work.jobs.handBack.mutate(false)}>
                  Take it onto the bench again
                </button>
              </p>
            </div>
          )}
          <OpenList open={work.open} current={work.current} onChoose={work.choose} />
        </div>
        <div className="torn" />
      </section>
      <Beside slip={slip} work={work} item={item} onItem={onItem} />
      {picture !== null && picture.picture !== null && <LargePicture line={picture} onClose={() => setPicture(null)} />}
    </div>
  )
}
