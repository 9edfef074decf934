/** What every view may reach for: the field in use, the sums sheet, the list of keys, and single keys. */
export { BackToSlip } from './BackToSlip'
export { deskAction, DeskContext, isTyping, useDesk, useSingleKeys, type Desk } from './desk'
