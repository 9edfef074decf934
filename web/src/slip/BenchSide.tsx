// The bench side: the one thing that the current line needs, and a row of words for the others.
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import type { Schemas } from '../api/client'
import { keyName, useKeySettings } from '../keys'
import { CurrentCard } from './CurrentCard'
import { EarlierVisit, Known } from './Known'
import { FILLING, VIEW_WORDS, type SideView } from './sideViews'
import { UnitCard } from './UnitCard'

type Slip = Schemas['SlipOut']
type OpenLine = Schemas['OpenLineOut']

interface SideWordsProps {
  views: SideView[]
  shown: SideView
  onShow: (view: SideView) => void
}

/** A row of words: what the bench side can show, and what it shows. */
export function SideWords({ views, shown, onShow }: SideWordsProps) {
  return (
    <nav className="side-words" aria-label="Beside the slip">
      {views.map((view) => (
        <button key={view} type="button" aria-pressed={view === shown} onClick={() => onShow(view)}>
          {VIEW_WORDS[view]}
        </button>
      ))}
    </nav>
  )
}

interface BenchSideProps {
  slip: Slip
  current: OpenLine | null
  item: string | null
  onItem: (item: string | null) => void
  shown: SideView
  /** Why the unit must not be keyed as the path stands, or an empty string. */
  barred: string
  /** What is wrong with the instruments of this slip. */
  faults: readonly string[]
  /** A view that another feature brings. */
  children: ReactNode
}

/** One thing at a time; a caution stands above whatever it is. */
export function BenchSide({ slip, current, item, onItem, shown, barred, faults, children }: BenchSideProps) {
  const { keys } = useKeySettings()
  const cautions = [barred, ...(current?.caution != null ? [current.caution] : slip.cautions)]
  return (
    <aside className="side" aria-label="Bench side">
      {FILLING.has(shown) && (
        <Link className="fill" to={`/job/${slip.id}/${shown}`}>
          Fill the screen ({keyName(keys.whole)})
        </Link>
      )}
      {cautions.filter(Boolean).map((c) => (
        <p key={c} className="caution">
          {c}
        </p>
      ))}
      {faults.map((f) => (
        <p key={f} className="stale" role="status">
          {f}. Typing goes on.
        </p>
      ))}
      {slip.ceiling !== null && slip.spent > slip.ceiling && (
        <p className="caution">Over the owner's ceiling of {slip.ceiling}: stop, and ask the owner.</p>
      )}
      {shown === 'line' && <ThisLine slip={slip} current={current} />}
      {shown === 'unit' && <UnitCard slip={slip} item={item} onItem={onItem} />}
      {shown === 'known' && slip.earlier !== null && <EarlierVisit earlier={slip.earlier} />}
      {shown === 'known' && slip.notes.length > 0 && <Known slip={slip} />}
      {children}
    </aside>
  )
}

/** What is due here; before anything is touched also what the last visit said. */
function ThisLine({ slip, current }: { slip: Slip; current: OpenLine | null }) {
  return (
    <>
      {slip.phase === 'as_received' && slip.earlier !== null && <EarlierVisit earlier={slip.earlier} />}
      {current !== null && <CurrentCard current={current} from={slip.due_from} />}
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
    </>
  )
}
