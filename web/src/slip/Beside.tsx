// What stands beside the slip: the views of other features, the one that is shown now, the row of words for the rest.
import { useRef, type ReactNode } from 'react'
import type { Schemas } from '../api/client'
import { LiveValues, useBenchActs } from '../live'
import { PathView } from '../path'
import { RecordShelf } from '../records'
import { SoundCard } from '../soundcard'
import { TraceCard } from '../trace'
import { TurnView } from '../turn'
import { WatchView } from '../watch'
import { BenchSide, SideWords } from './BenchSide'
import type { SideView } from './sideViews'
import { Compare } from './Compare'
import { ExitTest } from './ExitTest'
import { SetUp } from './SetUp'
import { Stages } from './Stages'
import { Tables, tablesOf } from '../ui/Tables'
import type { SlipWork } from './useSlipWork'

interface BesideProps {
  slip: Schemas['SlipOut']
  work: SlipWork
  item: string | null
  onItem: (item: string | null) => void
}

/** The bench side with its row of words. */
export function Beside({ slip, work, item, onItem }: BesideProps) {
  const { views, shown, show } = work.side
  const here = useRef<HTMLDivElement>(null)
  const acts = useBenchActs()
  // where the slip has the whole width, what was asked for stands below it
  const onShow = (view: SideView) => {
    show(view)
    here.current?.querySelector('.side')?.scrollIntoView({ block: 'nearest' })
  }
  const barred = work.path.now?.path == null ? '' : work.path.now.barred
  return (
    <div className="beside" ref={here}>
      <SideWords views={views} shown={shown} onShow={onShow} />
      <BenchSide
        slip={slip}
        current={work.current}
        item={item}
        onItem={onItem}
        shown={shown}
        barred={barred}
        faults={work.mine ? (work.bench?.faults ?? []) : []}
      >
        {acts.problem !== null && (
          <p role="alert" className="ask-line">
            {acts.problem.message}
          </p>
        )}
        {brought(shown, slip, work, item, (turned) => acts.turn.mutate(turned, { onSuccess: () => show(null) }))}
      </BenchSide>
    </div>
  )
}

function brought(
  shown: SideView,
  slip: Schemas['SlipOut'],
  work: SlipWork,
  item: string | null,
  onTurn: (turned: Schemas['TurnedFor']) => void,
): ReactNode {
  const { current, writes } = work
  const readOnly = slip.handed_back_at !== null
  const typing = writes
    ? {
        at: work.walk.at,
        onRow: (words: string) => work.desk.field.current?.begin(words),
        onCell: work.walk.start,
        fillsLive: work.mine && work.talks,
      }
    : undefined
  const symptom = slip.lines.find((l) => l.story?.kind === 'said')?.story?.words ?? ''
  switch (shown) {
    case 'line':
      return (
        <>
          <Tables tables={tablesOf(slip.tables, slip.lines.at(-1)?.id ?? '')} typing={typing} />
          {writes && slip.phase !== 'as_received' && (
            <ExitTest onWords={(words) => work.desk.field.current?.begin(words)} />
          )}
        </>
      )
    case 'tables':
      return <Tables tables={slip.tables} typing={typing} />
    case 'compare':
      return <Compare job={slip.id} item={item} />
    case 'setup':
      return (
        <SetUp
          slip={slip}
          writes={writes}
          onAct={(act) => work.jobs.setUp.mutate({ ...act, id: crypto.randomUUID(), item })}
          onBegin={(words) => work.desk.field.current?.begin(words)}
          onTurn={work.mine ? onTurn : undefined}
          turnable={work.bench?.turnable ?? []}
        />
      )
    case 'trace':
      return (
        <>
          <TraceCard job={slip.id} item={slip.item} symptom={symptom} writes={writes} />
          {slip.stages.length > 0 && (
            <details className="card">
              <summary>Mark a stage by hand</summary>
              <Stages slip={slip} onStage={(words) => work.desk.field.current?.begin(words)} />
            </details>
          )}
        </>
      )
    case 'records':
      return (
        <RecordShelf
          job={slip.id}
          item={slip.item}
          row={current?.row ?? null}
          conditions={work.conditions}
          writes={writes}
          newest={work.records.keep.data?.id ?? null}
        />
      )
    case 'sound':
      return (
        <SoundCard writes={writes} onTake={work.onSound} onWords={(words) => work.desk.field.current?.begin(words)} />
      )
    case 'live':
      return <LiveValues />
    case 'path':
      return <PathView job={slip.id} readOnly={readOnly} />
    case 'turn':
      return <TurnView slip={slip} current={current} onLeft={() => work.side.show(null)} />
    case 'watch':
      return <WatchView job={slip.id} readOnly={readOnly} />
    default:
      return null
  }
}
