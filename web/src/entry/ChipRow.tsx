// One chip a condition; a tap opens its choices, a second tap takes one.
import Menu from '@mui/material/Menu'
import MenuItem from '@mui/material/MenuItem'
import { useQuery } from '@tanstack/react-query'
import { useState, type ReactNode } from 'react'
import { libraryOptions } from '../api/queries'
import { shownChip, type ChipName, type Conditions } from './chips'

interface Choice {
  label: string
  value: unknown
}
interface ChipSpec {
  name: ChipName
  title: string
  show: (value: Conditions[ChipName]) => string
  choices: Choice[]
  start?: unknown
}

const many = (values: readonly (number | string)[], unit: string): Choice[] =>
  values.map((v) => ({ label: `${v}${unit}`, value: v }))
const NOT_SAID: Choice = { label: 'not said', value: null }
const POWER_UNITS = new Set(['W', '1', null])

/** Chips that only a text sets: where the hand is; shown while they are set. */
const OF_THE_HAND = ['place', 'item', 'heat', 'setting', 'band'] as const

function specs(
  instruments: Choice[],
  elements: number[],
  modes: string[],
  channels: number[],
  unit: string | null,
  pathName: string | null,
): ChipSpec[] {
  const power = POWER_UNITS.has(unit)
  return [
    {
      name: 'instrument',
      title: 'instrument',
      show: (v) => instruments.find((c) => c.value === v)?.label ?? String(v),
      choices: [{ label: 'typical of its kind', value: null }, ...instruments],
    },
    ...(power
      ? ([
          {
            name: 'element_w',
            title: 'element',
            show: (v) => `element ${v} W`,
            choices: [NOT_SAID, ...many(elements, ' W')],
          },
          {
            name: 'multiplier',
            title: 'scale',
            show: (v) => `scale ×${v}`,
            choices: many([1, 10, 100], '').map((c) => ({ ...c, label: `×${c.label}` })),
            start: 1,
          },
          {
            name: 'detector',
            title: 'detector',
            show: (v) => `${String(v).replace('_', ' ')} detector`,
            choices: [
              NOT_SAID,
              { label: 'peak', value: 'peak' },
              { label: 'true mean', value: 'true_mean' },
              { label: 'average envelope', value: 'average_envelope' },
            ],
          },
        ] satisfies ChipSpec[])
      : []),
    {
      name: 'pad_db',
      title: pathName === null ? 'pad' : `path: ${pathName}`,
      show: (v) => (pathName === null ? `pad ${v} dB` : `path: ${pathName}`),
      choices: many([0, 3, 6, 10, 20, 30, 40, 50], ' dB'),
      start: 0,
    },
    {
      name: 'mode',
      title: 'mode',
      show: (v) => String(v).toUpperCase(),
      choices: [NOT_SAID, ...modes.map((m) => ({ label: m.toUpperCase(), value: m }))],
    },
    ...(channels.length > 0
      ? [
          {
            name: 'channel',
            title: 'channel',
            show: (v: unknown) => `channel ${String(v)}`,
            choices: [NOT_SAID, ...many(channels, '')],
          } satisfies ChipSpec,
        ]
      : []),
    {
      name: 'supply_v',
      title: 'supply',
      show: (v) => `supply ${v} V`,
      choices: [NOT_SAID, ...many([11.7, 12.0, 12.8, 13.2, 13.8, 14.0], ' V')],
    },
    {
      name: 'state',
      title: 'state',
      show: (v) => String(v),
      choices: [NOT_SAID, ...many(['standby', 'receive', 'transmit'], '')],
    },
    { name: 'modulation', title: 'audio', show: (v) => `audio ${v}`, choices: [NOT_SAID, ...many(['off', 'on'], '')] },
    ...OF_THE_HAND.map(
      (name) => ({ name, title: '', show: (v: unknown) => String(v), choices: [NOT_SAID] }) satisfies ChipSpec,
    ),
    { name: 'covers', title: 'covers', show: (v) => `covers ${v}`, choices: many(['on', 'off'], '') },
    {
      name: 'configuration',
      title: 'as it leaves',
      show: (v) => String(v),
      choices: [
        { label: 'as it leaves', value: null },
        ...many(["the shop's valves", "the shop's microphone", 'shields off'], ''),
      ],
    },
  ]
}

interface ChipRowProps {
  conditions: Conditions
  /** The current line, whose own point shows where the hand set nothing. */
  row?: { conditions: Conditions } | null
  modes: string[]
  channels: number[]
  unit: string | null
  /** The path in use where the instrument hangs in it: then another pad changes the path. */
  pathName?: string | null
  onChip: (name: ChipName, value: unknown) => void
  /** What stands behind the chips once all of them are shown. */
  children?: ReactNode
}

/** What stays the same from line to line, each changed in one tap. */
export function ChipRow({
  conditions,
  row = null,
  modes,
  channels,
  unit,
  pathName = null,
  onChip,
  children,
}: ChipRowProps) {
  const { data: library } = useQuery(libraryOptions)
  const [all, setAll] = useState(false)
  const [open, setOpen] = useState<{ anchor: HTMLElement; spec: ChipSpec } | null>(null)
  const own = library?.instruments ?? []
  const instruments = [
    ...own.map((i) => ({ label: i.name, value: i.id })),
    { label: "the unit's own meter", value: 'own_meter' },
  ]
  const fitted = own.find((i) => i.id === conditions.instrument)?.elements_w ?? []
  const elements = fitted.length > 0 ? fitted : [1, 2.5, 5, 10, 25, 50, 100, 250, 500, 1000]
  const shown = specs(
    instruments,
    elements,
    modes.length > 0 ? modes : ['am', 'fm', 'usb', 'lsb', 'cw'],
    channels,
    unit,
    pathName,
  )
  return (
    <div className="chips" role="group" aria-label="What stays the same">
      {shown.map((spec) => {
        const value = shownChip(spec.name, conditions, row) ?? null
        if (value === null && spec.title === '') return null
        const set = (value !== null && value !== spec.start) || (spec.name === 'pad_db' && pathName !== null)
        if (!set && !all) return null
        return (
          <button
            key={spec.name}
            type="button"
            className={set ? 'chip set' : 'chip'}
            aria-haspopup="menu"
            onClick={(e) => setOpen({ anchor: e.currentTarget, spec })}
          >
            {set ? spec.show(value) : spec.title}
          </button>
        )
      })}
      <button type="button" className="link" aria-expanded={all} onClick={() => setAll(!all)}>
        {all ? 'fewer' : 'more'}
      </button>
      {all && children}
      <Menu
        anchorEl={open?.anchor ?? null}
        open={open !== null}
        onClose={() => setOpen(null)}
        slotProps={{ paper: { sx: { maxHeight: 320 } } }}
      >
        {open?.spec.choices.map((choice) => (
          <MenuItem
            key={choice.label}
            selected={(shownChip(open.spec.name, conditions, row) ?? null) === choice.value}
            onClick={() => {
              onChip(open.spec.name, choice.value)
              setOpen(null)
            }}
          >
            {choice.label}
          </MenuItem>
        ))}
      </Menu>
    </div>
  )
}
