// The unit: what it is taken as, whose it is, what it may cost, what it is kept as.
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { Schemas } from '../api/client'
import { libraryOptions } from '../api/queries'
import { GearOptions } from '../ui/GearOptions'
import { useJobMutations } from './slipMutations'

type Slip = Schemas['SlipOut']

/** What the unit is taken as, and all that is said of it once. */
export function UnitCard({
  slip,
  item,
  onItem,
}: {
  slip: Slip
  item: string | null
  onItem: (item: string | null) => void
}) {
  const { data: library } = useQuery(libraryOptions)
  const { change, changeItem } = useJobMutations(slip.id, item)
  const unit = slip.items.find((i) => i.id === slip.item)
  if (unit === undefined) return null
  const keep = (name: 'owner' | 'came_with', value: string) => {
    if (value !== slip[name]) change.mutate({ [name]: value })
  }
  return (
    <section className="card">
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
        </dd>
        {slip.is_kind && slip.should_give_w !== null && (
          <>
            <dt>should give</dt>
            <dd>
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
            </dd>
          </>
        )}
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
      {slip.model_changes.length > 0 && <ChangedSince slip={slip} unit={unit} item={item} />}
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

/** What is other in the newest version of its model: it keeps to the one that it came in by until it is asked. */
function ChangedSince({ slip, unit, item }: { slip: Slip; unit: Schemas['ItemOut']; item: string | null }) {
  const { followModel } = useJobMutations(slip.id, item)
  return (
    <details>
      <summary>Its model was changed since it came in ({slip.model_changes.length})</summary>
      <ul>
        {slip.model_changes.map((c) => (
          <li key={c.what}>
            {c.what}: {c.here || 'not there'} → {c.there || 'gone'}
          </li>
        ))}
      </ul>
      <button type="button" className="link" onClick={() => followModel.mutate(unit.id)}>
        Follow the model
      </button>
      {followModel.error !== null && <p role="alert">{followModel.error.message}</p>}
    </details>
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
