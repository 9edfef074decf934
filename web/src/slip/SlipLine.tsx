// One line of the slip: time, words, figure with spread, bar, verdict; its sum beneath; everything else on a tap.
import { useState } from 'react'
import type { Schemas } from '../api/client'
import { LimitBar, marksOf } from '../ui/LimitBar'
import { Verdict } from '../ui/verdict'
import { KIND_NAMES, timeOf } from '../ui/words'

type Line = Schemas['LineOut']
export interface LineActs {
  onWithdraw: (line: Line, reason: string) => void
  onReinstate: (line: Line) => void
  onReplace: (line: Line) => void
  onTick: (line: Line, settled: boolean) => void
  onSetRight: (line: Line, told: Schemas['SetRightIn']) => void
  /** What a repair can have touched, by its id. */
  areas?: Record<string, string>
  onPicture: (line: Line) => void
  onPin?: (line: Line) => void
}

/** One line of a slip. */
export function SlipLine({ line, acts }: { line: Line; acts: LineActs }) {
  const [open, setOpen] = useState(false)
  const gone = line.withdrawn !== null
  const first = line.readings[0]
  const judged = first !== undefined && first.verdict !== null
  const doubtful = first !== undefined && (first.stale ?? first.not_as_left ?? null) !== null
  const className = [
    'line',
    first === undefined || line.story !== null ? 'words' : judged ? '' : 'unjudged',
    gone ? 'gone' : '',
    doubtful ? 'doubtful' : '',
  ].join(' ')
  return (
    <li className={className} data-line={line.kind}>
      <time dateTime={line.at}>{timeOf(line.at)}</time>
      {first === undefined || line.story !== null ? (
        <>
          <Words line={line} acts={acts} onOpen={() => setOpen(!open)} open={open} />
          <Breath readings={line.readings} />
        </>
      ) : (
        <ReadingCells line={line} first={first} onOpen={() => setOpen(!open)} open={open} />
      )}
      {open && <More line={line} acts={acts} gone={gone} />}
    </li>
  )
}

function whereOf(conditions: Schemas['Conditions'] | null): string {
  if (conditions === null) return ''
  const parts = [
    conditions.mode?.toUpperCase(),
    conditions.channel != null ? `ch ${conditions.channel}` : null,
    conditions.frequency_hz != null ? `${conditions.frequency_hz / 1e6} MHz` : null,
    conditions.state,
    conditions.power_setting != null ? `${conditions.power_setting} power` : null,
    conditions.item,
    conditions.place,
    conditions.heat,
    conditions.audio,
    conditions.form === 'pp' ? 'peak to peak' : conditions.form === 'ac' ? null : conditions.form,
    conditions.over_db != null ? `${conditions.over_db} dB over` : null,
    conditions.at_db != null ? `${conditions.at_db} dB down` : null,
    conditions.test_v != null ? `at ${conditions.test_v} V` : null,
  ]
  return parts.filter((p) => p != null).join(' · ')
}

function ReadingCells({
  line,
  first,
  onOpen,
  open,
}: {
  line: Line
  first: Schemas['ReadingOut']
  onOpen: () => void
  open: boolean
}) {
  const limit = first.verdicts[0]
  const doubt = first.stale ?? first.not_as_left
  return (
    <>
      <button type="button" className="plain what" aria-expanded={open} onClick={onOpen}>
        {first.name} <span className="quiet">{whereOf(line.conditions)}</span>
      </button>
      <span className="figure">{first.figure}</span>
      {first.verdict !== null && <VerdictCells first={first} limit={limit} />}
      <p className="working">
        {doubt != null ? (
          <span className="stale">counts no more: {doubt}</span>
        ) : line.withdrawn !== null ? (
          `taken back: ${line.withdrawn}`
        ) : (
          first.measured.working
        )}{' '}
        {first.measured.remarks
          ?.filter((r) => r.startsWith('remark: '))
          .map((r) => (
            <span key={r} className="remark">
              {r.slice('remark: '.length)}
            </span>
          ))}
      </p>
      {line.readings.some((r) => r.where !== '') && <Breath readings={line.readings.slice(1)} />}
    </>
  )
}

/** The other figures of one breath, or the figure that an adjustment ended on. */
function Breath({ readings }: { readings: Schemas['ReadingOut'][] }) {
  if (readings.length === 0) return null
  return (
    <ul className="breath">
      {readings.map((r) => (
        <li key={r.id}>
          {r.name} <small className="quiet">{r.where}</small> <b>{r.figure}</b>{' '}
          {r.verdict !== null && <Verdict verdict={r.verdict} words={r.verdict_words} />}
        </li>
      ))}
    </ul>
  )
}

function VerdictCells({ first, limit }: { first: Schemas['ReadingOut']; limit: Schemas['VerdictLine'] | undefined }) {
  return (
    <>
      {limit !== undefined && (limit.low !== null || limit.high !== null) && limit.verdict !== 'no_verdict' ? (
        <LimitBar marks={marksOf(first.measured, limit.low, limit.high)} label={`${first.figure}, ${limit.words}`} />
      ) : (
        <span className="bar" />
      )}
      <Verdict verdict={first.verdict} words={first.verdict_words} />
    </>
  )
}

const TICKED: Record<string, string> = { wish: 'done', lock: 'safe again' }

