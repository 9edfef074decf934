/** Turning an adjuster. */
export { TurnPage, TurnView } from './TurnPage'
