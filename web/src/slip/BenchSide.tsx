// The bench side: what the current line needs, and what is known of the unit.
import { useQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import type { Schemas } from '../api/client'
import { libraryOptions } from '../api/queries'
import { GearOptions } from '../ui/GearOptions'
import { LimitBar } from '../ui/LimitBar'
import { domainOf, type Marks } from '../ui/scale'
import { ago } from '../ui/words'
import { useJobMutations } from './slipMutations'

type Slip = Schemas['SlipOut']
type OpenLine = Schemas['OpenLineOut']
const KIND_WORDS = { regulation: 'Regulation', specification: 'Maker', house: 'This shop' } as const

interface BenchSideProps {
  live: ReactNode
  slip: Slip
  current: OpenLine | null
  item: string | null
  onItem: (item: string | null) => void
  onStage: (words: string) => void
  records: ReactNode
  path: ReactNode
  trace: ReactNode
}

export function BenchSide({ live, slip, current, item, onItem, onStage, records, path, trace }: BenchSideProps) {
  return (
    <aside className="side" aria-label="Bench side">
      {slip.earlier !== null && <EarlierVisit earlier={slip.earlier} />}
      {current !== null && <CurrentCard current={current} from={slip.due_from} />}
      {(slip.part === 'find' || slip.part === 'fix') && trace}
      {records}
      {live}
      {path}
      {slip.retest.length > 0 && (
        <section className="card">
          <h2>To measure again</h2>
          <ul>
            {slip.retest.map((r) => (
              <li key={r}>{r}</li>
            ))}
          </ul>
        </section>
      )}
      {(slip.part === 'find' || slip.part === 'fix') && slip.stages.length > 0 && (
        <Stages slip={slip} onStage={onStage} />
      )}
      {slip.notes.length > 0 && (
        <section className="card">
          <h2>Known of this model</h2>
          {slip.notes.map((n) => (
            <p key={n.text}>
              {n.text} <span className="quiet">{n.proven ? 'Proven here.' : 'Hearsay, unproven.'}</span>
            </p>
          ))}
        </section>
      )}
      <UnitCard slip={slip} item={item} onItem={onItem} />
      {current?.caution == null && slip.cautions.length > 0 && (
        <section className="card">
          {slip.cautions.map((c) => (
            <p key={c} className="caution">
              {c}
            </p>
          ))}
        </section>
      )}
    </aside>
  )
}

function EarlierVisit({ earlier }: { earlier: NonNullable<Slip['earlier']> }) {
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

const DUE_FROM = { maker: "maker's figure", shop: 'one that left here', kind: 'healthy ones, of the kind' } as const

function CurrentCard({ current, from }: { current: OpenLine; from: Slip['due_from'] }) {
  const marks = current.limits.map<Marks>((l) => ({ low: l.low, high: l.high, value: null, below: 0, above: 0 }))
  const extra = [current.expected_value, current.ghost?.median ?? null].filter((v) => v !== null)
  const domain = domainOf(marks, extra)
  return (
    <section className="card">
      <h2 className="big">{current.name}</h2>
      <p className="quiet">{current.where}</p>
      <p>{current.ask}</p>
      {current.caution !== null && <p className="caution">{current.caution}</p>}
      <div className="lanes">
        {current.limits.map((l, n) => (
          <div key={l.profile + l.row} style={{ display: 'contents' }}>
            <span>
              {l.profile === 'typical' ? 'Typical' : KIND_WORDS[l.kind]}
              <small>{l.source}</small>
            </span>
            <span>
              <LimitBar
                marks={marks[n] ?? { low: null, high: null, value: null, below: 0, above: 0 }}
                domain={domain}
                ghost={current.ghost?.median ?? current.expected_value}
                label={l.words}
              />
              <small>
                {l.words}
                {l.confidence === 'check' && l.kind === 'regulation' ? ' · check it locally' : ''}
              </small>
            </span>
          </div>
        ))}
      </div>
      <dl className="pairs">
        {current.expected !== null && (
          <>
            <dt>{DUE_FROM[from]}</dt>
            <dd>about {current.expected}</dd>
          </>
        )}
        {current.ghost !== null && (
          <>
            <dt>healthy ones</dt>
            <dd>{current.ghost.words}</dd>
          </>
        )}
        {current.before !== null && (
          <>
            <dt>as received</dt>
            <dd>{current.before}</dd>
          </>
        )}
      </dl>
    </section>
  )
}

const STATES = ['good', 'weak', 'dead'] as const

function Stages({ slip, onStage }: { slip: Slip; onStage: (words: string) => void }) {
  return (
    <section className="card">
      <h2>Where it dies: mark a stage, then say what was seen</h2>
      <ol className="stages">
        {slip.stages.map((s) => (
          <li key={s.id}>
            <span>
              {s.name} {s.state !== null && <span className={`seen-${s.state}`}>{s.state}</span>}
              <small>{s.seen ?? (s.due === '' ? '' : `due: ${s.due}`)}</small>
            </span>
            <span className="said">
              {STATES.map((state) => (
                <button
                  key={state}
                  type="button"
                  className="chip"
                  aria-pressed={s.state === state}
                  aria-label={`${s.name} ${state}`}
                  onClick={() => onStage(`stage ${s.name} ${state} `)}
                >
                  {state}
                </button>
              ))}
            </span>
          </li>
        ))}
      </ol>
    </section>
  )
}

function UnitCard({ slip, item, onItem }: { slip: Slip; item: string | null; onItem: (item: string | null) => void }) {
  const { data: library } = useQuery(libraryOptions)
  const { change, changeItem } = useJobMutations(slip.id, item)
  const unit = slip.items.find((i) => i.id === slip.item)
  if (unit === undefined) return null
  const keep = (name: 'owner' | 'came_with', value: string) => {
    if (value !== slip[name]) change.mutate({ [name]: value })
  }
  return (
    <section className="card">
      <h2>The unit</h2>
      {slip.items.length > 1 && <ItemChips slip={slip} onItem={onItem} />}
      <dl className="pairs unit" key={slip.id + (slip.item ?? '')}>
        <dt>{slip.is_kind ? 'taken as' : 'model'}</dt>
        <dd>
          <select
            aria-label="Model"
            value={unit.model}
            onChange={(e) => changeItem.mutate({ id: unit.id, model: e.target.value })}
          >
            <option value="">not said: no plan, no limits</option>
            <GearOptions gear={library?.models ?? []} />
          </select>
          {slip.is_kind && slip.should_give_w !== null && (
            <label className="quiet">
              {' '}
              should give{' '}
              <input
                aria-label="It should give, in watts"
                type="number"
                min="0"
                step="any"
                key={slip.should_give_w}
                defaultValue={slip.should_give_w}
                onBlur={(e) =>
                  Number(e.target.value) !== slip.should_give_w &&
                  changeItem.mutate({ id: unit.id, rated_w: Number(e.target.value) })
                }
              />{' '}
              W
            </label>
          )}
        </dd>
        <dt>serial</dt>
        <dd>
          <input
            aria-label="Serial number"
            defaultValue={unit.serial}
            maxLength={60}
            onBlur={(e) => e.target.value !== unit.serial && changeItem.mutate({ id: unit.id, serial: e.target.value })}
          />
        </dd>
        <Selector slip={slip} unit={unit} item={item} />
        <dt>owner</dt>
        <dd>
          <input
            aria-label="Owner"
            defaultValue={slip.owner}
            maxLength={200}
            onBlur={(e) => keep('owner', e.target.value)}
          />
        </dd>
        <dt>came with</dt>
        <dd>
          <input
            aria-label="Came with"
            defaultValue={slip.came_with}
            maxLength={300}
            onBlur={(e) => keep('came_with', e.target.value)}
          />
        </dd>
        <dt>ceiling</dt>
        <dd>
          <input
            aria-label="Owner's ceiling of cost"
            type="number"
            min="0"
            defaultValue={slip.ceiling ?? ''}
            onBlur={(e) => change.mutate({ ceiling: e.target.value === '' ? null : Number(e.target.value) })}
          />{' '}
          <span className="quiet">
            parts so far {slip.spent.toFixed(2)}
            {slip.value !== null ? `, unit worth ${slip.value}` : ''}
          </span>
        </dd>
      </dl>
      {slip.ceiling !== null && slip.spent > slip.ceiling && (
        <p className="caution">Over the owner's ceiling of {slip.ceiling}: stop, and ask the owner.</p>
      )}
      {slip.model !== null && <KeepAsModel key={unit.id} slip={slip} unit={unit} item={item} />}
      <AnotherItem slip={slip} item={item} />
    </section>
  )
}

function ItemChips({ slip, onItem }: { slip: Slip; onItem: (item: string | null) => void }) {
  return (
    <p className="senses">
      {slip.items.map((i) => (
        <button
          key={i.id}
          type="button"
          className="chip"
          aria-pressed={i.id === slip.item}
          onClick={() => onItem(i.id)}
        >
          {i.name}
        </button>
      ))}
    </p>
  )
}

function Selector({ slip, unit, item }: { slip: Slip; unit: Slip['items'][number]; item: string | null }) {
  const { changeItem } = useJobMutations(slip.id, item)
  return (
    <>
      <dt>selector</dt>
      <dd>
        <details open={unit.selector !== ''}>
          <summary>{slip.selector.length === 0 ? 'as the plan has it' : 'modified: as mapped'}</summary>
          <textarea
            aria-label="Selector: position and MHz, one a line"
            rows={3}
            defaultValue={unit.selector}
            maxLength={4000}
            placeholder={'41 27.415\n42 27.425'}
            onBlur={(e) =>
              e.target.value.trim() !== unit.selector && changeItem.mutate({ id: unit.id, selector: e.target.value })
            }
          />
          {changeItem.error !== null && <p role="alert">{changeItem.error.message}</p>}
          {slip.selector.map((p) => (
            <p key={p.position} className={p.allowed ? undefined : 'caution'}>
              {p.position}: {p.words}
              {p.allowed ? '' : ': not to be transmitted on'}
            </p>
          ))}
        </details>
      </dd>
    </>
  )
}

/** One tap, and the next unit like it opens with what this one taught. */
function KeepAsModel({ slip, unit, item }: { slip: Slip; unit: Schemas['ItemOut']; item: string | null }) {
  const { keepAsModel } = useJobMutations(slip.id, item)
  const [name, setName] = useState(unit.name)
  return (
    <form
      className="entry"
      onSubmit={(e) => {
        e.preventDefault()
        keepAsModel.mutate({ id: unit.id, name })
      }}
    >
      <input
        className="small-input"
        aria-label="Keep it as"
        value={name}
        maxLength={100}
        onChange={(e) => setName(e.target.value)}
      />{' '}
      <button type="submit" className="link">
        {slip.is_kind ? 'Keep as a model' : 'Keep what it taught'}
      </button>
      {keepAsModel.isSuccess && <span role="status"> kept</span>}
      {keepAsModel.error !== null && <p role="alert">{keepAsModel.error.message}</p>}
    </form>
  )
}

function AnotherItem({ slip, item }: { slip: Slip; item: string | null }) {
  const { addItem } = useJobMutations(slip.id, item)
  const [adding, setAdding] = useState('')
  return (
    <form
      className="entry"
      onSubmit={(e) => {
        e.preventDefault()
        if (adding.trim() !== '') addItem.mutate(adding.trim(), { onSuccess: () => setAdding('') })
      }}
    >
      <input
        className="small-input"
        aria-label="Another item of this job"
        placeholder="another item: microphone, aerial …"
        value={adding}
        maxLength={200}
        onChange={(e) => setAdding(e.target.value)}
      />
    </form>
  )
}
