// Which key does what. Any key event can be any action, so a foot switch works; all can be switched off.
import { createSettings, useStore } from '../store'

/** What a single key can do. */
export type Action =
  'take' | 'back' | 'next' | 'previous' | 'sums' | 'find' | 'keys' | 'field' | 'far' | 'whole' | 'key'

export const ACTION_WORDS: Record<Action, string> = {
  take: 'take what is typed, or what the instrument shows',
  next: 'with nothing typed: the next open line',
  previous: 'with nothing typed: the open line before',
  back: 'with nothing typed: take the last line back',
  far: 'far view, and back',
  whole: 'fill the screen with what stands beside the slip, and back',
  key: 'say that it is keyed, or let go (the program keys nothing)',
  field: 'go to the field',
  sums: 'sums',
  find: 'find a job',
  keys: 'these keys',
}

export interface KeySettings {
  on: boolean
  keys: Record<Action, string>
}

const DEFAULTS: KeySettings = {
  on: true,
  keys: {
    take: ' ',
    next: 'Enter',
    previous: 'ArrowUp',
    back: 'Backspace',
    far: 'F2',
    whole: 'F4',
    key: 'F8',
    field: '.',
    sums: '=',
    find: '/',
    keys: '?',
  },
}

const settings = createSettings<KeySettings>('keys', (kept) => ({
  on: kept.on ?? true,
  keys: { ...DEFAULTS.keys, ...kept.keys },
}))

export const keepKeys = settings.set

/** The settings with one action on another key; an action that had that key takes the freed one. */
export function reassigned(from: KeySettings, action: Action, key: string): KeySettings {
  const holder = (Object.keys(from.keys) as Action[]).find((a) => from.keys[a] === key)
  const keys = { ...from.keys, [action]: key }
  if (holder !== undefined && holder !== action) keys[holder] = from.keys[action]
  return { ...from, keys }
}

/** What a key means now; null where it means nothing, or keys are off. The arrow down is always the next line. */
export function actionOf(key: string): Action | null {
  const { on, keys } = settings.get()
  if (!on) return null
  if (key === 'ArrowDown') return 'next'
  return (Object.keys(keys) as Action[]).find((action) => keys[action] === key) ?? null
}

/** A key as it is written on the page. */
export const keyName = (key: string) => (key === ' ' ? 'Space' : key)

/** Which key does what now. */
export const useKeySettings = () => useStore(settings, (now) => now)
