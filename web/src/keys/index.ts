export { actionOf, keyName, useKeySettings, type Action } from './keys'
export { Keys } from './Keys'