function Words({ line, acts, onOpen, open }: { line: Line; acts: LineActs; onOpen: () => void; open: boolean }) {
  const ticks = ['wish', 'wait', 'clear', 'lock'].includes(line.kind)
  const story = line.story
  const detail = [
    story?.reason?.replace('_', ' '),
    story?.cost != null ? story.cost.toFixed(2) : null,
    story?.minutes != null ? `${story.minutes} min` : null,
  ].filter((d) => d != null)
  return (
    <>
      <span className="kind">{KIND_NAMES[line.kind] ?? line.kind}</span>
      <span className="what">
        <button type="button" className="plain" aria-expanded={open} onClick={onOpen}>
          {story?.part_in != null ? `${story.part_out ?? ''} → ${story.part_in}` : (story?.words ?? line.text)}
          {story?.part_in != null && <small>{detail.join(' · ')}</small>}
          {line.withdrawn !== null && <small>taken back: {line.withdrawn}</small>}
        </button>
        {line.picture !== null && line.picture.not_whole !== '' && (
          <small className="caution">{line.picture.not_whole}</small>
        )}
        {line.picture !== null && line.picture.not_whole === '' && (
          <button type="button" className="plain" onClick={() => acts.onPicture(line)}>
            <img className="thumb" src={`/api/pictures/${line.picture.sha256}`} alt={line.text} />
          </button>
        )}
      </span>
      {ticks && line.withdrawn === null ? (
        <label className="tick quiet">
          {/* ticked at once by the hand; the server's word replaces it when it differs */}
          <input
            type="checkbox"
            key={String(line.settled)}
            defaultChecked={line.settled}
            onChange={(e) => acts.onTick(line, e.target.checked)}
          />{' '}
          {TICKED[line.kind] ?? 'settled'}
        </label>
      ) : (
        <span />
      )}
    </>
  )
}

const WITHDRAWN_BECAUSE = ['misread', 'wrong point', 'not this unit'] as const

function More({ line, acts, gone }: { line: Line; acts: LineActs; gone: boolean }) {
  return (
    <div className="more">
      <dl>
        <dt>typed</dt>
        <dd>
          {line.text} <span className="quiet">by {line.by}</span>
        </dd>
        {line.readings.map((r) => (
          <ReadingMore key={r.quantity} reading={r} />
        ))}
      </dl>
      {!gone && line.story !== null && <SetRight line={line} acts={acts} />}
      <div className="acts">
        {!gone && (
          <>
            <span className="quiet">Take it back:</span>
            {WITHDRAWN_BECAUSE.map((reason) => (
              <button key={reason} type="button" className="link" onClick={() => acts.onWithdraw(line, reason)}>
                {reason}
              </button>
            ))}
            {line.picture === null && (
              <button type="button" className="link" onClick={() => acts.onReplace(line)}>
                Replace it
              </button>
            )}
            {acts.onPin !== undefined && (
              <button type="button" className="link" onClick={() => acts.onPin?.(line)}>
                Pin to a job
              </button>
            )}
          </>
        )}
        {gone && !line.superseded && (
          <button type="button" className="link" onClick={() => acts.onReinstate(line)}>
            Put it back
          </button>
        )}
      </div>
    </div>
  )
}

const KINDS = ['note', 'found', 'did', 'said', 'wish', 'wait', 'advice'] as const

/** What kind of words it is, and what the repair that it tells can have changed: each in one tap. */
function SetRight({ line, acts }: { line: Line; acts: LineActs }) {
  const touches = line.kind === 'did' || line.kind === 'adjusted'
  const several = line.story?.area?.includes('+') === true ? line.story.area : ''
  return (
    <>
      {line.kind !== 'picture' && line.kind !== 'struck' && (
        <div className="acts">
          <span className="quiet">It is:</span>
          {KINDS.filter((kind) => kind !== line.kind).map((kind) => (
            <button key={kind} type="button" className="link" onClick={() => acts.onSetRight(line, { kind })}>
              {KIND_NAMES[kind]}
            </button>
          ))}
        </div>
      )}
      {touches && acts.areas !== undefined && (
        <label>
          <span className="quiet">It can have changed</span>{' '}
          <select value={line.story?.area ?? ''} onChange={(e) => acts.onSetRight(line, { area: e.target.value })}>
            <option value="" disabled>
              everything: nobody said
            </option>
            {several !== '' && (
              <option value={several}>
                {several
                  .split('+')
                  .map((id) => acts.areas?.[id])
                  .join(' and ')}
              </option>
            )}
            {Object.entries(acts.areas).map(([id, title]) => (
              <option key={id} value={id}>
                {title}
              </option>
            ))}
          </select>
        </label>
      )}
    </>
  )
}

const TOLD = 'told' // by the word of a hand, and of no profile

function ReadingMore({ reading }: { reading: Schemas['ReadingOut'] }) {
  return (
    <>
      <dt>{reading.name}</dt>
      <dd>
        {reading.figure} <span className="quiet">by {reading.measured.method}</span>
        <div className="quiet">{reading.measured.working}</div>
        {reading.measured.remarks.length > 0 && <div className="quiet">{reading.measured.remarks.join(' · ')}</div>}
        {reading.verdicts.map((v) => (
          <div key={v.profile + v.row}>
            <Verdict verdict={v.verdict} /> {v.profile === TOLD ? 'as said' : v.kind}: {v.words}
            <span className="quiet">
              {' '}
              {v.reason ?? ''} ({v.source}
              {v.version === '' ? '' : `, ${v.profile} ${v.version}`}
              {v.confidence === 'check' ? ', to be checked locally' : ''})
            </span>
          </div>
        ))}
      </dd>
    </>
  )
}
