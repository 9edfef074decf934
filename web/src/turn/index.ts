/** Turning an adjuster. */
export { TurnPage } from './TurnPage'
