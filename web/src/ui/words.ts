// Small words and times, in one place.
export const PART_NAMES = { in: 'In', find: 'Find', fix: 'Fix', prove: 'Prove', out: 'Out' } as const
export type PartKey = keyof typeof PART_NAMES
export const PARTS = Object.keys(PART_NAMES) as PartKey[]

export const KIND_NAMES: Record<string, string> = {
  note: 'note',
  said: 'owner',
  wish: 'wish',
  found: 'found',
  did: 'did',
  adjusted: 'turned',
  stage: 'stage',
  lock: 'NOT SAFE',
  unlock: 'safe again',
  wait: 'waits',
  arrived: 'arrived',
  advice: 'advice',
  watch: 'watch',
  changed: 'changed',
  picture: 'picture',
  clear: 'before power',
  struck: 'struck off',
}

const clock = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' })
const day = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short' })
const dayAndYear = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' })

export const timeOf = (iso: string) => clock.format(new Date(iso))
/** '6 Nov', with its year when that is not this one. */
export function dayOf(iso: string, now = new Date()): string {
  const at = new Date(iso)
  return (at.getFullYear() === now.getFullYear() ? day : dayAndYear).format(at)
}

/** '3 days ago', 'today': how long a thing has stood there. */
export function ago(iso: string, now = Date.now()): string {
  const days = Math.floor((now - new Date(iso).getTime()) / 86_400_000)
  if (days < 1) return 'today'
  return days === 1 ? 'yesterday' : `${days} days ago`
}
