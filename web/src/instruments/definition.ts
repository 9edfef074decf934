// Words of a definition that is being made.
import type { Schemas } from '../api/client'

/** What a hand said of one figure of an answer. */
export interface Named {
  value: Schemas['Gives']['value'] | ''
  factor: string
}

/** A live value in words: 'plate volts'. */
export const valueWords = (value: string) => value.replaceAll('_', ' ')

/** A name that a definition may be kept under. */
export const nameOf = (title: string) =>
  title
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '')
    .slice(0, 40)
