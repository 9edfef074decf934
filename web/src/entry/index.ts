/** The one field, what it understood, its chips, and lines on their way to the server. */
export { ChipRow } from './ChipRow'
export { setByHand, setNames, NO_CHIPS, withChip, type ChipState, type Conditions } from './chips'
export { Field, type FieldHandle } from './Field'
export { outbox, useOutgoing, useReached, type OutgoingLine } from './outbox'
export { Figure } from './Understood'
