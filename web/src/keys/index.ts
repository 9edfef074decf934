/** Which key does what, and the list of them. */
export { actionOf, keyName, useKeySettings, type Action } from './keys'
export { Keys } from './Keys'
