// Which view stands beside the slip: the one that is needed, or the one that a hand chose; it stays over a visit elsewhere.
import { useQuery } from '@tanstack/react-query'
import type { Schemas } from '../api/client'
import { recordsOptions, watchesOptions } from '../api/queries'
import { canHear } from '../soundcard'
import { useStored } from '../store'
import { neededView, viewsOf, type SideView } from './sideViews'

interface Present {
  planned: boolean
  /** The live bench as it stands for this slip; undefined until it is known. */
  bench: Schemas['LiveOut'] | undefined
  mine: boolean
  /** A record that was handed in on this visit. */
  newestRecord: string | null
}

/** The views beside a slip, the one that is shown, and a way to choose another; null gives the choice back. */
export function useBesideSlip(slip: Schemas['SlipOut'], { planned, bench, mine, newestRecord }: Present) {
  const { data: records } = useQuery(recordsOptions(slip.id))
  const { data: watches } = useQuery(watchesOptions(slip.id))
  const [chosen, show] = useStored<SideView | null>(`beside:${slip.id}`, null)
  const facts = {
    planned: planned || slip.retest.length > 0 || (slip.earlier !== null && slip.phase === 'as_received'),
    tabled: slip.tables.length > 0,
    comparable: slip.lines.some((l) => l.readings.length > 0),
    settable: slip.sequences.length > 0,
    settingUp: slip.set_up !== null,
    tracing: slip.tracing,
    finding: slip.part === 'find' || slip.part === 'fix',
    recorded: (records?.length ?? 0) > 0 || (mine && (bench?.traces.length ?? 0) > 0),
    justRecorded: newestRecord !== null,
    hears: canHear(),
    talking: (bench?.talking ?? 0) > 0,
    watched: (watches?.length ?? 0) > 0,
    turning: mine && bench?.turn != null,
    known: slip.notes.length > 0 || slip.earlier !== null,
  }
  const views = viewsOf(facts)
  const shown = chosen !== null && views.includes(chosen) ? chosen : neededView(facts)
  return { views, shown, show }
}
