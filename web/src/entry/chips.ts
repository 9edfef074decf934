// The chips: what stays the same from line to line, over what the current line asks for.
import type { Schemas } from '../api/client'

/** The chips, as the server knows them. */
export type Conditions = Schemas['Conditions']
export type ChipName = keyof Conditions

/** What was set by hand: for good (sticky), for the current row only, and the instrument for each quantity. */
export interface ChipState {
  sticky: Partial<Conditions>
  row: string | null
  here: Partial<Conditions>
  instruments: Record<string, string>
}

/** Nothing set by hand. */
export const NO_CHIPS: ChipState = { sticky: {}, row: null, here: {}, instruments: {} }

/** Chips that belong to the point of measurement: an open line sets them, a tap changes them for that line. */
const OF_THE_POINT: readonly ChipName[] = [
  'mode',
  'channel',
  'frequency_hz',
  'power_setting',
  'supply_v',
  'state',
  'modulation',
]

interface Row {
  row: string
  quantity: string
}

/** The chips that the hand set and that count at a row; what the row itself asks for is filled in by the server. */
export function setByHand(chips: ChipState, row: Row | null): Conditions {
  const instrument = chips.instruments[row?.quantity ?? '']
  const sticky = Object.entries(chips.sticky).filter(
    ([name]) => row === null || !OF_THE_POINT.includes(name as ChipName),
  )
  return {
    ...Object.fromEntries(sticky),
    ...(chips.row === (row?.row ?? null) ? chips.here : {}),
    ...(instrument === undefined ? {} : { instrument }),
  } as Conditions
}

/** What a chip shows: what the hand set, else what the row asks for. */
export function shownChip(
  name: ChipName,
  byHand: Conditions,
  row: { conditions: Conditions } | null,
): Conditions[ChipName] {
  if (byHand[name] !== undefined) return byHand[name]
  return OF_THE_POINT.includes(name) ? (row?.conditions[name] ?? null) : null
}

/** The chips that a text sets which only says where the hand is now. */
export const setNames = (sets: Conditions): ChipName[] =>
  (Object.keys(sets) as ChipName[]).filter(
    (name) => sets[name] !== null && sets[name] !== undefined && !(name === 'multiplier' || name === 'pad_db'),
  )

/** The chips after one was set by hand. */
export function withChip(
  chips: ChipState,
  name: ChipName,
  value: unknown,
  row: { row: string; quantity: string } | null,
): ChipState {
  if (name === 'instrument') {
    const quantity = row?.quantity ?? ''
    const others = Object.entries(chips.instruments).filter(([name]) => name !== quantity)
    return {
      ...chips,
      instruments: Object.fromEntries(typeof value === 'string' ? [...others, [quantity, value]] : others),
    }
  }
  if (row !== null && OF_THE_POINT.includes(name)) {
    const before = chips.row === row.row ? chips.here : {}
    return {
      ...chips,
      row: row.row,
      here: { ...before, [name]: value, ...(name === 'channel' ? { frequency_hz: null } : {}) },
    }
  }
  return { ...chips, sticky: { ...chips.sticky, [name]: value } }
}
