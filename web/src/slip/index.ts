/** A job on its slip. */
export { Pending } from './Pending'
export { SlipLine } from './SlipLine'
export { SlipPage } from './SlipPage'
export { useJobMutations } from './slipMutations'
export { useLineActs } from './useLineActs'
