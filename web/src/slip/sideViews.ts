// Which thing the bench side shows: the one that the current line needs, and those that have something to say now.

/** What the bench side can show. */
export type SideView =
  | 'line'
  | 'tables'
  | 'compare'
  | 'setup'
  | 'trace'
  | 'records'
  | 'sound'
  | 'live'
  | 'path'
  | 'turn'
  | 'watch'
  | 'unit'
  | 'known'

export const VIEW_WORDS: Record<SideView, string> = {
  line: 'Line',
  tables: 'Tables',
  compare: 'Compare',
  setup: 'Set up',
  trace: 'Where next',
  records: 'Records',
  sound: 'Sound',
  live: 'Live',
  path: 'Path',
  turn: 'Turn',
  watch: 'Watch',
  unit: 'Unit',
  known: 'Known',
}

/** Views that fill the screen with one key. */
export const FILLING: ReadonlySet<SideView> = new Set(['trace', 'path', 'turn', 'watch'])

/** What a slip has that its bench side could show. */
export interface SideFacts {
  /** A line of the plan is current, or there is something to measure again. */
  planned: boolean
  /** Figures stand side by side somewhere. */
  tabled: boolean
  /** Something was read that could be held against something. */
  comparable: boolean
  /** The unit has sequences of adjustments. */
  settable: boolean
  /** One of them is followed. */
  settingUp: boolean
  /** A trace runs. */
  tracing: boolean
  /** The work stands in Find or Fix. */
  finding: boolean
  /** There are records, or an instrument that hands a trace over. */
  recorded: boolean
  /** A record was handed in just now. */
  justRecorded: boolean
  /** This browser has a sound card that a page may ask for. */
  hears: boolean
  /** Instruments talk, or were watched. */
  talking: boolean
  watched: boolean
  /** Something turns just now. */
  turning: boolean
  /** Notes of the model, or an earlier visit. */
  known: boolean
}

/** The views that have something to say now; the others are absent. */
export function viewsOf(facts: SideFacts): SideView[] {
  const there: Record<SideView, boolean> = {
    line: facts.planned,
    tables: facts.tabled,
    compare: facts.comparable,
    setup: facts.settable,
    trace: true,
    records: facts.recorded,
    sound: facts.hears,
    live: facts.talking,
    path: true,
    turn: facts.talking,
    watch: facts.talking || facts.watched,
    unit: true,
    known: facts.known,
  }
  return (Object.keys(there) as SideView[]).filter((view) => there[view])
}

/** The one that the current line needs, where no hand chose another. */
export function neededView(facts: SideFacts): SideView {
  if (facts.turning) return 'turn'
  if (facts.justRecorded) return 'records'
  if (facts.settingUp) return 'setup'
  if (facts.tracing && facts.finding) return 'trace'
  return facts.planned ? 'line' : 'unit'
}
